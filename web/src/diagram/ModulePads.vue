<script setup lang="ts">
// One board or module with its pads in order, from the front or turned over, and where each wire goes.
import { computed, ref } from 'vue'
import type { ThingPads } from '../api/types'
import { show } from '../format/show'

const props = defineProps<{ thing: ThingPads }>()
/** Seen from its back: left and right change places. */
const turned = ref(false)

const sides = { cells: 'cells', output: 'output', input: 'input' } as const
const places = { inside: 'in the device', outside: 'outside', on_the_lead: 'on the lead' } as const
const WIDTH = 92
const GAP = 8

const shown = computed(() => (turned.value ? [...props.thing.pads].reverse() : props.thing.pads))
const width = computed(() => shown.value.length * (WIDTH + GAP) + GAP)
const head = computed(() =>
  [props.thing.does.join(', '), props.thing.sits ? places[props.thing.sits] : ''].filter(Boolean).join(' · '),
)
</script>

<template>
  <div class="thing" :data-thing="thing.node">
    <h3>
      {{ thing.name }} <span class="soft">{{ head }}</span>
    </h3>
    <label class="turn">
      <input v-model="turned" type="checkbox" />
      Turned over: seen from the back
    </label>
    <div class="sideways" tabindex="0" role="region" :aria-label="`Pads of ${thing.name}`">
      <svg
        :viewBox="`0 0 ${width} 64`"
        :width="width"
        height="64"
        role="img"
        :aria-label="`Pads of ${thing.name}`"
      >
        <rect class="board" x="1" y="1" :width="width - 2" height="62" rx="5" :class="{ back: turned }" />
        <g v-for="(pad, i) in shown" :key="pad.name" :transform="`translate(${GAP + i * (WIDTH + GAP)} 0)`">
          <rect class="pad" :class="pad.side" x="20" y="8" :width="WIDTH - 40" height="16" rx="3" />
          <text class="name" :x="WIDTH / 2" y="40">{{ pad.name }}</text>
          <text class="side" :x="WIDTH / 2" y="55">{{ sides[pad.side] }}</text>
        </g>
      </svg>
    </div>
    <table class="values">
      <thead>
        <tr>
          <th>Pad</th>
          <th>Wire to</th>
          <th class="n">Predicted, against pack minus</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="pad in thing.pads" :key="pad.name">
          <td class="mono">{{ pad.name }}</td>
          <td>
            {{ pad.to }}
            <span v-if="pad.read" class="soft">(read: {{ pad.read }})</span>
          </td>
          <td class="n">{{ pad.rest_v == null ? '–' : show(pad.rest_v, 'v') }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.thing {
  padding: 10px 0 14px;
  border-bottom: 1px solid var(--line);
}

.turn {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
  font-size: 14px;
  cursor: pointer;
}

.board {
  fill: var(--sheet);
  stroke: var(--line-strong);
}

.board.back {
  stroke-dasharray: 5 4;
}

.pad {
  fill: var(--copper);
}

.pad.input {
  fill: var(--petrol);
}

.pad.output {
  fill: var(--soft);
}

.name {
  font-size: 14px;
  font-weight: 700;
  text-anchor: middle;
  fill: var(--ink);
}

.side {
  font-size: 12px;
  text-anchor: middle;
  fill: var(--soft);
}
</style>
