<script setup lang="ts">
// The stock as a table that thousands of cells do not slow down, and the bench where one reading follows the other.
import { mdiArrowDown, mdiArrowUp, mdiTrayArrowDown, mdiTrayArrowUp } from '@mdi/js'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { api, files } from '../api/client'
import type { CellQuery, CellRow, CellState, CellVerdict, Problem } from '../api/types'
import { fixed, show } from '../format/show'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import ImportDialog from './ImportDialog.vue'
import ReadingBar from './ReadingBar.vue'
import { reading, typedReadings } from './readingMode'
import TesterDialog from './TesterDialog.vue'
import { useCellWindow } from './useCellWindow'
import { stateWords, verdictOrder, verdictShape, verdictWords } from './words'

const ROW = 40
const BESIDE = 8
const MOST_AT_ONCE = 500

const { lotId, cellId, change, changed } = useStock()

const search = ref('')
const state = ref<CellState | null>(null)
const verdict = ref<CellVerdict | null>(null)
const sort = ref('label')
const descending = ref(false)
const filter = computed<CellQuery>(() => ({
  lot: lotId.value ?? undefined,
  state: state.value ?? undefined,
  verdict: verdict.value ?? undefined,
  search: search.value || undefined,
  sort: sort.value,
  descending: descending.value,
}))
const { total, problem: away, look, row } = useCellWindow(filter, change)

const box = ref<HTMLElement>()
const top = ref(0)
const height = ref(400)
const first = computed(() => Math.max(0, Math.floor(top.value / ROW) - BESIDE))
const last = computed(() => Math.min(total.value - 1, Math.ceil((top.value + height.value) / ROW) + BESIDE))
const shown = computed(() => {
  const indexes = []
  for (let i = first.value; i <= last.value; i++) indexes.push(i)
  return indexes
})
watch([first, last], () => look(first.value, Math.max(first.value, last.value)), { immediate: true })
watch(filter, () => {
  if (box.value) box.value.scrollTop = 0
  picked.value = new Set()
})

function scrolled(): void {
  if (!box.value) return
  top.value = box.value.scrollTop
  height.value = box.value.clientHeight
}
onMounted(() => {
  scrolled()
  new ResizeObserver(scrolled).observe(box.value!)
})

const columns = [
  { name: 'verdict', title: '', sr: 'Verdict' },
  { name: 'label', title: 'Label' },
  { name: 'arrival_v', title: 'Volts' },
  { name: 'resistance_ohm', title: 'Resistance' },
  { name: 'capacity_ah', title: 'Capacity' },
  { name: 'lost_a_day_v', title: 'Lost a day' },
  { name: 'state', title: 'State' },
] as const

function sortBy(name: string): void {
  descending.value = sort.value === name && !descending.value
  sort.value = name
}

watch(
  () => reading.kind,
  (kind) => {
    if (!kind) return
    sort.value = 'label'
    descending.value = false
  },
)

const v = (value: number | null | undefined, unit: 'v' | 'ohm' | 'ah') =>
  value == null ? '–' : show(value, unit)

// Readings: typed texts by cell until they are kept, and what was kept just now.
const typed = ref<Record<string, string>>({})
const refused = ref<{ id: string; problem: Problem } | null>(null)
const kept = ref<Record<string, string>>({})

async function keep(at: number, texts: string[]): Promise<void> {
  const kind = reading.kind
  if (!kind) return
  const cells: CellRow[] = []
  for (let i = 0; i < texts.length; i++) {
    const cell = row(at + i)
    if (!cell) break
    cells.push(cell)
  }
  if (!cells.length) return
  const entries = cells.map((cell, i) => ({ cell: cell.id, text: texts[i]! }))
  const answer = await api.typeReadings(typedReadings(kind, entries))
  if (!answer.ok) {
    // Which line of a paste is wrong is said with the label of its cell.
    const errors = answer.problem.errors.map((e) => {
      const line = /^\/entries\/(\d+)\//.exec(e.field)
      const label = line && cells.length > 1 ? `${cells[Number(line[1])]!.label}: ` : ''
      return { ...e, message: label + e.message }
    })
    refused.value = { id: cells[0]!.id, problem: { ...answer.problem, errors } }
    return
  }
  refused.value = null
  cells.forEach((cell, i) => {
    kept.value[cell.id] = texts[i]!
    typed.value[cell.id] = ''
  })
  void changed()
  await goTo(at + cells.length)
}

