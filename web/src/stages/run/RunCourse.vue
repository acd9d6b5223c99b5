<script setup lang="ts">
// The course of the runs: volts, current, power, temperature or charge over time, with what happened.
import { LineChart } from 'echarts/charts'
import {
  DataZoomComponent,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import type { OldRun, RunOutcome } from '../../api/types'
import { fixed, show } from '../../format/show'
import { colour, frame, marks, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'
import RunValues from './RunValues.vue'
import { type RunView, runViews } from './runViews'
import { named } from './useRun'

use([
  LineChart,
  DataZoomComponent,
  GridComponent,
  LegendComponent,
  MarkLineComponent,
  TooltipComponent,
  SVGRenderer,
])

const props = defineProps<{ runs: RunOutcome[]; original: OldRun | null }>()

const kind = ref<RunView>('pack')
const view = computed(() => runViews[kind.value])

/** The run that the table, the file and the marks are of: the last that was turned. */
const latest = computed(() => props.runs[props.runs.length - 1])

const HOUR_S = 3600
const tones = ['--copper', '--petrol', '--note', '--fine']

const longest_s = computed(() => Math.max(...props.runs.map((r) => r.time_s), props.original?.time_s ?? 0))
const scale = computed(() =>
  longest_s.value > 2 * HOUR_S ? { per_s: HOUR_S, word: 'hours' } : { per_s: 60, word: 'minutes' },
)

const option = computed(() => {
  const { per_s, word } = scale.value
  const several = props.runs.length > 1
  const lines = props.runs.flatMap((run, i) =>
    view.value.lines
      .filter((l) => run.points.some((p) => l.pick(p) != null))
      .filter((l) => !l.thin || i === props.runs.length - 1)
      .map((l) =>
        trace(
          several ? `${l.name}, ${named(run.what).toLowerCase()}` : l.name,
          tones[i % tones.length]!,
          run.points.map((p) => [p.t_s / per_s, l.pick(p) ?? null]),
          l.thin ? 'dotted' : 'solid',
          l.thin ? 1.2 : 2,
        ),
      ),
  )
  const old =
    kind.value === 'pack' && props.original
      ? [
          trace(
            'old battery',
            '--nickel',
            props.original.points.map((p) => [p.t_s / per_s, p.pack_v]),
            'dashed',
          ),
        ]
      : []
  const run = latest.value
  const happened = run ? [{ xAxis: run.time_s / per_s, words: 'ends' }] : []
  // Two marks that stand close would write over one another; the list below tells both.
  if (run?.peak_borne_s != null && run.time_s - run.peak_borne_s > longest_s.value / 12)
    happened.push({ xAxis: run.peak_borne_s / per_s, words: 'no peak from here' })
  const last = lines[lines.length - 1]
  return {
    ...frame({ left: 56, right: 24, top: several ? 68 : 48, bottom: 84 }),
    dataZoom: [
      { type: 'inside', filterMode: 'none' },
      {
        type: 'slider',
        filterMode: 'none',
        height: 18,
        bottom: 8,
        showDetail: false,
        brushSelect: false,
        borderColor: colour('--line'),
        fillerColor: 'transparent',
        handleStyle: { color: colour('--petrol') },
        moveHandleSize: 0,
        dataBackground: { lineStyle: { opacity: 0 }, areaStyle: { opacity: 0 } },
        selectedDataBackground: {
          lineStyle: { opacity: 0 },
          areaStyle: { color: colour('--line'), opacity: 0.7 },
        },
      },
    ],
    tooltip: {
      trigger: 'axis',
      textStyle: tooltipText(),
      formatter: (hits: { seriesName: string; value: [number, number | null] }[]) => {
        const at = hits[0] ? show(hits[0].value[0] * per_s, 's') : ''
        const rows = hits
          .filter((h) => h.value[1] != null)
          .map((h) => `${h.seriesName}: <b>${fixed(h.value[1]!, view.value.places)} ${view.value.unit}</b>`)
        return [at, ...rows].join('<br>')
      },
    },
    xAxis: timeAxis(word, (longest_s.value * 1.02) / per_s),
    yAxis: {
      ...valueAxis(view.value.unit),
      scale: true,
      min: ['charge', 'current', 'power'].includes(kind.value) ? 0 : undefined,
    },
    series: [...old, ...lines.slice(0, -1), ...(last ? [{ ...last, markLine: marks(happened) }] : [])],
  }
})
</script>

<template>
  <section class="section" data-testid="course">
    <div class="page-head">
      <h2>Over time</h2>
      <div class="kinds" role="group" aria-label="What is drawn">
        <button
          v-for="(v, k) in runViews"
          :key="k"
          type="button"
          :aria-pressed="kind === k"
          @click="kind = k"
        >
          {{ v.label }}
        </button>
      </div>
    </div>
    <VChart
      class="chart"
      :option="option"
      :update-options="{ notMerge: true }"
      autoresize
      role="img"
      :aria-label="`${view.label} over time; the values are below`"
    />
    <ul v-if="latest?.events.length" class="rows">
      <li v-for="e in latest.events" :key="e.says">
        <b>{{ show(e.event.at_s, 's') }}</b>
        <span>{{ e.says }}</span>
      </li>
    </ul>
    <RunValues v-if="latest" :run="latest" />
    <p class="soft after">
      Fitted to pulses and slow discharges of published cells; faster ones are met within 30 mV at 1 C and 75
      mV at 2 C. A real cell differs more than that: measure one, and compare.
    </p>
  </section>
</template>

<style scoped>
.chart {
  height: 330px;
  width: 100%;
}

.kinds {
  display: flex;
  flex-wrap: wrap;
  flex: 0 1 auto !important;
}

.kinds button {
  font: inherit;
  font-size: 14px;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  margin-left: -1px;
  padding: 5px 12px;
  cursor: pointer;
}

.kinds button[aria-pressed='true'] {
  background: var(--petrol);
  border-color: var(--petrol);
  color: var(--on-strong);
}
</style>
