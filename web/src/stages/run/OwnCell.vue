<script setup lang="ts">
// The maker's own cell: one or two discharges of it, logged or printed in its data sheet, and what they say.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref, shallowRef } from 'vue'
import VChart from 'vue-echarts'
import { api } from '../../api/client'
import type { OwnCellAnswer, OwnPoint, Problem, ToldDischarge } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import FileLink from '../../ui/FileLink.vue'
import ProblemList from '../../ui/ProblemList.vue'
import PrintedCurve from './PrintedCurve.vue'
import { frame, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const { plan, set } = usePlan()
const answer = shallowRef<OwnCellAnswer | null>(null)
const problem = shallowRef<Problem | null>(null)
const cell_c = ref(25)
/** The discharges that were told, the first one first. */
const told = shallowRef<ToldDischarge[]>([])
const printing = ref(false)

const fitted = computed(() => plan.value?.packs[0]?.fitted ?? null)
const isOther = computed(() => {
  const cell = plan.value?.packs[0]?.cell
  return fitted.value != null && (cell?.state !== 'chosen' || cell.part.offer.name !== fitted.value.of)
})

async function take(...discharges: ToldDischarge[]): Promise<void> {
  const [first, second] = discharges
  if (!plan.value || !first) return
  const read = await api.ownCell(plan.value, first, second ?? null, cell_c.value)
  problem.value = read.ok ? null : read.problem
  // A second one that is refused takes nothing from the first.
  if (!read.ok && second) return
  answer.value = read.ok ? read.value : null
  told.value = read.ok ? discharges : []
}

const takeFirst = (text: string) => take({ text })
const takeSecond = (text: string) => take(told.value[0]!, { text })

function leave(): void {
  answer.value = null
  problem.value = null
  told.value = []
}

function keep(): void {
  if (answer.value) set(answer.value.change.at, answer.value.change.value)
  leave()
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
      Log one discharge of one cell from full to empty (time, current, voltage as CSV), slowly if you can, or
      use the curve from its data sheet. The run above then uses your cell.
    </p>
    <p v-if="fitted" class="after" data-testid="fitted">
      <b>{{ fitted.of }}</b>: {{ show(fitted.capacity_ah, 'ah') }}, {{ show(fitted.dcir_ohm, 'ohm') }}, lag
      {{ show(fitted.diffusion_s, 's') }}{{ fitted.curve?.length ? ', and its own curve' : '' }}; fit within
      {{ show(fitted.error_v, 'v') }}.
      <span v-if="isOther">Another cell is chosen now: it is not used.</span>
      <button type="button" class="textlink" @click="set('/packs/0/fitted', null)">Remove it</button>
    </p>
    <div class="after take">
      <label>
        Logged at
        <input v-model.number="cell_c" type="number" min="-40" max="90" step="1" /> °C
      </label>
      <FileLink
        label="Open a logged discharge"
        name="Logged discharge as CSV"
        test-id="own-log"
        @text="takeFirst"
      />
      <button type="button" class="textlink" @click="printing = true">Paste a data sheet’s curve…</button>
      <PrintedCurve v-model="printing" @told="take($event)" />
    </div>
    <ProblemList v-if="problem" :problem="problem" />
    <template v-if="answer">
      <p class="after" data-testid="own-fit">
        <b>{{ show(answer.own.capacity_ah, 'ah') }}</b> from full to empty,
        <b>{{ show(answer.own.dcir_ohm, 'ohm') }}</b> at 25 °C, lag of diffusion
        {{ show(answer.own.diffusion_s, 's') }}; {{ answer.own.lines }} lines.
      </p>
      <ul class="says" data-testid="own-says">
        <li v-for="said in answer.own.says" :key="said">{{ said }}</li>
      </ul>
      <FileLink
        v-if="told.length === 1"
        label="Add a second, faster discharge of the same cell"
        name="Second discharge as CSV"
        test-id="own-second"
        @text="takeSecond"
      />
      <VChart
        class="chart"
        :option="option"
        autoresize
        role="img"
        aria-label="Voltage as logged and as fitted over time"
      />
      <v-btn size="small" variant="outlined" class="before" @click="keep">Put it into the plan</v-btn>
      <v-btn size="small" variant="outlined" @click="leave">Discard it</v-btn>
    </template>
  </section>
</template>

<style scoped>
.chart {
  height: 240px;
  width: 100%;
}

.says {
  margin: 6px 0;
  padding-left: 20px;
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
