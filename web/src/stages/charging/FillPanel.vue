<script setup lang="ts">
// The charge simulated group by group: who ends it, how the groups come together, what bleeders and board do.
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed, ref } from 'vue'
import VChart from 'vue-echarts'
import type { FillPoint, FillsFrom, FillWhat } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { fixed, show, showFine } from '../../format/show'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import AnswerNote from '../../ui/AnswerNote.vue'
import FoldSection from '../../ui/FoldSection.vue'
import { frame, marks, timeAxis, tooltipText, trace, valueAxis } from '../../ui/chart'

use([LineChart, GridComponent, LegendComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

const { plan } = usePlan()
const from = ref<FillsFrom>('empty')
const { answer: filled, stale, problem } = useAnswer(() => ({ about: 'fill', from: from.value }))

const allRead = computed(() => {
  const pack = plan.value?.packs[0]
  return pack?.series != null && pack.group_v?.length === pack.series
})

const HOUR_S = 3600

const named: Partial<Record<FillWhat, string>> = {
  most_of_it: '80 % in',
  ends: 'ends',
  board_opens: 'board opens',
}

const option = computed(() => {
  const points = filled.value?.points ?? []
  const over = (pick: (p: FillPoint) => number): [number, number][] =>
    points.map((p) => [p.t_s / HOUR_S, pick(p)])
  const happened = (filled.value?.events ?? []).flatMap((e) => {
    const words = named[e.event.what]
    return words ? [{ xAxis: e.event.at_s / HOUR_S, words }] : []
  })
  return {
    ...frame({ left: 52, right: 52, top: 44, bottom: 42 }),
    tooltip: {
      trigger: 'axis',
      textStyle: tooltipText(),
      formatter: (hits: { dataIndex: number }[]) => {
        const p = points[hits[0]?.dataIndex ?? 0]
        return p
          ? `${show(p.t_s, 's')}<br>groups ${fixed(p.weakest_v, 3)} to ${fixed(p.strongest_v, 3)} V<br>` +
              `${show(p.current_a, 'a')}, ${show(p.soc, 'share')} in${p.bled ? `, ${p.bled} bled` : ''}`
          : ''
      },
    },
    xAxis: {
      ...timeAxis('hours', ((points[points.length - 1]?.t_s ?? 0) / HOUR_S) * 1.02),
      splitLine: { show: false },
    },
    yAxis: [
      { ...valueAxis('V per group'), scale: true },
      { ...valueAxis('A'), min: 0, splitLine: { show: false } },
    ],
    series: [
      {
        ...trace(
          'highest group',
          '--copper',
          over((p) => p.strongest_v),
        ),
        markLine: marks(happened),
      },
      trace(
        'lowest group',
        '--copper',
        over((p) => p.weakest_v),
        'dotted',
      ),
      {
        ...trace(
          'current',
          '--petrol',
          over((p) => p.current_a),
        ),
        yAxisIndex: 1,
      },
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
  <FoldSection name="fill" title="How the groups fill" :summary="filled?.says ?? ''" data-testid="fill">
    <p class="lead">Simulated: each group on its own, with charger, supply, balancer and board.</p>
    <AnswerNote :stale="stale" :problem="problem" />
    <p v-if="filled?.missing" class="soft after">{{ filled.missing }}</p>
    <template v-else-if="filled">
      <p v-if="allRead" class="after">
        <label>
          <input v-model="from" type="checkbox" true-value="as_read" false-value="empty" />
          Start from the group voltages that were read, not from empty
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
            >apart at rest afterwards, {{ showFine(filled.apart_before_v) }} before</span
          >
        </li>
        <li v-if="filled.bled_wh > 0">
          <b>{{ show(filled.bled_wh, 'wh') }}</b><span>turned into heat by balancing</span>
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
        aria-label="Voltage of the highest and the lowest group, and current; the values are below"
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
      <p v-if="filled.start_says" class="soft after">{{ filled.start_says }}</p>
      <p v-if="filled.assumed" class="soft after">
        No published curve for this chemistry: voltage is a line through common figures.
      </p>
    </template>
  </FoldSection>
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
