<script setup lang="ts">
// A lot looked at as a whole: what stands against it, how its cells are spread, which are to be scrapped and why.
import { ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { CellRow, CellVerdict, LotInspection, Point } from '../api/types'
import { saveCsv } from '../format/csv'
import { show } from '../format/show'
import { useStock } from '../state/stock'
import VerdictMark from '../ui/VerdictMark.vue'
import JudgementCard from './JudgementCard.vue'
import SpreadPlots from './SpreadPlots.vue'
import { verdictOrder, verdictShape, verdictWords } from './words'

/** Cells to be scrapped, recovered or watched that are listed; the table of all cells has every one. */
const LISTED = 60

const router = useRouter()
const { lots, lotId, cellId, change } = useStock()

const inspection = shallowRef<LotInspection | null>(null)
const points = shallowRef<Point[]>([])
const bad = shallowRef<CellRow[]>([])
const badTotal = ref(0)

watch(
  [lotId, change],
  async () => {
    const lot = lotId.value ?? undefined
    const [one, spread, worst] = await Promise.all([
      lot ? api.lot(lot) : null,
      api.points(lot),
      api.cells({ lot, sort: 'verdict', descending: true, limit: LISTED }),
    ])
    if (lot !== (lotId.value ?? undefined)) return
    inspection.value = one?.ok ? one.value : null
    points.value = spread.ok ? spread.value : []
    const rows = worst.ok ? worst.value.rows : []
    bad.value = rows.filter((r) => ['scrap', 'recover', 'watch'].includes(r.verdict))
  },
  { immediate: true },
)
watch(
  [lots, lotId],
  () => {
    const of = (lots.value ?? []).filter((l) => !lotId.value || l.id === lotId.value)
    badTotal.value = of.reduce(
      (sum, l) => sum + (l.verdicts[2] ?? 0) + (l.verdicts[3] ?? 0) + (l.verdicts[4] ?? 0),
      0,
    )
  },
  { immediate: true },
)

const typical = (value: number | null | undefined, unit: 'ohm' | 'ah' | 'v') =>
  value == null ? '–' : show(value, unit)

function csv(): void {
  saveCsv(
    'spread',
    ['label', 'capacity_ah', 'resistance_ohm', 'verdict'],
    points.value.map((p) => [p.label, p.capacity_ah, p.resistance_ohm, p.verdict]),
  )
}

function toTable(): void {
  void router.push({ name: 'stock', query: { lot: lotId.value ?? undefined } })
}
</script>

<template>
  <header>
    <h2>{{ inspection?.summary.lot.name ?? 'The whole stock' }}</h2>
    <p v-if="inspection" class="lead">
      <template v-for="(n, i) in inspection.report.counts" :key="i">
        <span v-if="n" class="count">
          <VerdictMark :verdict="verdictShape[verdictOrder[i]!]" :size="15" /> {{ n }}
          {{ verdictWords[verdictOrder[i]!] }}
        </span>
      </template>
    </p>
    <p v-else class="lead">Choose a lot on the left to see what is wrong with it as a whole.</p>
  </header>
  <div class="two">
    <div>
      <template v-if="inspection">
        <JudgementCard v-for="(j, i) in inspection.report.judgements" :key="i" :judgement="j" />
        <p v-if="!inspection.report.judgements.length" class="soft">Nothing wrong with the lot as a whole.</p>
        <p v-if="inspection.packs.length" class="after" data-testid="lot-packs">
          Cells of it are in
          <template v-for="(pack, i) in inspection.packs" :key="pack.id"
            >{{ i ? ', ' : ''
            }}<router-link :to="{ name: 'pack', params: { id: pack.id } }"
              >pack {{ pack.number }}, {{ pack.name }}</router-link
            >
            ({{ pack.cells }})</template
          >: problems of this lot concern them too.
        </p>
        <table class="typical after">
          <thead>
            <tr>
              <th scope="col"><span class="visually-hidden">Reading</span></th>
              <th scope="col">median</th>
              <th scope="col">MAD</th>
              <th scope="col">cells</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row">Capacity</th>
              <td>{{ typical(inspection.report.capacity.median_value, 'ah') }}</td>
              <td>{{ typical(inspection.report.capacity.mad_value, 'ah') }}</td>
              <td>{{ inspection.report.capacity.cells }}</td>
            </tr>
            <tr>
              <th scope="row">Resistance</th>
              <td>{{ typical(inspection.report.resistance.median_value, 'ohm') }}</td>
              <td>{{ typical(inspection.report.resistance.mad_value, 'ohm') }}</td>
              <td>{{ inspection.report.resistance.cells }}</td>
            </tr>
            <tr>
              <th scope="row">Lost per day</th>
              <td>{{ typical(inspection.report.lost_a_day.median_value, 'v') }}</td>
              <td>{{ typical(inspection.report.lost_a_day.mad_value, 'v') }}</td>
              <td>{{ inspection.report.lost_a_day.cells }}</td>
            </tr>
            <tr>
              <th scope="row">Voltage on arrival</th>
              <td>{{ typical(inspection.report.arrival.median_value, 'v') }}</td>
              <td>{{ typical(inspection.report.arrival.mad_value, 'v') }}</td>
              <td>{{ inspection.report.arrival.cells }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <section class="section" data-testid="bad-cells">
        <h2>Scrap, recover, watch</h2>
        <p v-if="!bad.length" class="soft">No cell stands out.</p>
        <ul class="bad">
          <li v-for="r in bad" :key="r.id">
            <VerdictMark :verdict="verdictShape[r.verdict as CellVerdict]" :size="15" />
            <button type="button" class="textlink" @click="cellId = r.id">{{ r.label }}</button>
            <span>{{ r.reason.toLowerCase() }}</span>
          </li>
        </ul>
        <button v-if="badTotal > bad.length" type="button" class="textlink" @click="toTable">
          {{ badTotal - bad.length }} more in the table
        </button>
      </section>
    </div>
    <div>
      <SpreadPlots v-if="points.length" :points="points" @open="cellId = $event" />
      <p v-else class="soft">Capacity and resistance are drawn here once they are measured.</p>
      <button v-if="points.length" type="button" class="textlink soft" @click="csv">The values as CSV</button>
    </div>
  </div>
</template>

<style scoped>
header {
  margin-bottom: 14px;
}

.count {
  display: inline-flex;
  gap: 5px;
  align-items: center;
  margin-right: 14px;
}

.two {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 6fr);
  gap: 28px;
}

.typical {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}

.typical th,
.typical td {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  text-align: right;
  font-weight: 400;
}

.typical tbody th {
  text-align: left;
}

.bad {
  list-style: none;
  padding: 0;
  margin: 0;
  columns: 2 190px;
  font-size: 14px;
}

.bad li {
  display: flex;
  gap: 7px;
  align-items: baseline;
  break-inside: avoid;
  padding: 3px 0;
}

.bad svg {
  align-self: center;
}

.bad button {
  flex: none;
}

@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