/** Puts the cursor into the field of a row, scrolled into view. */
async function goTo(i: number): Promise<void> {
  if (i >= total.value || !box.value) return
  const y = i * ROW
  if (y < box.value.scrollTop || y + ROW * 2 > box.value.scrollTop + box.value.clientHeight)
    box.value.scrollTop = Math.max(0, y - box.value.clientHeight / 2)
  await nextTick()
  for (let tries = 0; tries < 30; tries++) {
    const field = box.value.querySelector<HTMLInputElement>(`[data-row="${i}"] input.value`)
    if (field) {
      field.focus()
      return
    }
    await new Promise((done) => setTimeout(done, 30))
  }
}

function keys(event: KeyboardEvent, i: number, cell: CellRow): void {
  if (event.key === 'Enter') {
    event.preventDefault()
    const text = typed.value[cell.id]?.trim()
    if (text) void keep(i, [text])
    else void goTo(i + 1)
  } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    void goTo(Math.max(0, i + (event.key === 'ArrowDown' ? 1 : -1)))
  }
}

/** A pasted column fills the rows from here downwards: all of it or nothing. */
function pasted(event: ClipboardEvent, i: number): void {
  const text = event.clipboardData?.getData('text') ?? ''
  const lines = text.replace(/\r?\n$/, '').split(/\r?\n/)
  if (lines.length < 2) return
  event.preventDefault()
  void keep(
    i,
    lines.map((l) => l.split('\t')[0]!.trim()),
  )
}

// Cells picked for a change of state.
const picked = ref<Set<string>>(new Set())
const note = ref('')
const stateProblem = ref<Problem | null>(null)

function pick(id: string): void {
  const next = new Set(picked.value)
  if (!next.delete(id)) next.add(id)
  picked.value = next
}

async function become(next: CellState): Promise<void> {
  const answer = await api.changeStates([...picked.value], next, note.value)
  stateProblem.value = answer.ok ? null : answer.problem
  if (!answer.ok) return
  picked.value = new Set()
  note.value = ''
  await changed()
}

const importing = ref(false)
const measuring = ref(false)

/** Picks every cell under the filter. */
async function pickAll(): Promise<void> {
  const all: string[] = []
  for (let offset = 0; offset < total.value; offset += MOST_AT_ONCE) {
    const answer = await api.cells({ ...filter.value, offset, limit: MOST_AT_ONCE })
    if (!answer.ok) return
    all.push(...answer.value.rows.map((r) => r.id))
  }
  picked.value = new Set(all)
}
const states = [
  { value: null, title: 'any state' },
  ...Object.entries(stateWords).map(([value, title]) => ({ value, title })),
]
const verdicts = [
  { value: null, title: 'any verdict' },
  ...verdictOrder.map((value) => ({ value, title: verdictWords[value] })),
]
</script>

