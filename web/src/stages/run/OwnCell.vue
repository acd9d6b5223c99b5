<script setup lang="ts">
// The maker's own cell: a logged discharge, and what it was fitted to.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref, shallowRef } from 'vue'
import VChart from 'vue-echarts'
import { api } from '../../api/client'
import type { OwnCellAnswer, OwnPoint, Problem } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { theme } from '../../state/preferences'
import ProblemList from '../../ui/ProblemList.vue'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const { plan, set } = usePlan()
const answer = shallowRef<OwnCellAnswer | null>(null)
const problem = shallowRef<Problem | null>(null)
const cell_c = ref(25)

const fitted = computed(() => plan.value?.packs[0]?.fitted ?? null)
const isOther = computed(() => {
  const cell = plan.value?.packs[0]?.cell
  return fitted.value != null && (cell?.state !== 'chosen' || cell.part.offer.name !== fitted.value.of)
})

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file && plan.value) {
    const told = await api.ownCell(plan.value, await file.text(), cell_c.value)
    answer.value = told.ok ? told.value : null
    problem.value = told.ok ? null : told.problem
  }
  input.value = ''
}

function keep(): void {
  if (answer.value) set(answer.value.change.at, answer.value.change.value)
  answer.value = null
}

const option = computed(() => {
  // Read again when the theme changes: a chart cannot follow style variables by itself.
  const colour = (name: string) =>
    theme.value && getComputedStyle(document.documentElement).getPropertyValue(name)
  const [ink, soft, line] = [colour('--ink'), colour('--soft'), colour('--line')]
  const text = { fontFamily: 'Atkinson Hyperlegible Next', color: ink, fontSize: 13 }
  const points = answer.value?.own.points ?? []
  const trace = (name: string, pick: (p: OwnPoint) => number, tone: string, type: string) => ({
    name,
    type: 'line',
    showSymbol: false,
    lineStyle: { width: 2, color: colour(tone), type },
    itemStyle: { color: colour(tone) },
    data: points.map((p) => [p.t_s / 60, pick(p)]),
  })
  const axis = { type: 'value', nameTextStyle: { ...text, color: soft }, axisLabel: { color: soft } }
  return {
    animation: false,
    textStyle: text,
    grid: { left: 52, right: 18, top: 36, bottom: 42 },
    legend: { top: 0, left: 40, textStyle: text, itemHeight: 2 },
    tooltip: { trigger: 'axis', textStyle: { ...text, color: '#1e2422' } },
    xAxis: { ...axis, name: 'minutes', nameLocation: 'middle', nameGap: 26, splitLine: { show: false } },
    yAxis: { ...axis, name: 'V', scale: true, splitLine: { lineStyle: { color: line } } },
    series: [
      trace('logged', (p) => p.read_v, '--nickel', 'solid'),
      trace('fitted', (p) => p.fitted_v, '--copper', 'dashed'),
    ],
  }
})
</script>

<template>
  <section class="section" data-testid="own-cell">
    <h2>Your own cell</h2>
    <p class="lead">
      Log one discharge of one cell from full to empty (time, current, volts as CSV): capacity, resistance and
      diffusion are fitted to it, and the run above is that of your cell.
    </p>
    <p v-if="fitted" class="after" data-testid="fitted">
      <b>{{ fitted.of }}</b>: {{ show(fitted.capacity_ah, 'ah') }}, {{ show(fitted.dcir_ohm, 'ohm') }}, lag
      {{ show(fitted.diffusion_s, 's') }}; the fit misses {{ show(fitted.error_v, 'v') }}.
      <span v-if="isOther">Another cell is chosen now: it is not used.</span>
      <button type="button" class="textlink" @click="set('/packs/0/fitted', null)">Forget it</button>
    </p>
    <div class="after take">
      <label>
        Logged at
        <input v-model.number="cell_c" type="number" min="-40" max="90" step="1" /> °C
      </label>
      <label class="file">
        <span class="textlink">Fit a logged discharge</span>
        <input
          type="file"
          accept=".csv,.txt,text/csv,text/plain"
          aria-label="Logged discharge as CSV"
          data-testid="own-log"
          @change="take"
        />
      </label>
    </div>
    <ProblemList v-if="problem" :problem="problem" />
    <template v-if="answer">
      <p class="after" data-testid="own-fit">
        {{ show(answer.own.capacity_ah, 'ah') }} from full to empty, {{ show(answer.own.dcir_ohm, 'ohm') }} at
        25 °C, lag of diffusion {{ show(answer.own.diffusion_s, 's') }}. The fit misses the
        {{ answer.own.lines }} lines of the log by {{ show(answer.own.error_v, 'v') }}.
      </p>
      <VChart
        class="chart"
        :option="option"
        autoresize
        role="img"
        aria-label="Volts as logged and as fitted over time"
      />
      <v-btn size="small" variant="outlined" class="before" @click="keep">Put it into the plan</v-btn>
      <v-btn size="small" variant="outlined" @click="answer = null">Leave it</v-btn>
    </template>
  </section>
</template>

<style scoped>
.chart {
  height: 240px;
  width: 100%;
}

.take {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 28px;
  align-items: center;
}

input[type='number'] {
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  padding: 4px 8px;
  width: 72px;
}

.file input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}

.file:focus-within .textlink {
  outline: 2px solid var(--petrol);
  outline-offset: 2px;
}
</style>
