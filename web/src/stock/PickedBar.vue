<script setup lang="ts">
// What can be done with the picked cells at once: all of them or, with the reason, none.
import { ref } from 'vue'
import { api } from '../api/client'
import type { CellState, Problem } from '../api/types'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'
import TesterDialog from './TesterDialog.vue'

const picked = defineModel<Set<string>>({ required: true })

const { changed } = useStock()
const note = ref('')
const problem = ref<Problem | null>(null)
const measuring = ref(false)

async function become(next: CellState): Promise<void> {
  const answer = await api.changeStates([...picked.value], next, note.value)
  problem.value = answer.ok ? null : answer.problem
  if (!answer.ok) return
  picked.value = new Set()
  await changed()
}
</script>

<template>
  <div class="picked" role="toolbar" aria-label="Picked cells">
    <b>{{ picked.size }} picked</b>
    <v-text-field v-model="note" label="Why, for the history" maxlength="400" />
    <v-btn size="small" color="primary" variant="flat" @click="measuring = true">Measure on a tester</v-btn>
    <v-btn size="small" @click="become('retired')">Retire</v-btn>
    <v-btn size="small" @click="become('tested')">Return to stock</v-btn>
    <v-btn size="small" @click="become('built_in')">Built in</v-btn>
    <v-btn size="small" variant="text" @click="picked = new Set()">None</v-btn>
    <ProblemList v-if="problem" class="why" :problem="problem" />
    <TesterDialog v-model="measuring" :cells="[...picked]" />
  </div>
</template>

<style scoped>
.picked {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  padding: 8px 10px;
  background: var(--petrol-tint);
}

.picked > .v-input {
  flex: 1 1 120px;
}

.why {
  flex-basis: 100%;
}
</style>
