<script setup lang="ts">
// Thousands of cells as a table: only the rows in view are there, fetched a page at a time. While something is being
// read it is the bench: a reading is typed, Enter goes to the next cell.
import { mdiArrowDown, mdiArrowUp } from '@mdi/js'
import { computed, nextTick, ref, toRef, watch } from 'vue'
import type { VVirtualScroll } from 'vuetify/components'
import { api } from '../api/client'
import type { CellQuery } from '../api/types'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'
import CellTableRow from './CellTableRow.vue'
import { reading } from './readingMode'
import { useCellWindow } from './useCellWindow'
import { useTypedReadings } from './useTypedReadings'

const props = defineProps<{ filter: CellQuery; conditionsRefused: boolean }>()
const emit = defineEmits<{ sort: [column: string] }>()
const picked = defineModel<Set<string>>('picked', { required: true })
const counted = defineModel<number>('total', { required: true })

/** Height of a row, as in the styles below. */
const ROW_PX = 40
const MOST_AT_ONCE = 500

const { cellId, change } = useStock()
const { total, problem: away, enter, leave, row, rows } = useCellWindow(toRef(props, 'filter'), change)
watch(total, (now) => (counted.value = now))

const box = ref<HTMLElement>()
const scroller = ref<VVirtualScroll>()
const indexes = computed(() => Array.from({ length: total.value }, (_, i) => i))
watch(
  () => props.filter,
  () => {
    if (box.value) box.value.scrollTop = 0
  },
)

const columns = [
  { name: 'verdict', title: '', sr: 'Verdict' },
  { name: 'label', title: 'Label' },
  { name: 'arrival_v', title: 'Voltage' },
  { name: 'resistance_ohm', title: 'Resistance' },
  { name: 'capacity_ah', title: 'Capacity' },
  { name: 'lost_a_day_v', title: 'Lost per day' },
  { name: 'state', title: 'State' },
] as const

const { typed, refused, kept, keep, pasted } = useTypedReadings({
  row,
  rows,
  total,
  conditionsRefused: toRef(props, 'conditionsRefused'),
  goTo,
})

const field = (i: number) => box.value?.querySelector<HTMLInputElement>(`[data-row="${i}"] input.value`)

/** Puts the cursor into the field of a row, which is scrolled into view and fetched where it is not there. */
async function goTo(i: number): Promise<void> {
  if (i < 0 || i >= total.value) return
  if (!field(i)) scroller.value?.scrollToIndex(i, 'center')
  await nextTick()
  for (let tries = 0; tries < 30 && !field(i); tries++) await new Promise((done) => setTimeout(done, 30))
  field(i)?.focus()
}

function keys(event: KeyboardEvent, i: number): void {
  if (event.key === 'Enter') {
    event.preventDefault()
    const text = typed.value[row(i)?.id ?? '']?.trim()
    if (text) void keep(i, [text])
    else void goTo(i + 1)
  } else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
    event.preventDefault()
    void goTo(i + (event.key === 'ArrowDown' ? 1 : -1))
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
    <div role="rowgroup">
      <v-virtual-scroll ref="scroller" renderless :items="indexes" :item-height="ROW_PX">
        <template #default="{ item: i }">
          <CellTableRow
            v-model:typed="typed[row(i)?.id ?? '']"
            :at="i"
            :cell="row(i)"
            :here="!!cellId && row(i)?.id === cellId"
            :picked="picked.has(row(i)?.id ?? '')"
            :reads="!!reading.kind"
            :refused="!!refused && refused.id === row(i)?.id"
            :kept="kept[row(i)?.id ?? '']"
            @enter="enter(i)"
            @leave="leave(i)"
            @pick="pick"
            @open="cellId = $event"
            @keys="keys($event, i)"
            @pasted="pasted($event, i)"
          />
        </template>
      </v-virtual-scroll>
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

/* Rows have the columns of their table, so that head and cells stand in one line. */
.table {
  --columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 88px 68px minmax(120px, 2fr);
  scroll-padding: 44px 0;
}

.table.reads {
  --columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 88px 68px 128px minmax(80px, 1.4fr);
}

.row {
  display: grid;
  grid-template-columns: var(--columns);
  gap: 12px;
  align-items: center;
  height: 40px;
  padding: 0 10px;
  border-bottom: 1px solid var(--line);
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

.row > :deep(.arrival_v),
.row > :deep(.resistance_ohm),
.row > :deep(.capacity_ah),
.row > :deep(.lost_a_day_v) {
  text-align: right;
  white-space: nowrap;
}

.row > :deep(.label),
.row > :deep(.why) {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.row :deep(input[type='checkbox']) {
  width: 18px;
  height: 18px;
  accent-color: var(--petrol);
}

/* Beside an open cell there is no room for everything: its sheet tells the rest. */
@container (max-width: 800px) {
  .table {
    --columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px minmax(110px, 1.6fr);
  }

  .table.reads {
    --columns: 24px 24px minmax(56px, 0.6fr) 64px 86px 72px 128px;
  }

  .row > :deep(.lost_a_day_v),
  .row > :deep(.state),
  .reads .row > :deep(.why) {
    display: none;
  }
}

@media (max-width: 900px) {
  .table {
    --columns: 24px 20px minmax(50px, 1fr) 62px 76px 70px;
    height: 60vh;
    flex: none;
  }

  .table.reads {
    --columns: 20px minmax(60px, 1fr) 70px 120px;
  }

  .row {
    gap: 6px;
    padding: 0 6px;
  }

  .row > :deep(.lost_a_day_v),
  .row > :deep(.state),
  .row > :deep(.why),
  .reads .row > :deep(:first-child),
  .reads .row > :deep(.resistance_ohm),
  .reads .row > :deep(.capacity_ah),
  .reads .row > :deep(.arrival_v) {
    display: none;
  }

  /* Of the figures there is room for the one that is read now. */
  .table[data-reads$='_v'] .row > :deep(.arrival_v),
  .table[data-reads='resistance_ohm'] .row > :deep(.resistance_ohm),
  .table[data-reads='capacity_ah'] .row > :deep(.capacity_ah) {
    display: block;
  }
}
</style>
