<script setup lang="ts">
// Volts and current over the charge from empty, with what sets the current in each part.
import { LineChart } from 'echarts/charts'
import {
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TooltipComponent,
} from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { ChargeCourse, SetBy } from '../../api/types'
import { fixed, show } from '../../format/show'
import { theme } from '../../state/preferences'

use([
  LineChart,
  GridComponent,
  LegendComponent,
  MarkAreaComponent,
  MarkLineComponent,
  TooltipComponent,
  SVGRenderer,
])

const props = defineProps<{ course: ChargeCourse }>()

const names: Record<SetBy, string> = {
  pre_charge: 'careful start',
  charger: 'the charger’s current',
  supply: 'what the supply gives',
  cells: 'what the cells take',
}

const HOUR_S = 3600

const option = computed(() => {
  // Read again when the theme changes: a chart cannot follow style variables by itself.
  const colour = (name: string) =>
    theme.value && getComputedStyle(document.documentElement).getPropertyValue(name)
  const [ink, soft, line] = [colour('--ink'), colour('--soft'), colour('--line')]
  const text = { fontFamily: 'Atkinson Hyperlegible Next', color: ink, fontSize: 13 }
  const { points, parts, most_s, full_s } = props.course
  const lowest = Math.min(...points.map((p) => p.pack_v))
  const axis = { axisLabel: { color: soft }, nameTextStyle: { ...text, color: soft } }
  const trace = (name: string, yAxisIndex: number, at: (i: number) => number, tone: string) => ({
    name,
    type: 'line',
    yAxisIndex,
    showSymbol: false,
    lineStyle: { width: 2, color: colour(tone) },
    itemStyle: { color: colour(tone) },
    data: points.map((p, i) => [p.t_s / HOUR_S, at(i)]),
  })
  return {
    animation: false,
    textStyle: text,
    grid: { left: 52, right: 52, top: 40, bottom: 42 },
    legend: { top: 0, left: 40, textStyle: text, itemHeight: 2 },
    tooltip: {
      trigger: 'axis',
      textStyle: { ...text, color: '#1e2422' },
      formatter: (hits: { dataIndex: number }[]) => {
        const p = points[hits[0]?.dataIndex ?? 0]
        return p
          ? `${show(p.t_s, 's')}<br>${fixed(p.pack_v, 2)} V, ${show(p.current_a, 'a')}<br>${show(p.soc, 'share')} in`
          : ''
      },
    },
    xAxis: {
      type: 'value',
      name: 'hours from empty',
      nameLocation: 'middle',
      nameGap: 26,
      max: full_s / HOUR_S,
      ...axis,
      axisLabel: {
        color: soft,
        formatter: (h: number) => String(Math.round(h * 100) / 100),
        hideOverlap: true,
      },
      splitLine: { show: false },
    },
    yAxis: [
      {
        type: 'value',
        name: 'V',
        min: Math.floor(lowest),
        ...axis,
        splitLine: { lineStyle: { color: line } },
      },
      { type: 'value', name: 'A', min: 0, ...axis, splitLine: { show: false } },
    ],
    series: [
      {
        ...trace('volts of the pack', 0, (i) => points[i]!.pack_v, '--copper'),
        markArea: {
          silent: true,
          label: { show: false },
          data: parts.map((part, i) => [
            {
              xAxis: part.from_s / HOUR_S,
              itemStyle: { color: i % 2 ? colour('--line') : 'transparent', opacity: 0.45 },
            },
            { xAxis: part.until_s / HOUR_S },
          ]),
        },
        markLine: {
          symbol: 'none',
          silent: true,
          lineStyle: { color: ink, type: 'dashed' },
          label: { formatter: '80 % in', color: ink, position: 'insideEndTop' },
          data: most_s == null ? [] : [{ xAxis: most_s / HOUR_S }],
        },
      },
      trace('current', 1, (i) => points[i]!.current_a, '--petrol'),
    ],
  }
})
</script>

<template>
  <section class="section" data-testid="charge-course">
    <h2>The charge from empty</h2>
    <VChart
      class="chart"
      :option="option"
      autoresize
      role="img"
      aria-label="Volts and current over the charge; what sets each part stands below"
    />
    <table class="values">
      <thead>
        <tr>
          <th>The current is set by</th>
          <th class="n">Until</th>
          <th class="n">Lasts</th>
          <th class="n">In by then</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="part in course.parts" :key="part.from_s" :data-set-by="part.set_by">
          <td>{{ names[part.set_by] }}</td>
          <td class="n">{{ show(part.until_s, 's') }}</td>
          <td class="n">{{ show(part.until_s - part.from_s, 's') }}</td>
          <td class="n">{{ show(part.until_soc, 'share') }}</td>
        </tr>
      </tbody>
    </table>
    <p class="soft after">
      By the open-circuit curve and one resistance: against a physics model right to 1 % up to 80 %, and up to
      8 % too short at the end.
    </p>
  </section>
</template>

<style scoped>
.chart {
  height: 300px;
  width: 100%;
}
</style>
