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
import FileLink from '../../ui/FileLink.vue'
import ProblemList from '../../ui/ProblemList.vue'
import { frame, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'

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

async function take(text: string): Promise<void> {
  if (!plan.value) return
  const told = await api.ownCell(plan.value, text, cell_c.value)
  answer.value = told.ok ? told.value : null
  problem.value = told.ok ? null : told.problem
}

function keep(): void {
  if (answer.value) set(answer.value.change.at, answer.value.change.value)
  answer.value = null
}

const option = computed(() => {
  const points = answer.value?.own.points ?? []
  const over = (pick: (p: OwnPoint) => number): [number, number][] => points.map((p) => [p.t_s / 60, pick(p)])
  return {
    ...frame({ left: 52, right: 18, top: 36, bottom: 42 }),
    tooltip: { trigger: 'axis', textStyle: tooltipText() },
    xAxis: timeAxis('minutes'),
    yAxis: { ...valueAxis('V'), scale: true },
    series: [
      trace(
        'logged',
        '--nickel',
        over((p) => p.read_v),
      ),
      trace(
        'fitted',
        '--copper',
        over((p) => p.fitted_v),
        'dashed',
      ),
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
      <FileLink
        label="Fit a logged discharge"
        name="Logged discharge as CSV"
        test-id="own-log"
        @text="take"
      />
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
</style>
