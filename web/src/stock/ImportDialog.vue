<script setup lang="ts">
// A table of cells or readings taken into the stock.
import { computed, ref } from 'vue'
import { api } from '../api/client'
import type { ImportAnswer, Problem } from '../api/types'
import { useStock } from '../state/stock'
import SheetDialog from '../ui/SheetDialog.vue'

const open = defineModel<boolean>({ required: true })

const { lots, lotId, changed } = useStock()

const lot = ref<string | null>(null)
const instrument = ref('')
const takenAt = ref('')
const problem = ref<Problem | null>(null)
const brought = ref<ImportAnswer | null>(null)
const busy = ref(false)

const lotItems = computed(() => [
  { value: null, title: 'the lot each line names' },
  ...(lots.value ?? []).map((l) => ({ value: l.id, title: l.lot.name })),
])

function forget(): void {
  problem.value = null
  brought.value = null
}

async function take(text: string): Promise<void> {
  busy.value = true
  const query = {
    lot: lot.value ?? undefined,
    instrument: instrument.value || undefined,
    taken_at: takenAt.value || undefined,
  }
  const answer = await api.importCells(text, query)
  busy.value = false
  problem.value = answer.ok ? null : answer.problem
  brought.value = answer.ok ? answer.value : null
  if (answer.ok) await changed()
}
</script>

<template>
  <SheetDialog
    v-model="open"
    title="Import a table"
    chooser-label="Table to take in"
    file-test-id="cells-file"
    :problem="problem"
    :done="!!brought"
    :busy="busy"
    @forget="forget"
    @opened="lot = lotId"
    @take="take"
  >
    <template #lead>
      One line per cell:
      <span class="mono"
        >label, volts, resistance_mohm, capacity_mah, self_discharge_mv, rest_days, keep_with, lot</span
      >, in any order, with a header. Or one line per reading:
      <span class="mono">label, reading, value</span>. Comma, semicolon or tab; decimal point or comma.
    </template>
    <div class="fields after">
      <v-select v-model="lot" label="Into" :items="lotItems" />
      <v-text-field v-model="instrument" label="Instrument, if not named" maxlength="80" />
      <v-text-field v-model="takenAt" label="Taken on" placeholder="now" persistent-placeholder />
    </div>
    <template #brought>
      {{ brought?.new_cells }} new cells, {{ brought?.known_cells }} known ones,
      {{ brought?.readings }} readings.
      <span v-if="brought?.unused.length">Not used: {{ brought.unused.join(', ') }}.</span>
    </template>
  </SheetDialog>
</template>
