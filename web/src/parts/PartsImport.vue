<script setup lang="ts">
// A sheet of parts taken into the catalogue.
import { ref } from 'vue'
import { api } from '../api/client'
import type { PartsImport, Problem } from '../api/types'
import SheetDialog from '../ui/SheetDialog.vue'

const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ brought: [] }>()

const problem = ref<Problem | null>(null)
const brought = ref<PartsImport | null>(null)
const busy = ref(false)

function forget(): void {
  problem.value = null
  brought.value = null
}

async function take(text: string): Promise<void> {
  busy.value = true
  const answer = await api.importParts(text)
  busy.value = false
  problem.value = answer.ok ? null : answer.problem
  brought.value = answer.ok ? answer.value : null
  if (answer.ok) emit('brought')
}
</script>

<template>
  <SheetDialog
    v-model="open"
    title="Import a parts sheet"
    chooser-label="Sheet of parts to take in"
    file-test-id="parts-file"
    :problem="problem"
    :done="!!brought"
    :busy="busy"
    @forget="forget"
    @take="take"
  >
    <template #lead>
      One line per part, with a header: <span class="mono">kind, name</span> and the figures it has. “Save as
      CSV” gives every column. A line whose <span class="mono">id</span> is known changes that part; an empty
      cell means not stated.
    </template>
    <template #brought>
      {{ brought?.added }} new, {{ brought?.changed }} changed, {{ brought?.unchanged }} unchanged.
      <span v-if="brought?.unused.length">Not used: {{ brought.unused.join(', ') }}.</span>
    </template>
  </SheetDialog>
</template>
