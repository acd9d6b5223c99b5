<script setup lang="ts">
// The values of a run as a table: every so many points, the groups at the end, and both as files.
import { computed, ref } from 'vue'
import { files } from '../../api/client'
import type { RunOutcome, RunPoint } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { fixed, show } from '../../format/show'
import { usePlan } from '../../state/plan'

const props = defineProps<{ run: RunOutcome }>()
const { id } = usePlan()
const table = ref(false)

const head = [
  's',
  'pack / V',
  'device / V',
  'A',
  'W',
  'weakest group / V',
  'strongest group / V',
  'hottest / C',
  'SOC',
]
const row = (p: RunPoint) => [
  p.t_s,
  p.pack_v,
  p.feed_v,
  p.current_a,
  p.power_w,
  p.weakest_v,
  p.strongest_v,
  p.hottest_c,
  p.soc,
]
/** Every so many points, so that the table can be read. */
const few = computed(() => {
  const points = props.run.points
  const every = Math.max(1, Math.ceil(points.length / 25))
  return points.filter((_, i) => i % every === 0 || i === points.length - 1)
})
</script>

<template>
  <button type="button" class="textlink" :aria-expanded="table" @click="table = !table">
    {{ table ? 'Hide the values' : 'Show the values' }}
  </button>
  <div v-if="table" class="sideways" tabindex="0" role="region" aria-label="Values of the run">
    <table class="values">
      <thead>
        <tr>
          <th class="n">After</th>
          <th class="n">Pack, V</th>
          <th class="n">Device, V</th>
          <th class="n">A</th>
          <th class="n">W</th>
          <th class="n">Weakest, V</th>
          <th class="n">Strongest, V</th>
          <th class="n">Hottest, °C</th>
          <th class="n">Charge</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in few" :key="p.t_s">
          <td class="n">{{ show(p.t_s, 's') }}</td>
          <td class="n">{{ fixed(p.pack_v, 2) }}</td>
          <td class="n">{{ fixed(p.feed_v, 2) }}</td>
          <td class="n">{{ fixed(p.current_a, 2) }}</td>
          <td class="n">{{ fixed(p.power_w, 1) }}</td>
          <td class="n">{{ fixed(p.weakest_v, 3) }}</td>
          <td class="n">{{ fixed(p.strongest_v, 3) }}</td>
          <td class="n">{{ fixed(p.hottest_c, 1) }}</td>
          <td class="n">{{ show(p.soc, 'share') }}</td>
        </tr>
      </tbody>
    </table>
    <h3 class="after">Groups at the end</h3>
    <table class="values">
      <thead>
        <tr>
          <th>Group</th>
          <th class="n">Capacity</th>
          <th class="n">Under load</th>
          <th class="n">Recovers to</th>
          <th class="n">Left</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(g, i) in run.groups" :key="i">
          <td>B{{ i }}–B{{ i + 1 }}</td>
          <td class="n">{{ show(g.capacity_ah, 'ah') }}</td>
          <td class="n">{{ fixed(g.loaded_v, 3) }} V</td>
          <td class="n">{{ fixed(g.rested_v, 3) }} V</td>
          <td class="n">{{ show(g.left_ah, 'ah') }}</td>
        </tr>
      </tbody>
    </table>
  </div>
  <div v-if="table" class="after">
    <v-btn size="small" class="before" @click="saveCsv('run', head, run.points.map(row))">
      Save as CSV
    </v-btn>
    <v-btn v-if="id" size="small" :href="files.run(id)" download>
      Every second, in Battery Data Format
    </v-btn>
  </div>
</template>
