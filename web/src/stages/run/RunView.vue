<script setup lang="ts">
// What the plan will do: run time, usable charge, volts over the run.
import { defineAsyncComponent, onMounted, ref, watch } from 'vue'
import { api } from '../../api/client'
import type { DischargeCurve } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { fixed } from '../../format/show'
import { usePlan } from '../../state/plan'
import FigureText from '../../ui/FigureText.vue'
import StageHead from '../../ui/StageHead.vue'

const RunChart = defineAsyncComponent(() => import('./RunChart.vue'))

const { plan } = usePlan()
const curve = ref<DischargeCurve | null>(null)
const table = ref(false)
let asked = 0

async function draw(): Promise<void> {
  if (!plan.value) return
  const number = ++asked
  const answer = await api.dischargeCurve(plan.value)
  if (number === asked && answer.ok) curve.value = answer.value
}

function save(): void {
  const head = ['taken / Ah', 'at rest / V', 'warm / V', 'cold / V']
  saveCsv('run', head, curve.value?.points.map((p) => [p.taken_ah, p.rest_v, p.warm_v, p.cold_v]) ?? [])
}

onMounted(draw)
watch(plan, draw)
</script>

<template>
  <StageHead
    stage="run"
    title="What will it do?"
    lead="Computed from the cell's open-circuit curve and one resistance: diffusion and ageing are left out, so expect a little less."
  />
  <template v-if="curve?.points.length">
    <RunChart :curve="curve" />
    <p v-if="curve.assumed" class="soft">
      No published curve for this chemistry: a line through common figures, good to a tenth at best.
    </p>
    <button type="button" class="textlink" :aria-expanded="table" @click="table = !table">
      {{ table ? 'Hide the values' : 'Show the values' }}
    </button>
    <table v-if="table">
      <thead>
        <tr>
          <th scope="col">Taken, Ah</th>
          <th scope="col">At rest, V</th>
          <th scope="col">Warm, V</th>
          <th scope="col">Cold, V</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in curve.points.filter((_, i) => i % 5 === 0)" :key="p.taken_ah">
          <td>{{ fixed(p.taken_ah, 2) }}</td>
          <td>{{ fixed(p.rest_v, 2) }}</td>
          <td>{{ fixed(p.warm_v, 2) }}</td>
          <td>{{ fixed(p.cold_v, 2) }}</td>
        </tr>
      </tbody>
    </table>
    <v-btn v-if="table" size="small" class="after" @click="save">Save as CSV</v-btn>
  </template>
  <p v-else class="missing">
    The run can be drawn once the load, the voltage and the cell are known.
    <router-link :to="{ name: 'device' }">Survey the device</router-link>,
    <router-link :to="{ name: 'voltage' }">choose the voltage</router-link>,
    <router-link :to="{ name: 'cells' }">choose a cell</router-link>.
  </p>
  <section class="section two">
    <div>
      <h2>How long</h2>
      <FigureText id="run.time_s" />
      <FigureText id="device.wanted_run_s" />
      <FigureText id="original.run_s" />
      <FigureText id="run.mean_a" />
    </div>
    <div>
      <h2>How much</h2>
      <FigureText id="run.usable_share" />
      <FigureText id="run.usable_ah" />
      <FigureText id="run.usable_wh" />
      <FigureText id="pack.cutoff_v" />
      <FigureText id="run.peak_v" />
    </div>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 28px;
}

.missing {
  padding: 16px;
  border: 1px dashed var(--line-strong);
}

table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 8px;
}

th,
td {
  text-align: right;
  padding: 3px 8px;
  border-bottom: 1px solid var(--line);
}
</style>
