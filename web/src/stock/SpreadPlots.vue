<script setup lang="ts">
// How the cells are spread: capacity against resistance, and each for itself. A click on a point opens its cell.
import { BarChart, ScatterChart } from 'echarts/charts'
import { GridComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { CellVerdict, Point } from '../api/types'
import { plain, show } from '../format/show'
import { theme } from '../state/preferences'
import { verdictOrder, verdictWords } from './words'

use([BarChart, ScatterChart, GridComponent, TooltipComponent, SVGRenderer])

const props = defineProps<{ points: Point[] }>()
const emit = defineEmits<{ open: [id: string] }>()

const BARS = 24
const MILLI = 1000

const colour = (name: string) =>
  // Read again when the theme changes: a chart cannot follow style variables by itself.
  theme.value && getComputedStyle(document.documentElement).getPropertyValue(name)

const look: Record<CellVerdict, { colour: string; symbol: string }> = {
  unfinished: { colour: '--nickel', symbol: 'emptyCircle' },
  fine: { colour: '--fine', symbol: 'circle' },
  watch: { colour: '--note', symbol: 'diamond' },
  recover: { colour: '--caution', symbol: 'triangle' },
  scrap: { colour: '--stop', symbol: 'rect' },
}

const both = computed(() => props.points.filter((p) => p.capacity_ah != null && p.resistance_ohm != null))
const present = computed(() => verdictOrder.filter((v) => both.value.some((p) => p.verdict === v)))

function base() {
  const text = { fontFamily: 'Atkinson Hyperlegible Next', color: colour('--ink'), fontSize: 13 }
  const soft = colour('--soft')
  const axis = (name: string) => ({
    type: 'value',
    name,
    nameLocation: 'middle',
    nameGap: 26,
    scale: true,
    nameTextStyle: { ...text, color: soft },
    axisLabel: { color: soft },
    splitLine: { lineStyle: { color: colour('--line') } },
  })
  const tooltip = (formatter: unknown) => ({
    trigger: 'item',
    textStyle: { ...text, color: '#1e2422' },
    formatter,
  })
  return { text, axis, tooltip }
}

const scatter = computed(() => {
  const { text, axis, tooltip } = base()
  return {
    animation: false,
    textStyle: text,
    grid: { left: 52, right: 14, top: 12, bottom: 44 },
    tooltip: tooltip((p: { data: { point: Point } }) => {
      const { point } = p.data
      return `${point.label}: ${show(point.capacity_ah!, 'ah')}, ${show(point.resistance_ohm!, 'ohm')}, ${verdictWords[point.verdict as CellVerdict]}`
    }),
    xAxis: axis('Resistance, mΩ'),
    yAxis: { ...axis('Capacity, Ah'), nameGap: 38 },
    series: present.value.map((v) => ({
      name: verdictWords[v],
      type: 'scatter',
      symbol: look[v].symbol,
      symbolSize: v === 'fine' ? 8 : 11,
      itemStyle: { color: colour(look[v].colour), opacity: 0.85 },
      data: both.value
        .filter((p) => p.verdict === v)
        .map((point) => ({ value: [point.resistance_ohm! * MILLI, point.capacity_ah!], point })),
    })),
  }
})

/** Counts in bars of equal width: only for the eye. */
function bars(values: number[], name: string) {
  const { text, axis, tooltip } = base()
  const low = Math.min(...values)
  const width = (Math.max(...values) - low) / BARS || 1
  const counts = new Array<number>(BARS).fill(0)
  for (const v of values) counts[Math.min(BARS - 1, Math.floor((v - low) / width))]!++
  return {
    animation: false,
    textStyle: text,
    grid: { left: 34, right: 14, top: 10, bottom: 44 },
    tooltip: tooltip(
      (p: { value: [number, number] }) =>
        `${p.value[1]} from ${plain(p.value[0] - width / 2, 2)} to ${plain(p.value[0] + width / 2, 2)}`,
    ),
    xAxis: axis(name),
    yAxis: { ...axis(''), minInterval: 1 },
    series: [
      {
        type: 'bar',
        barWidth: '92%',
        itemStyle: { color: colour('--petrol') },
        data: counts.map((n, i) => [low + (i + 0.5) * width, n]),
      },
    ],
  }
}

const capacities = computed(() => props.points.flatMap((p) => (p.capacity_ah == null ? [] : [p.capacity_ah])))
const resistances = computed(() =>
  props.points.flatMap((p) => (p.resistance_ohm == null ? [] : [p.resistance_ohm * MILLI])),
)

function clicked(event: { data?: unknown }): void {
  const point = (event.data as { point?: Point } | null)?.point
  if (point) emit('open', point.id)
}
</script>

<template>
  <template v-if="both.length">
    <h3>Capacity against resistance</h3>
    <p class="legend soft">
      <span v-for="v in present" :key="v"><i :class="[v, look[v].symbol]" />{{ verdictWords[v] }}</span>
    </p>
    <VChart
      class="scatter"
      :option="scatter"
      autoresize
      role="img"
      aria-label="Capacity against resistance of every cell; the values stand in the table of cells"
      @click="clicked"
    />
  </template>
  <div class="pair">
    <div v-if="capacities.length">
      <h3>Capacity</h3>
      <VChart
        class="bars"
        :option="bars(capacities, 'Ah')"
        autoresize
        role="img"
        aria-label="How many cells have which capacity"
      />
    </div>
    <div v-if="resistances.length">
      <h3>Resistance</h3>
      <VChart
        class="bars"
        :option="bars(resistances, 'mΩ')"
        autoresize
        role="img"
        aria-label="How many cells have which resistance"
      />
    </div>
  </div>
</template>

<style scoped>
.scatter {
  height: 300px;
}

.bars {
  height: 180px;
}

.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 12px;
}

.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 4px;
}

.legend i {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  border-radius: 50%;
}

.legend .unfinished {
  border: 2px solid var(--nickel);
}

.legend .fine {
  background: var(--fine);
}

.legend .watch {
  background: var(--note);
  border-radius: 0;
  transform: rotate(45deg) scale(0.85);
}

.legend .recover {
  background: var(--caution);
  border-radius: 0;
  clip-path: polygon(50% 0, 100% 100%, 0 100%);
}

.legend .scrap {
  background: var(--stop);
  border-radius: 0;
}

@media (max-width: 600px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
