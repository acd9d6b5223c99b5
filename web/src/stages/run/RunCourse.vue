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
import { files } from '../../api/client'
import type { OldRun, RunOutcome, RunPoint } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { fixed, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { colour, frame, marks, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'
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

const { id } = usePlan()

type Kind = 'pack' | 'groups' | 'current' | 'power' | 'heat' | 'charge'
interface Line {
  name: string
  pick: (p: RunPoint) => number | null | undefined
  thin?: boolean
}
interface View {
  label: string
  unit: string
  places: number
  lines: Line[]
}
const views: Record<Kind, View> = {
  pack: {
    label: 'Volts',
    unit: 'V',
    places: 2,
    lines: [
      { name: 'pack', pick: (p) => p.pack_v },
      { name: 'at the device in a peak', pick: (p) => p.peak_v, thin: true },
    ],
  },
  groups: {
    label: 'Groups',
    unit: 'V',
    places: 3,
    lines: [
      { name: 'weakest group', pick: (p) => p.weakest_v },
      { name: 'strongest group', pick: (p) => p.strongest_v, thin: true },
    ],
  },
  current: { label: 'Current', unit: 'A', places: 2, lines: [{ name: 'current', pick: (p) => p.current_a }] },
  power: { label: 'Power', unit: 'W', places: 1, lines: [{ name: 'power', pick: (p) => p.power_w }] },
  heat: {
    label: 'Temperature',
    unit: '°C',
    places: 1,
    lines: [{ name: 'hottest cell', pick: (p) => p.hottest_c }],
  },
  charge: { label: 'Charge', unit: '%', places: 1, lines: [{ name: 'charge', pick: (p) => p.soc * 100 }] },
}
const kind = ref<Kind>('pack')
const table = ref(false)
const view = computed(() => views[kind.value])

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
  const points = latest.value?.points ?? []
  const every = Math.max(1, Math.ceil(points.length / 25))
  return points.filter((_, i) => i % every === 0 || i === points.length - 1)
})
</script>

<template>
  <section class="section" data-testid="course">
    <div class="page-head">
      <h2>The course</h2>
      <div class="kinds" role="group" aria-label="What is drawn">
        <button v-for="(v, k) in views" :key="k" type="button" :aria-pressed="kind === k" @click="kind = k">
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
      :aria-label="`${view.label} over time; the values stand below`"
    />
    <ul v-if="latest?.events.length" class="rows">
      <li v-for="e in latest.events" :key="e.says">
        <b>{{ show(e.event.at_s, 's') }}</b>
        <span>{{ e.says }}</span>
      </li>
    </ul>
    <button type="button" class="textlink" :aria-expanded="table" @click="table = !table">
      {{ table ? 'Hide the values' : 'Show the values' }}
    </button>
    <div v-if="table && latest" class="sideways" tabindex="0" role="region" aria-label="Values of the run">
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
            <th class="n">Comes back to</th>
            <th class="n">Left</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(g, i) in latest.groups" :key="i">
            <td>B{{ i }}–B{{ i + 1 }}</td>
            <td class="n">{{ show(g.capacity_ah, 'ah') }}</td>
            <td class="n">{{ fixed(g.loaded_v, 3) }} V</td>
            <td class="n">{{ fixed(g.rested_v, 3) }} V</td>
            <td class="n">{{ show(g.left_ah, 'ah') }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-if="table && latest" class="after">
      <v-btn size="small" class="before" @click="saveCsv('run', head, latest.points.map(row))">
        Save as CSV
      </v-btn>
      <v-btn v-if="id" size="small" :href="files.run(id)" download>
        Every second, in Battery Data Format
      </v-btn>
    </div>
    <p class="soft after">
      Fitted to pulses and slow discharges of published cells; faster ones are met within 30 mV at 1 C and 75
      mV at 2 C. A cell on the bench differs more than that: measure one, and compare.
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
