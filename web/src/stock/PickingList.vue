<script setup lang="ts">
// Through the box once, label by label: which cell goes to which group. Made to be printed.
import { mdiPrinterOutline } from '@mdi/js'
import type { Grouping } from '../api/types'
import { saveCsv } from '../format/csv'

const props = defineProps<{ grouping: Grouping }>()
const emit = defineEmits<{ print: [] }>()

function csv(): void {
  saveCsv(
    'picking-list',
    ['label', 'lot', 'group'],
    props.grouping.picking.map((p) => [p.label, p.lot, p.group]),
  )
}
</script>

<template>
  <div class="list" data-testid="picking">
    <div class="head">
      <h2>Picking list</h2>
      <span class="no-print">
        <v-btn size="small" :prepend-icon="mdiPrinterOutline" @click="emit('print')">Print</v-btn>
        <button type="button" class="textlink soft" @click="csv">as CSV</button>
      </span>
    </div>
    <p class="lead">
      {{ grouping.groups.length }}S{{ grouping.groups[0]?.cells.length }}P: take the cells out in this order
      and put each with its group. Group 1 is at pack minus. Tick what you have placed.
    </p>
    <ol>
      <li v-for="p in grouping.picking" :key="p.label">
        <i class="box" aria-hidden="true" />
        <b class="mono">{{ p.label }}</b>
        <span>to group {{ p.group }}</span>
        <span v-if="p.lot" class="soft">{{ p.lot }}</span>
      </li>
    </ol>
    <p v-if="grouping.bring_first.length" class="care">
      Bring to the same voltage before joining: {{ grouping.bring_first.join(', ') }}.
    </p>
    <p class="care soft">
      Cover every group but the one in hand. Cells are live: never put two on a metal bench, never in a
      pocket.
    </p>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
}

.head span {
  display: flex;
  gap: 12px;
  align-items: center;
}

ol {
  list-style: none;
  margin: 10px 0;
  padding: 0;
  columns: 3 230px;
}

li {
  display: flex;
  gap: 10px;
  align-items: baseline;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
  break-inside: avoid;
}

.box {
  width: 13px;
  height: 13px;
  border: 1.5px solid var(--ink);
  flex: none;
  align-self: center;
}

.mono {
  min-width: 52px;
}

.care {
  margin-top: 6px;
}

@media print {
  .no-print {
    display: none !important;
  }

  ol {
    columns: 2;
  }
}
</style>
