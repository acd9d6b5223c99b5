<script setup lang="ts">
// The charge simulated group by group: who ends it, how the groups come together, what bleeders and board do.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import { api } from '../../api/client'
import type { FillReport, FillsFrom } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { fixed, show, showFine } from '../../format/show'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import { theme } from '../../state/preferences'

use([LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const { plan } = usePlan()
const from = ref<FillsFrom>('empty')
const filled = useAnswer<FillReport | null>(
  (now) => api.fill(now, from.value),
  null,
  () => from.value,
)

const allRead = computed(() => {
  const pack = plan.value?.packs[0]
  return pack?.series != null && pack.group_v?.length === pack.series
})

const HOUR_S = 3600

const option = computed(() => {
  // Read again when the theme changes: a chart cannot follow style variables by itself.
  const colour = (name: string) =>
    theme.value && getComputedStyle(document.documentElement).getPropertyValue(name)
  const [ink, soft, line] = [colour('--ink'), colour('--soft'), colour('--line')]
  const text = { fontFamily: 'Atkinson Hyperlegible Next', color: ink, fontSize: 13 }
  const points = filled.value?.points ?? []
  const axis = { axisLabel: { color: soft }, nameTextStyle: { ...text, color: soft } }
  const trace = (
    name: string,
    yAxisIndex: number,
    at: (i: number) => number,
    tone: string,
    dash: string,
  ) => ({
    name,
    type: 'line',
    yAxisIndex,
    showSymbol: false,
    lineStyle: { width: 2, color: colour(tone), type: dash },
    itemStyle: { color: colour(tone) },
    data: points.map((p, i) => [p.t_s / HOUR_S, at(i)]),
  })
  const marks = (filled.value?.events ?? [])
    .filter((e) => ['most_of_it', 'ends', 'board_opens'].includes(e.event.what))
    .map((e) => ({
      xAxis: e.event.at_s / HOUR_S,
      label: {
        formatter: { most_of_it: '80 % in', ends: 'ends', board_opens: 'board opens' }[
          e.event.what as 'ends'
        ],
        color: ink,
        position: 'insideEndBottom',
      },
    }))
  return {
    animation: false,
    textStyle: text,
    grid: { left: 52, right: 52, top: 44, bottom: 42 },
    legend: { top: 0, left: 40, textStyle: text, itemHeight: 2 },
    tooltip: {
      trigger: 'axis',
      textStyle: { ...text, color: '#1e2422' },
      formatter: (hits: { dataIndex: number }[]) => {
        const p = points[hits[0]?.dataIndex ?? 0]
        return p
          ? `${show(p.t_s, 's')}<br>groups ${fixed(p.weakest_v, 3)} to ${fixed(p.strongest_v, 3)} V<br>` +
              `${show(p.current_a, 'a')}, ${show(p.soc, 'share')} in${p.bled ? `, ${p.bled} bled` : ''}`
          : ''
      },
    },
    xAxis: {
      type: 'value',
      name: 'hours',
      nameLocation: 'middle',
      nameGap: 26,
      max: ((points[points.length - 1]?.t_s ?? 0) / HOUR_S) * 1.02,
      ...axis,
      axisLabel: {
        color: soft,
        formatter: (h: number) => String(Math.round(h * 100) / 100),
        hideOverlap: true,
        showMaxLabel: false,
      },
      splitLine: { show: false },
    },
    yAxis: [
      { type: 'value', name: 'V a group', scale: true, ...axis, splitLine: { lineStyle: { color: line } } },
      { type: 'value', name: 'A', min: 0, ...axis, splitLine: { show: false } },
    ],
    series: [
      {
        ...trace('highest group', 0, (i) => points[i]!.strongest_v, '--copper', 'solid'),
        markLine: { symbol: 'none', silent: true, lineStyle: { color: ink, type: 'dashed' }, data: marks },
      },
      trace('lowest group', 0, (i) => points[i]!.weakest_v, '--copper', 'dotted'),
      trace('current', 1, (i) => points[i]!.current_a, '--petrol', 'solid'),
    ],
  }
})

const head = [
  's',
  'pack / V',
  'A',
  'highest group / V',
  'lowest group / V',
  'SOC',
  'hottest / C',
  'groups bled',
]
const save = () =>
  saveCsv(
    'charge',
    head,
    filled.value?.points.map((p) => [
      p.t_s,
      p.pack_v,
      p.current_a,
      p.strongest_v,
      p.weakest_v,
      p.soc,
      p.hottest_c,
      p.bled,
    ]) ?? [],
  )
</script>

<template>
  <section class="section" data-testid="fill">
    <h2>How the groups fill</h2>
    <p class="lead">
      Simulated: each group on its own, with charger, supply, bleeders and the board’s guard.
    </p>
    <p v-if="filled?.missing" class="soft after">{{ filled.missing }}</p>
    <template v-else-if="filled">
      <p v-if="allRead" class="after">
        <label>
          <input v-model="from" type="checkbox" true-value="as_read" false-value="empty" />
          Start from the volts that were read of the groups, not from empty
        </label>
      </p>
      <p class="says after" data-testid="fill-says">{{ filled.says }}</p>
      <ul class="facts after">
        <li>
          <b>{{ filled.most_s == null ? '–' : show(filled.most_s, 's') }}</b><span>to 80 %</span>
        </li>
        <li>
          <b>{{ filled.full_s == null ? 'not in 3 days' : show(filled.full_s, 's') }}</b><span
            >to the end</span
          >
        </li>
        <li>
          <b>{{ show(filled.charged_ah, 'ah') }}</b><span>charged</span>
        </li>
        <li>
          <b>{{ showFine(filled.apart_after_v) }}</b><span
            >apart at rest after, {{ showFine(filled.apart_before_v) }} before</span
          >
        </li>
        <li v-if="filled.bled_wh > 0">
          <b>{{ show(filled.bled_wh, 'wh') }}</b><span>turned into heat by bleeding</span>
        </li>
        <li>
          <b>{{ show(filled.hottest_c, 'c') }}</b><span>hottest</span>
        </li>
      </ul>
      <VChart
        class="chart"
        :option="option"
        :update-options="{ notMerge: true }"
        autoresize
        role="img"
        aria-label="Volts of the highest and the lowest group and current over the charge; the values stand below"
      />
      <ul class="rows">
        <li v-for="e in filled.events" :key="e.says">
          <b>{{ show(e.event.at_s, 's') }}</b>
          <span>{{ e.says }}</span>
        </li>
      </ul>
      <details class="after">
        <summary>Every group</summary>
        <table class="values">
          <thead>
            <tr>
              <th>Group</th>
              <th class="n">Charge before</th>
              <th class="n">After</th>
              <th class="n">Rests at</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(g, i) in filled.groups" :key="i">
              <td>B{{ i }}–B{{ i + 1 }}</td>
              <td class="n">{{ show(g.from_soc, 'share') }}</td>
              <td class="n">{{ show(g.soc, 'share') }}</td>
              <td class="n">{{ fixed(g.rested_v, 3) }} V</td>
            </tr>
          </tbody>
        </table>
        <v-btn size="small" class="after" @click="save">Save the course as CSV</v-btn>
      </details>
      <p v-if="filled.assumed" class="soft after">
        No published curve of this chemistry is here: volts are a line through common figures.
      </p>
    </template>
  </section>
</template>

<style scoped>
.chart {
  height: 300px;
  width: 100%;
}

.says {
  font-weight: 700;
}

.facts {
  list-style: none;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 28px;
}

.facts b,
.facts span {
  display: block;
}

.facts b {
  font-size: 18px;
}

.facts span {
  font-size: 13px;
  color: var(--soft);
  max-width: 190px;
}
</style>
