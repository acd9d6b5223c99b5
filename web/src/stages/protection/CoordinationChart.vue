<script setup lang="ts">
// Time against current, both on logarithmic scales: what opens, what is harmed, and the currents of the device.
import { computed } from 'vue'
import type { Coordination, TimeCurve } from '../../api/types'
import { show } from '../../format/show'

const props = defineProps<{ chart: Coordination }>()

const [WIDTH, HEIGHT] = [720, 430]
const [LEFT, RIGHT, TOP, BOTTOM] = [64, 16, 14, 46]
/** Longest and shortest time drawn, in seconds. */
const [LONG_S, SHORT_S] = [1e5, 1e-4]

const log = Math.log10
const x = (a: number) =>
  LEFT +
  ((log(a) - log(props.chart.current_from_a)) /
    (log(props.chart.current_to_a) - log(props.chart.current_from_a))) *
    (WIDTH - LEFT - RIGHT)
const y = (s: number) =>
  TOP +
  ((log(LONG_S) - log(Math.min(LONG_S, Math.max(SHORT_S, s)))) / (log(LONG_S) - log(SHORT_S))) *
    (HEIGHT - TOP - BOTTOM)

const amperes = computed(() => {
  const found = []
  for (let decade = -2; decade <= 4; decade++) {
    for (const n of [1, 2, 5]) {
      const a = n * 10 ** decade
      if (a >= props.chart.current_from_a && a <= props.chart.current_to_a) found.push(a)
    }
  }
  return found
})
const times = [
  [1e5, '1 day'],
  [3600, '1 h'],
  [60, '1 min'],
  [1, '1 s'],
  [0.1, '0.1 s'],
  [0.01, '10 ms'],
  [0.001, '1 ms'],
  [0.0001, '0.1 ms'],
] as const

const place = (a: number, s: number) => `${x(a).toFixed(1)} ${y(s).toFixed(1)}`
const acts = computed(() => props.chart.curves.filter((c) => c.kind === 'acts'))
const limits = computed(() => props.chart.curves.filter((c) => c.kind === 'withstands'))
const inside = (c: TimeCurve) =>
  c.holds_a >= props.chart.current_from_a && c.holds_a <= props.chart.current_to_a

/** Between the time it holds for sure and that after which it has opened for sure. */
function band(c: TimeCurve): string {
  const sure = c.points.filter((p) => p.most_s != null)
  if (!sure.length) return ''
  const upper = sure.map((p) => place(p.current_a, p.most_s ?? LONG_S))
  const lower = sure.map((p) => place(p.current_a, p.least_s)).reverse()
  return `M${[...upper, ...lower].join(' L')} Z`
}
function least(c: TimeCurve): string {
  return c.points.length ? `M${c.points.map((p) => place(p.current_a, p.least_s)).join(' L')}` : ''
}
/** A limit goes straight up where it is borne for good. */
function limit(c: TimeCurve): string {
  const first = c.points[0]
  if (!first) return `M${place(c.holds_a, LONG_S)} V${y(SHORT_S).toFixed(1)}`
  return `M${place(c.holds_a, LONG_S)} L${c.points.map((p) => place(p.current_a, p.least_s)).join(' L')}`
}
</script>