<template>
  <div class="cells">
    <ReadingBar />
    <div class="tools">
      <v-text-field
        v-model="search"
        class="search"
        label="Find a label"
        clearable
        @click:clear="search = ''"
      />
      <v-select v-model="verdict" label="Verdict" :items="verdicts" />
      <v-select v-model="state" label="State" :items="states" />
      <span class="soft count" data-testid="total">{{ total }} {{ total === 1 ? 'cell' : 'cells' }}</span>
      <span class="files">
        <v-btn :prepend-icon="mdiTrayArrowUp" @click="importing = true">Take in a table</v-btn>
        <v-menu>
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" :prepend-icon="mdiTrayArrowDown">Give out</v-btn>
          </template>
          <v-list density="compact">
            <v-list-item title="One line a cell (CSV)" :href="files.cells(lotId)" />
            <v-list-item title="One line a reading (CSV)" :href="files.readings(lotId)" />
          </v-list>
        </v-menu>
      </span>
    </div>
    <div v-if="picked.size" class="picked" role="toolbar" aria-label="Picked cells">
      <b>{{ picked.size }} picked</b>
      <v-text-field v-model="note" label="Why, for the history" maxlength="400" />
      <v-btn size="small" color="primary" variant="flat" @click="measuring = true">Measure on a tester</v-btn>
      <v-btn size="small" @click="become('retired')">Retire</v-btn>
      <v-btn size="small" @click="become('tested')">Take back</v-btn>
      <v-btn size="small" @click="become('built_in')">Built in</v-btn>
      <v-btn size="small" variant="text" @click="picked = new Set()">None</v-btn>
      <ProblemList v-if="stateProblem" class="why" :problem="stateProblem" />
    </div>
    <ProblemList v-if="away" :problem="away" />
    <ProblemList v-if="refused" :problem="refused.problem" data-testid="refused" />
    <div
      ref="box"
      class="table"
      :class="{ reads: reading.kind }"
      :data-reads="reading.kind"
      role="table"
      :aria-rowcount="total + 1"
      aria-label="Cells"
      tabindex="0"
      @scroll.passive="scrolled"
    >
      <div class="row head" role="row">
        <span role="columnheader">
          <input
            type="checkbox"
            :checked="picked.size > 0 && picked.size === total"
            aria-label="Pick all"
            @change="picked.size ? (picked = new Set()) : pickAll()"
          />
        </span>
        <span
          v-for="c in columns"
          :key="c.name"
          role="columnheader"
          :class="c.name"
          :aria-sort="sort === c.name ? (descending ? 'descending' : 'ascending') : 'none'"
        >
          <button type="button" @click="sortBy(c.name)">
            <span v-if="'sr' in c" class="visually-hidden">{{ c.sr }}</span>
            <span v-else>{{ c.title }}</span>
            <v-icon v-if="sort === c.name" :icon="descending ? mdiArrowDown : mdiArrowUp" size="14" />
          </button>
        </span>
        <span v-if="reading.kind" role="columnheader">Reading</span>
        <span role="columnheader" class="why">Worst of it</span>
      </div>
      <div class="rows" role="rowgroup" :style="{ height: `${total * ROW}px` }">
        <div
          v-for="i in shown"
          :key="i"
          class="row"
          role="row"
          :aria-rowindex="i + 2"
          :data-row="i"
          :class="{ here: row(i)?.id === cellId, gone: row(i)?.state === 'retired' }"
          :style="{ top: `${i * ROW}px` }"
        >
          <template v-if="row(i)">
            <span role="cell">
              <input
                type="checkbox"
                :checked="picked.has(row(i)!.id)"
                :aria-label="`Pick ${row(i)!.label}`"
                @change="pick(row(i)!.id)"
              />
            </span>
            <span role="cell" class="verdict">
              <VerdictMark :verdict="verdictShape[row(i)!.verdict as CellVerdict]" :size="16" />
            </span>
            <span role="cell" class="label">
              <button type="button" class="textlink" @click="cellId = row(i)!.id">{{ row(i)!.label }}</button>
            </span>
            <span role="cell" class="arrival_v">{{
              row(i)!.arrival_v == null ? '–' : `${fixed(row(i)!.arrival_v!, 3)} V`
            }}</span>
            <span role="cell" class="resistance_ohm">{{ v(row(i)!.resistance_ohm, 'ohm') }}</span>
            <span role="cell" class="capacity_ah">{{ v(row(i)!.capacity_ah, 'ah') }}</span>
            <span role="cell" class="lost_a_day_v">{{ v(row(i)!.lost_a_day_v, 'v') }}</span>
            <span role="cell" class="state" :title="row(i)!.plan ?? undefined">{{
              stateWords[row(i)!.state as CellState]
            }}</span>
            <span v-if="reading.kind" role="cell" class="entry">
              <input
                v-model="typed[row(i)!.id]"
                class="value mono"
                type="text"
                autocomplete="off"
                :aria-label="`Reading of ${row(i)!.label}`"
                :aria-invalid="refused?.id === row(i)!.id"
                :placeholder="kept[row(i)!.id] ? `kept ${kept[row(i)!.id]}` : ''"
                @keydown="keys($event, i, row(i)!)"
                @paste="pasted($event, i)"
              />
            </span>
            <span role="cell" class="why">
              {{ row(i)!.reason || verdictWords[row(i)!.verdict as CellVerdict] }}
              <span v-if="row(i)!.keep_with" class="soft">· with {{ row(i)!.keep_with }}</span>
            </span>
          </template>
        </div>
      </div>
    </div>
    <ImportDialog v-model="importing" />
    <TesterDialog v-model="measuring" :cells="[...picked]" />
  </div>
