<script setup lang="ts">
// The first charge: predicted as thin lines, what was read as points on thick ones.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { ChargeWatch } from '../api/types'
import { frame, timeAxis, tooltipText, trace, valueAxis } from '../ui/chart'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{ watch: ChargeWatch }>()

const HOUR_S = 3600

const option = computed(() => {
  const { predicted, lines } = props.watch
  const from = Math.min(0, lines[0]?.after_s ?? 0)
  const ahead = predicted.filter((p) => p.t_s >= from)
  const volts = [...ahead.map((p) => p.pack_v), ...lines.flatMap((l) => l.pack_v ?? [])]
  const read = (name: string, tone: string, data: [number, number | null | undefined][]) => ({
    ...trace(name, tone, data),
    showSymbol: true,
    symbolSize: 8,
    connectNulls: true,
  })
  return {
    ...frame({ left: 52, right: 46, top: 62, bottom: 42 }),
    tooltip: { trigger: 'axis', textStyle: tooltipText(), valueFormatter: (v: unknown) => String(v ?? '') },
    xAxis: timeAxis('hours since it was connected'),
    yAxis: [
      { ...valueAxis('V'), min: volts.length ? Math.floor(Math.min(...volts)) : undefined },
      { ...valueAxis('A'), min: 0, splitLine: { show: false } },
    ],
    series: [
      trace(
        'voltage, predicted',
        '--copper',
        ahead.map((p) => [p.t_s / HOUR_S, p.pack_v]),
        'dotted',
        1.5,
      ),
      read(
        'voltage, measured',
        '--copper',
        lines.map((l) => [l.after_s / HOUR_S, l.pack_v]),
      ),
      {
        ...trace(
          'current, predicted',
          '--petrol',
          ahead.map((p) => [p.t_s / HOUR_S, p.current_a]),
          'dotted',
          1.5,
        ),
        yAxisIndex: 1,
      },
      {
        ...read(
          'current, measured',
          '--petrol',
          lines.map((l) => [l.after_s / HOUR_S, l.current_a]),
        ),
        yAxisIndex: 1,
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
    aria-label="Voltage and current of the first charge, predicted and measured; the readings are in the table"
  />
</template>

<style scoped>
.chart {
  height: 260px;
  width: 100%;
}
</style>
