<script setup lang="ts">
// Volts over the charge taken out: at rest, warm, cold, and where the run ends.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { CurvePoint, DischargeCurve } from '../../api/types'
import { fixed } from '../../format/show'
import { theme } from '../../state/preferences'

use([LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{ curve: DischargeCurve }>()

const option = computed(() => {
  // Read again when the theme changes: a chart cannot follow style variables by itself.
  const colour = (name: string) =>
    theme.value && getComputedStyle(document.documentElement).getPropertyValue(name)
  const [ink, soft, line] = [colour('--ink'), colour('--soft'), colour('--line')]
  const text = { fontFamily: 'Atkinson Hyperlegible Next', color: ink, fontSize: 13 }
  const series = (name: string, pick: (p: CurvePoint) => number, style: object) => ({
    name,
    type: 'line',
    showSymbol: false,
    lineStyle: { width: 2, ...style },
    itemStyle: style,
    data: props.curve.points.map((p) => [p.taken_ah, pick(p)]),
  })
  const low = Math.min(
    ...props.curve.points.slice(0, -2).map((p) => p.cold_v),
    props.curve.cutoff_v ?? Infinity,
  )
  return {
    animation: false,
    textStyle: text,
    grid: { left: 52, right: 18, top: 36, bottom: 42 },
    legend: { top: 0, left: 40, textStyle: text, itemHeight: 2 },
    tooltip: {
      trigger: 'axis',
      textStyle: { ...text, color: '#1e2422' },
      valueFormatter: (v: unknown) => `${fixed(Number(v), 2)} V`,
    },
    xAxis: {
      type: 'value',
      name: 'Ah taken out',
      nameLocation: 'middle',
      nameGap: 26,
      nameTextStyle: { ...text, color: soft },
      axisLabel: { color: soft },
      splitLine: { lineStyle: { color: line } },
    },
    yAxis: {
      type: 'value',
      min: Math.floor(low * 0.97),
      nameTextStyle: { ...text, color: soft },
      axisLabel: { color: soft },
      splitLine: { lineStyle: { color: line } },
    },
    series: [
      series('at rest', (p) => p.rest_v, { color: colour('--nickel') }),
      series('usual load, 25 °C', (p) => p.warm_v, { color: colour('--copper') }),
      {
        ...series('usual load, coldest use', (p) => p.cold_v, { color: colour('--petrol') }),
        markLine: {
          symbol: 'none',
          silent: true,
          data: props.curve.cutoff_v == null ? [] : [{ yAxis: props.curve.cutoff_v }],
          lineStyle: { color: ink, type: 'dashed' },
          label: { formatter: 'the run ends', position: 'insideStartTop', color: ink },
        },
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
    aria-label="Volts over the run; the values stand below"
  />
</template>

<style scoped>
.chart {
  height: 300px;
  width: 100%;
}
</style>
