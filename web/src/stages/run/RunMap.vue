<script setup lang="ts">
// One or two things turned from end to end: the run time of each as a small map.
import { computed, ref, shallowRef } from 'vue'
import { api } from '../../api/client'
import type { Slider, Swept, Turned, WhatIf } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { turnedNames } from './useRun'

const props = defineProps<{ sliders: Slider[]; what: WhatIf; recorded: string | null }>()

const { plan } = usePlan()
const across = ref<Turned>('load')
const up = ref<Turned>('parallel')
const swept = shallowRef<Swept | null>(null)
const drawn = shallowRef<{ across: Slider; up: Slider } | null>(null)
const working = ref(false)
const refused = ref('')

/** Stops along an axis: few enough to read on a phone. */
const STOPS = 8
const byTurned = (turned: Turned) => props.sliders.find((s) => s.turned === turned)

async function draw(): Promise<void> {
  const [x, y] = [byTurned(across.value), byTurned(up.value)]
  if (!plan.value || !x || !y) return
  working.value = true
  const axis = (s: Slider) => ({ turned: s.turned, from: s.min, to: s.max, stops: STOPS })
  const answer = await api.runMap(
    plan.value,
    { across: axis(x), up: axis(y), what: props.what },
    props.recorded,
  )
  working.value = false
  refused.value = answer.ok
    ? ''
    : answer.problem.errors.map((e) => e.message).join('; ') || answer.problem.detail
  if (answer.ok) {
    swept.value = answer.value
    drawn.value = { across: x, up: y }
  }
}

const rows = computed(() => {
  const map = swept.value
  if (!map) return []
  const width = map.across.length
  // The highest stop stands on top.
  return map.up.map((value, i) => ({ value, cells: map.cells.slice(i * width, (i + 1) * width) })).reverse()
})
const longest = computed(() => Math.max(1, ...(swept.value?.cells ?? []).map((c) => c?.time_s ?? 0)))
const reads = (slider: Slider | undefined, value: number) =>
  !slider ? '' : slider.turned === 'load' ? `× ${show(value, 'ratio')}` : show(value, slider.unit)

const ends: Record<string, string> = {
  board: 'board',
  trip: 'trip',
  cut_off: 'cut-off',
  cut_out: 'cut-out',
  device: 'too low',
  converter: 'converter',
  floor: 'minimum!',
  heat: '60 °C!',
  collapse: 'collapse',
  alarm: 'alarm',
  time: 'on',
  steps: '–',
}
</script>

<template>
  <section class="section" data-testid="map">
    <h2>A map of runs</h2>
    <div class="after choose">
      <label>
        Across
        <select v-model="across">
          <option v-for="s in sliders" :key="s.turned" :value="s.turned" :disabled="s.turned === up">
            {{ turnedNames[s.turned] }}
          </option>
        </select>
      </label>
      <label>
        Up
        <select v-model="up">
          <option v-for="s in sliders" :key="s.turned" :value="s.turned" :disabled="s.turned === across">
            {{ turnedNames[s.turned] }}
          </option>
        </select>
      </label>
      <v-btn size="small" variant="outlined" :loading="working" @click="draw">Draw the map</v-btn>
    </div>
    <p v-if="refused" class="refused" role="alert">{{ refused }}</p>
    <div
      v-if="swept && !swept.missing && drawn"
      class="sideways after"
      tabindex="0"
      role="region"
      aria-label="Map of runs"
    >
      <table class="map">
        <thead>
          <tr>
            <th scope="col">{{ turnedNames[drawn.up.turned] }} ↑</th>
            <th v-for="x in swept.across" :key="x" scope="col">{{ reads(drawn.across, x) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.value">
            <th scope="row">{{ reads(drawn.up, row.value) }}</th>
            <td
              v-for="(cell, i) in row.cells"
              :key="i"
              :style="{ '--share': `${Math.round(((cell?.time_s ?? 0) / longest) * 100)}%` }"
            >
              <template v-if="cell">
                <b>{{ show(cell.time_s, 's') }}</b>
                <small>{{ ends[cell.who] }}</small>
              </template>
              <template v-else>–</template>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="soft after">
        Across: {{ turnedNames[drawn.across.turned].toLowerCase() }}. Under each time, what ends it. The bar
        shows the time against the longest.
      </p>
    </div>
  </section>
</template>

<style scoped>
.choose {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 20px;
  align-items: center;
}

select {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 4px 8px;
}

.map {
  border-collapse: collapse;
}

.map th {
  font-weight: 400;
  font-size: 13px;
  color: var(--soft);
  padding: 4px 10px 4px 0;
  text-align: left;
  white-space: nowrap;
}

.map td {
  border: 1px solid var(--line);
  padding: 4px 8px 6px;
  min-width: 74px;
  background: linear-gradient(to right, var(--petrol-tint) var(--share), transparent var(--share));
}

.map b,
.map small {
  display: block;
  font-size: 13px;
  white-space: nowrap;
}

.map small {
  color: var(--soft);
}

.refused {
  color: var(--stop);
}
</style>
