<script setup lang="ts">
// What an adjustable output can give at each voltage, with a full battery and with an empty one, and what limits it.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { OutputLimit, OutputPoint } from '../../api/types'
import { show } from '../../format/show'
import { frame, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{ points: OutputPoint[] }>()

const limits: Record<OutputLimit, string> = {
  output: 'rated output current',
  input: 'rated input current',
  pack: 'current limit of the pack',
  heat: 'heat of the converter',
  voltage: 'voltage out of reach',
}
const first = computed(() => props.points[0])
const last = computed(() => props.points[props.points.length - 1])

const option = computed(() => ({
  ...frame({ left: 44, right: 16, top: 34, bottom: 42 }),
  tooltip: {
    trigger: 'axis',
    textStyle: tooltipText(),
    formatter: (hits: { dataIndex: number }[]) => {
      const p = props.points[hits[0]?.dataIndex ?? 0]
      return p
        ? `${show(p.output_v, 'v')}<br>full: ${show(p.full.current_a, 'a')}, ${limits[p.full.limit]}<br>empty: ${show(p.empty.current_a, 'a')}, ${limits[p.empty.limit]}`
        : ''
    },
  },
  xAxis: { ...timeAxis('output voltage, V'), min: first.value?.output_v, max: last.value?.output_v },
  yAxis: { ...valueAxis('A'), min: 0 },
  series: [
    trace(
      'battery full',
      '--copper',
      props.points.map((p) => [p.output_v, p.full.current_a]),
    ),
    trace(
      'battery empty',
      '--petrol',
      props.points.map((p) => [p.output_v, p.empty.current_a]),
      'dashed',
    ),
  ],
}))
</script>

<template>
  <section v-if="first && last" class="section" data-testid="output-map">
    <h2>Current at each output voltage</h2>
    <VChart
      class="chart"
      :option="option"
      autoresize
      role="img"
      aria-label="Largest output current over the output voltage; both ends are in the table below"
    />
    <table class="values">
      <thead>
        <tr>
          <th>Output</th>
          <th class="n">Battery full</th>
          <th>Limited by</th>
          <th class="n">Battery empty</th>
          <th>Limited by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in [first, last]" :key="p.output_v">
          <td>{{ show(p.output_v, 'v') }}</td>
          <td class="n">{{ show(p.full.current_a, 'a') }}</td>
          <td>{{ limits[p.full.limit] }}</td>
          <td class="n">{{ show(p.empty.current_a, 'a') }}</td>
          <td>{{ limits[p.empty.limit] }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.chart {
  height: 240px;
  width: 100%;
}
</style>
