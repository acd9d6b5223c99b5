<script setup lang="ts">
// Thousands of cells as a table: only the rows in view are there, fetched a page at a time. While something is being
// read it is the bench: a reading is typed, Enter goes to the next cell.
import { mdiArrowDown, mdiArrowUp } from '@mdi/js'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, toRef, watch } from 'vue'
import { api } from '../api/client'
import type { CellQuery, CellRow, CellState, CellVerdict } from '../api/types'
import { fixed, show } from '../format/show'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { reading } from './readingMode'
import { useCellWindow } from './useCellWindow'
import { useTypedReadings } from './useTypedReadings'
import { stateWords, verdictShape, verdictWords } from './words'

const props = defineProps<{ filter: CellQuery; conditionsRefused: boolean }>()
const emit = defineEmits<{ sort: [column: string] }>()
const picked = defineModel<Set<string>>('picked', { required: true })
const counted = defineModel<number>('total', { required: true })

const ROW = 40
const BESIDE = 8
const MOST_AT_ONCE = 500

const { cellId, change } = useStock()
const { total, problem: away, look, row, rows } = useCellWindow(toRef(props, 'filter'), change)
watch(total, (now) => (counted.value = now))

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
watch(
  () => props.filter,
  () => {
    if (box.value) box.value.scrollTop = 0
  },
)

function scrolled(): void {
  if (!box.value) return
  top.value = box.value.scrollTop
  height.value = box.value.clientHeight
}
const observer = new ResizeObserver(scrolled)
onMounted(() => {
  scrolled()
  observer.observe(box.value!)
})
onBeforeUnmount(() => observer.disconnect())

const columns = [
  { name: 'verdict', title: '', sr: 'Verdict' },
  { name: 'label', title: 'Label' },
  { name: 'arrival_v', title: 'Volts' },
  { name: 'resistance_ohm', title: 'Resistance' },
  { name: 'capacity_ah', title: 'Capacity' },
  { name: 'lost_a_day_v', title: 'Lost a day' },
  { name: 'state', title: 'State' },
] as const

const v = (value: number | null | undefined, unit: 'v' | 'ohm' | 'ah') =>
  value == null ? '–' : show(value, unit)

const { typed, refused, kept, keep, pasted } = useTypedReadings({
  row,
  rows,
  total,
  conditionsRefused: toRef(props, 'conditionsRefused'),
  goTo,
})

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

function pick(id: string): void {
  const next = new Set(picked.value)
  if (!next.delete(id)) next.add(id)
  picked.value = next
}

/** Picks every cell under the filter. */
async function pickAll(): Promise<void> {
  const all: string[] = []
  for (let offset = 0; offset < total.value; offset += MOST_AT_ONCE) {
    const answer = await api.cells({ ...props.filter, offset, limit: MOST_AT_ONCE })
    if (!answer.ok) return
    all.push(...answer.value.rows.map((r) => r.id))
  }
  picked.value = new Set(all)
}
</script>

<template>
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
        :aria-sort="filter.sort === c.name ? (filter.descending ? 'descending' : 'ascending') : 'none'"
      >
        <button type="button" @click="emit('sort', c.name)">
          <span v-if="'sr' in c" class="visually-hidden">{{ c.sr }}</span>
          <span v-else>{{ c.title }}</span>
          <v-icon
            v-if="filter.sort === c.name"
            :icon="filter.descending ? mdiArrowDown : mdiArrowUp"
            size="14"
          />
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
</template>

<style scoped>
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
