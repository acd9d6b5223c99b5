<script setup lang="ts">
// A compartment seen from above, with the brick and every thing in it, and where each lies.
import { computed } from 'vue'
import type { BayPlan } from '../../api/types'
import { show } from '../../format/show'

const props = defineProps<{ bay: BayPlan }>()
const placed = computed(() => props.bay.things.filter((t) => t.at))
</script>

<template>
  <div class="after" :data-bay="bay.id">
    <h3>{{ bay.name }}</h3>
    <p v-if="bay.moved && bay.brick" class="after" data-testid="pushed">
      The brick is pushed aside to {{ show(bay.brick.low_mm[0] ?? 0, 'mm') }} from the near end,
      {{ show(bay.brick.low_mm[1] ?? 0, 'mm') }} from the near side and
      {{ show(bay.brick.low_mm[2] ?? 0, 'mm') }} from the floor.
    </p>
    <svg
      class="after"
      :viewBox="`-1 -1 ${bay.space_mm[0]! + 2} ${bay.space_mm[1]! + 2}`"
      role="img"
      :aria-label="`${bay.name} from above`"
    >
      <rect class="walls" x="0" y="0" :width="bay.space_mm[0]" :height="bay.space_mm[1]" />
      <rect
        v-for="(o, k) in bay.in_the_way"
        :key="k"
        class="blocked"
        :x="o.low_mm[0]"
        :y="o.low_mm[1]"
        :width="o.high_mm[0]! - o.low_mm[0]!"
        :height="o.high_mm[1]! - o.low_mm[1]!"
      />
      <rect
        v-if="bay.brick"
        class="brick"
        :x="bay.brick.low_mm[0]"
        :y="bay.brick.low_mm[1]"
        :width="bay.brick.high_mm[0]! - bay.brick.low_mm[0]!"
        :height="bay.brick.high_mm[1]! - bay.brick.low_mm[1]!"
      />
      <g v-for="(t, k) in placed" :key="t.node">
        <rect
          class="part"
          :x="t.at!.low_mm[0]"
          :y="t.at!.low_mm[1]"
          :width="t.at!.high_mm[0]! - t.at!.low_mm[0]!"
          :height="t.at!.high_mm[1]! - t.at!.low_mm[1]!"
        />
        <title>{{ t.name }}</title>
        <text :x="t.at!.low_mm[0]! + 2" :y="t.at!.low_mm[1]! + 7">{{ k + 1 }}</text>
      </g>
    </svg>
    <table class="values">
      <thead>
        <tr>
          <th>Part</th>
          <th class="n">From the end</th>
          <th class="n">From the side</th>
          <th class="n">From the floor</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in bay.things" :key="t.node">
          <td>{{ placed.includes(t) ? `${placed.indexOf(t) + 1}. ` : '' }}{{ t.name }}</td>
          <template v-if="t.at">
            <td v-for="k in [0, 1, 2]" :key="k" class="n">{{ show(t.at.low_mm[k] ?? 0, 'mm') }}</td>
          </template>
          <td v-else colspan="3" class="n">no place</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
svg {
  width: 100%;
  max-width: 560px;
  display: block;
}

.walls {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 0.8;
}

.blocked {
  fill: var(--line-strong);
}

.brick {
  fill: var(--copper);
  opacity: 0.75;
}

text {
  font-size: 6px;
  font-weight: 700;
  fill: var(--sheet);
}

.part {
  fill: var(--petrol);
  opacity: 0.75;
  stroke: var(--sheet);
  stroke-width: 0.6;
}
</style>
