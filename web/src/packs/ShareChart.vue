<script setup lang="ts">
// Capacity over the years: tests as points, the forecast as a line in a band that widens, another use as a second line.
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Course, PackStory } from '../api/types'
import { colour, frame, trace, valueAxis } from '../ui/chart'

use([LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{
  story: PackStory
  /** What comes of another use, where one is looked at. */
  other: Course | null
}>()

const MS = 1000
const PERCENT = 100
/** Years that are shown beyond today where nothing ends before. */
const AHEAD_S = 5 * 365 * 86_400

const option = computed(() => {
  const { measured, forecast } = props.story
  const now_s = Date.now() / MS
  const shown = (course: Course) => {
    const end_s = Math.max(course.worn.middle_s ?? 0, now_s + AHEAD_S)
    return course.points.filter((p) => p.at_s <= end_s)
  }
  const points = forecast ? shown(forecast.course) : []
  const at = (s: number) => s * MS
  const line = (course: Course) =>
    shown(course).map((p): [number, number] => [at(p.at_s), p.middle_share * PERCENT])
  const silent = {
    showSymbol: false,
    silent: true,
    lineStyle: { opacity: 0 },
    stack: 'band',
    type: 'line',
    z: 1,
  }
  const tests = (isLike: boolean) =>
    measured.capacity.filter((c) => c.is_like === isLike).map((c) => [at(c.at_s), c.first_share * PERCENT])
  return {
    ...frame({ left: 48, right: 18, top: 24, bottom: 28 }),
    legend: { show: false },
    xAxis: {
      type: 'time',
      axisLabel: { color: colour('--soft'), hideOverlap: true },
      axisLine: { lineStyle: { color: colour('--line-strong') } },
    },
    yAxis: {
      ...valueAxis(''),
      min: (v: { min: number }) => Math.min(80, Math.floor(v.min / 5) * 5),
      max: (v: { max: number }) => Math.max(100, Math.ceil(v.max / 5) * 5),
      axisLabel: { color: colour('--soft'), formatter: (v: number) => `${Math.round(v)} %` },
    },
    series: [
      { ...silent, data: points.map((p) => [at(p.at_s), Math.min(p.low, 1) * PERCENT]) },
      {
        ...silent,
        data: points.map((p) => [at(p.at_s), (Math.min(p.high, 1) - Math.min(p.low, 1)) * PERCENT]),
        areaStyle: { color: colour('--copper-tint'), opacity: 1 },
      },
      {
        ...trace('forecast', '--copper', forecast ? line(forecast.course) : [], 'dashed'),
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: colour('--soft'), type: 'solid' },
          label: { formatter: 'today', color: colour('--soft'), position: 'end', rotate: 0 },
          data: [{ xAxis: now_s * MS }],
        },
      },
      ...(props.other
        ? [
            trace(
              'other',
              '--petrol',
              line(props.other).filter(([t]) => t >= now_s * MS),
              'dashed',
            ),
          ]
        : []),
      {
        type: 'scatter',
        symbolSize: 11,
        z: 5,
        itemStyle: { color: colour('--sheet'), borderColor: colour('--copper'), borderWidth: 2 },
        data: tests(true),
      },
      {
        type: 'scatter',
        symbol: 'triangle',
        symbolSize: 9,
        z: 5,
        itemStyle: { color: colour('--nickel') },
        data: tests(false),
      },
    ],
  }
})
</script>

<template>
  <VChart
    class="chart"
    :option="option"
    autoresize
    role="img"
    aria-label="Capacity over the years: tests as points, the forecast as a line in a band; the figures stand below and in the log"
  />
</template>

<style scoped>
.chart {
  height: 230px;
  width: 100%;
}
</style>
