<script setup lang="ts">
// The stock: what is being read, which cells are looked at, and what is done with those that are picked.
import { mdiTrayArrowDown, mdiTrayArrowUp } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { files } from '../api/client'
import type { CellQuery, CellState, CellVerdict } from '../api/types'
import { useStock } from '../state/stock'
import { useRefusals } from '../ui/refusals'
import CellTable from './CellTable.vue'
import ImportDialog from './ImportDialog.vue'
import PickedBar from './PickedBar.vue'
import ReadingBar from './ReadingBar.vue'
import { reading } from './readingMode'
import { stateWords, verdictOrder, verdictWords } from './words'

const { lotId } = useStock()
const conditionsRefused = useRefusals()

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
const total = ref(0)
const picked = ref<Set<string>>(new Set())
watch(filter, () => (picked.value = new Set()))

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

const importing = ref(false)
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
        <v-btn :prepend-icon="mdiTrayArrowUp" @click="importing = true">Import a table</v-btn>
        <v-menu>
          <template #activator="{ props: menu }">
            <v-btn v-bind="menu" :prepend-icon="mdiTrayArrowDown">Export</v-btn>
          </template>
          <v-list density="compact">
            <v-list-item title="One line per cell (CSV)" :href="files.cells(lotId)" />
            <v-list-item title="One line per reading (CSV)" :href="files.readings(lotId)" />
          </v-list>
        </v-menu>
      </span>
    </div>
    <PickedBar v-if="picked.size" v-model="picked" />
    <CellTable
      v-model:picked="picked"
      v-model:total="total"
      :filter="filter"
      :conditions-refused="conditionsRefused"
      @sort="sortBy"
    />
    <ImportDialog v-model="importing" />
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

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.tools > .v-input {
  flex: 1 1 120px;
}

.count {
  white-space: nowrap;
}

.files {
  display: flex;
  gap: 8px;
}

@media (max-width: 900px) {
  .cells {
    height: auto;
  }
}
</style>
