<script setup lang="ts">
// A sheet of parts, from a file or pasted: all of it or, with every bad line told, nothing.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { PartsImport, Problem } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'

const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ brought: [] }>()

const text = ref('')
const problem = ref<Problem | null>(null)
const brought = ref<PartsImport | null>(null)
const busy = ref(false)
const chooser = ref<HTMLInputElement>()

watch(open, (now) => {
  if (!now) return
  text.value = ''
  problem.value = null
  brought.value = null
})
const lines = computed(() => text.value.split('\n').filter((l) => l.trim()).length)

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
  const answer = await api.importParts(text.value)
  busy.value = false
  problem.value = answer.ok ? null : answer.problem
  brought.value = answer.ok ? answer.value : null
  if (answer.ok) {
    text.value = ''
    emit('brought')
  }
}
</script>

<template>
  <v-dialog v-model="open" max-width="680" scrollable aria-labelledby="parts-import-title">
    <v-card class="panel sheet">
      <h2 id="parts-import-title">Take in a sheet of parts</h2>
      <p class="lead">
        One line a part, with a header: <span class="mono">kind, name</span> and the figures it has. “Save as
        CSV” gives every column. A line whose <span class="mono">id</span> is known changes that part; an
        empty cell is not stated.
      </p>
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
          aria-label="Sheet of parts to take in"
          tabindex="-1"
          data-testid="parts-file"
          @change="choose"
        />
      </p>
      <template v-if="problem">
        <p class="after">
          <b>{{ problem.title }}.</b>
        </p>
        <ProblemList class="lines" :problem="problem" data-testid="bad-parts" />
      </template>
      <p v-if="brought" class="after brought" data-testid="parts-brought">
        {{ brought.added }} new, {{ brought.changed }} changed, {{ brought.unchanged }} as they were.
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
.sheet {
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