<template>
  <div class="plot" tabindex="0" role="region" aria-label="Time-current chart">
    <svg
      :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
      role="img"
      aria-label="Time against current of every part in the path; the table below says the same in words"
    >
      <g class="grid">
        <template v-for="a in amperes" :key="a">
          <path :d="`M${x(a)} ${TOP} V${HEIGHT - BOTTOM}`" />
          <text :x="x(a)" :y="HEIGHT - BOTTOM + 18" text-anchor="middle">{{ show(a, 'a') }}</text>
        </template>
        <template v-for="[s, words] in times" :key="s">
          <path :d="`M${LEFT} ${y(s)} H${WIDTH - RIGHT}`" />
          <text :x="LEFT - 8" :y="y(s) + 4" text-anchor="end">{{ words }}</text>
        </template>
      </g>
      <g v-for="(c, i) in acts" :key="c.id" :class="`acts acts-${i % 2}`" :data-curve="c.id">
        <path class="band" :d="band(c)" />
        <path class="edge" :d="least(c)" />
      </g>
      <path
        v-for="(c, i) in limits.filter(inside)"
        :key="c.id"
        :class="`limits limit-${i % 6}`"
        :data-curve="c.id"
        :d="limit(c)"
      />
      <path v-if="chart.short_a" class="short" :d="`M${x(chart.short_a)} ${TOP} V${HEIGHT - BOTTOM}`" />
      <g v-for="l in chart.levels" :key="l.name" class="level">
        <path :d="`M${x(l.current_a)} ${HEIGHT - BOTTOM} V${y(l.duration_s ?? LONG_S)}`" />
        <circle :cx="x(l.current_a)" :cy="y(l.duration_s ?? LONG_S)" r="5" />
      </g>
    </svg>
    <ul class="legend">
      <li v-for="(c, i) in acts" :key="c.id">
        <svg viewBox="0 0 34 14" aria-hidden="true">
          <g :class="`acts acts-${i % 2}`">
            <path class="band" d="M0 1 H34 V13 H0 Z" />
            <path class="edge" d="M0 13 H34" />
          </g>
        </svg>
        {{ c.label }} opens
      </li>
      <li v-for="(c, i) in limits.filter(inside)" :key="c.id">
        <svg viewBox="0 0 34 14" aria-hidden="true">
          <path :class="`limits limit-${i % 6}`" d="M0 7 H34" />
        </svg>
        {{ c.label }}, {{ show(c.holds_a, 'a') }} continuous
      </li>
      <li>
        <svg viewBox="0 0 34 14" aria-hidden="true">
          <g class="level">
            <path d="M17 14 V5" />
            <circle cx="17" cy="5" r="4" />
          </g>
        </svg>
        what the device draws, and how long
      </li>
      <li v-if="chart.short_a">
        <svg viewBox="0 0 34 14" aria-hidden="true"><path class="short" d="M17 0 V14" /></svg>
        a dead short, {{ show(chart.short_a, 'a') }}
      </li>
    </ul>
  </div>
</template>

<style scoped>
.plot {
  overflow-x: auto;
}

.plot > svg {
  display: block;
  width: 100%;
  min-width: 560px;
  max-width: 860px;
  background: var(--sheet);
  border: 1px solid var(--line);
}

.grid path {
  stroke: var(--line);
  fill: none;
}

.grid text {
  fill: var(--soft);
  font-size: 12px;
}

.acts .band {
  stroke: none;
  fill-opacity: 0.28;
}

.acts .edge {
  fill: none;
  stroke-width: 2.5;
}

.acts-0 .band {
  fill: var(--copper);
}

.acts-0 .edge {
  stroke: var(--copper);
}

.acts-1 .band {
  fill: var(--petrol);
}

.acts-1 .edge {
  stroke: var(--petrol);
}

.limits {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}

.limit-0 {
  stroke: var(--fine);
  stroke-dasharray: 8 3;
}

.limit-1 {
  stroke: var(--nickel);
  stroke-width: 3;
}

.limit-2 {
  stroke-dasharray: 2 3;
}

.limit-3 {
  stroke: var(--note);
}

.limit-4 {
  stroke: var(--caution);
  stroke-dasharray: 10 3 2 3;
}

.limit-5 {
  stroke: var(--note);
  stroke-dasharray: 4 4;
}

.short {
  stroke: var(--stop);
  stroke-width: 2.5;
  fill: none;
}

.level path {
  stroke: var(--ink);
  stroke-dasharray: 1 4;
  fill: none;
}

.level circle {
  fill: var(--ink);
  stroke: var(--sheet);
  stroke-width: 2;
}

.legend {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  columns: 2 260px;
  font-size: 14px;
}

.legend svg {
  width: 34px;
  height: 14px;
  vertical-align: -2px;
  margin-right: 6px;
}
</style>