</template>

<style scoped>
.cells {
  container-type: inline-size;
  display: flex;
  flex-direction: column;
  gap: 10px;
  height: 100%;
}

.tools,
.picked {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.tools > .v-input,
.picked > .v-input {
  flex: 1 1 120px;
}

.count {
  white-space: nowrap;
}

.picked {
  padding: 8px 10px;
  background: var(--petrol-tint);
}

.picked .why {
  flex-basis: 100%;
}

.files {
  display: flex;
  gap: 8px;
}

.table {
  flex: 1;
  min-height: 280px;
  overflow: auto;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}

.row {
  display: grid;
  grid-template-columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 88px 68px minmax(120px, 2fr);
  gap: 12px;
  align-items: center;
  height: 40px;
  padding: 0 10px;
  border-bottom: 1px solid var(--line);
}

.reads .row {
  grid-template-columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 88px 68px 128px minmax(80px, 1.4fr);
}

.head {
  position: sticky;
  top: 0;
  z-index: 1;
  background: var(--sheet);
  border-bottom-color: var(--line-strong);
  font-weight: 600;
}

.head button {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  padding: 4px 0;
  cursor: pointer;
  min-width: 24px;
  min-height: 24px;
}

.rows {
  position: relative;
}

.rows .row {
  position: absolute;
  left: 0;
  right: 0;
}

.row.here {
  background: var(--petrol-tint);
}

.row.gone {
  color: var(--soft);
}

.arrival_v,
.resistance_ohm,
.capacity_ah,
.lost_a_day_v {
  text-align: right;
  white-space: nowrap;
}

.label,
.why {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.value {
  width: 100%;
  height: 32px;
  padding: 0 8px;
  font-size: 17px;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}

.value::placeholder {
  color: var(--fine);
  font-size: 14px;
  opacity: 1;
}

.value[aria-invalid='true'] {
  border: 2px solid var(--stop);
}

input[type='checkbox'] {
  width: 18px;
  height: 18px;
  accent-color: var(--petrol);
}

/* Beside an open cell there is no room for everything: its sheet tells the rest. */
@container (max-width: 800px) {
  .row {
    grid-template-columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px minmax(110px, 1.6fr);
  }

  .reads .row {
    grid-template-columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 128px;
  }

  .row > .lost_a_day_v,
  .row > .state,
  .reads .row > .why {
    display: none;
  }
}

@media (max-width: 900px) {
  .cells {
    height: auto;
  }

  .table {
    height: 60vh;
    flex: none;
  }

  .row {
    grid-template-columns: 24px 20px minmax(50px, 1fr) 62px 76px 70px;
    gap: 6px;
    padding: 0 6px;
  }

  .reads .row {
    grid-template-columns: 20px minmax(60px, 1fr) 70px 120px;
  }

  .row > .lost_a_day_v,
  .row > .state,
  .row > .why,
  .reads .row > :first-child,
  .reads .row > .resistance_ohm,
  .reads .row > .capacity_ah,
  .reads .row > .arrival_v {
    display: none;
  }

  /* Of the figures there is room for the one that is read now. */
  .table[data-reads$='_v'] .row > .arrival_v,
  .table[data-reads='resistance_ohm'] .row > .resistance_ohm,
  .table[data-reads='capacity_ah'] .row > .capacity_ah {
    display: block;
  }
}
</style>
