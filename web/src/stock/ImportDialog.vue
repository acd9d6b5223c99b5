<script setup lang="ts">
// A table of cells or readings, from a file or pasted from a spreadsheet: all of it or, with every bad line told, nothing.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { ImportAnswer, Problem } from '../api/types'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'

const open = defineModel<boolean>({ required: true })

const { lots, lotId, changed } = useStock()

const text = ref('')
const lot = ref<string | null>(null)
const instrument = ref('')
const takenAt = ref('')
const problem = ref<Problem | null>(null)
const brought = ref<ImportAnswer | null>(null)
const busy = ref(false)
const chooser = ref<HTMLInputElement>()

watch(open, (now) => {
  if (!now) return
  text.value = ''
  lot.value = lotId.value
  problem.value = null
  brought.value = null
})

const lines = computed(() => text.value.split('\n').filter((l) => l.trim()).length)
const lotItems = computed(() => [
  { value: null, title: 'the lot each line names' },
  ...(lots.value ?? []).map((l) => ({ value: l.id, title: l.lot.name })),
])

async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  text.value = await file.text()
  input.value = ''
  problem.value = null
}

async function take(): Promise<void> {
  busy.value = true
  const query = {
    lot: lot.value ?? undefined,
    instrument: instrument.value || undefined,
    taken_at: takenAt.value || undefined,
  }
  const answer = await api.importCells(text.value, query)
  busy.value = false
  problem.value = answer.ok ? null : answer.problem
  brought.value = answer.ok ? answer.value : null
  if (answer.ok) {
    text.value = ''
    await changed()
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="680" scrollable aria-labelledby="import-title">
    <v-card class="panel import">
      <h2 id="import-title">Take in a table</h2>
      <p class="lead">
        One line a cell:
        <span class="mono"
          >label, volts, resistance_mohm, capacity_mah, self_discharge_mv, rest_days, keep_with, lot</span
        >, in any order, with a header. Or one line a reading:
        <span class="mono">label, reading, value</span>. Comma, semicolon or tab; decimal point or comma.
      </p>
      <div class="fields after">
        <v-select v-model="lot" label="Into" :items="lotItems" />
        <v-text-field v-model="instrument" label="Instrument, if not named" maxlength="80" />
        <v-text-field v-model="takenAt" label="Taken on" placeholder="now" persistent-placeholder />
      </div>
      <v-textarea
        v-model="text"
        class="after mono"
        label="Paste from a spreadsheet"
        rows="6"
        no-resize
        :hint="lines ? `${lines} lines` : ''"
        persistent-hint
      />
      <p class="after">
        <v-btn size="small" @click="chooser?.click()">Open a file</v-btn>
        <input
          ref="chooser"
          class="visually-hidden"
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          aria-label="Table to take in"
          tabindex="-1"
          data-testid="cells-file"
          @change="choose"
        />
      </p>
      <template v-if="problem">
        <p class="after">
          <b>{{ problem.title }}.</b>
          {{ problem.errors.length > 1 ? `${problem.errors.length} lines cannot be taken:` : '' }}
        </p>
        <ProblemList class="lines" :problem="problem" data-testid="bad-lines" />
      </template>
      <p v-if="brought" class="after brought" data-testid="brought">
        {{ brought.new_cells }} new cells, {{ brought.known_cells }} known ones,
        {{ brought.readings }} readings.
        <span v-if="brought.unused.length">Not used: {{ brought.unused.join(', ') }}.</span>
      </p>
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="!lines || busy" :loading="busy" @click="take">
          Take it in
        </v-btn>
        <v-btn variant="text" @click="open = false">{{ brought ? 'Close' : 'Cancel' }}</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.import {
  overflow-y: auto;
}

.lines {
  max-height: 180px;
  overflow-y: auto;
}

.brought {
  padding: 8px 10px;
  border-left: 5px solid var(--fine);
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
