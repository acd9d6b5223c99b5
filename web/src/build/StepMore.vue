<script setup lang="ts">
// What is kept beside the readings of a step: notes, photographs; and that it is to be done again.
import { mdiCameraOutline } from '@mdi/js'
import { ref } from 'vue'
import { api, files } from '../api/client'
import type { Problem, StepState, What } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'
import { vFirstField } from '../ui/firstField'

defineProps<{
  state: StepState
  holds: boolean
  /** Whether something of the circuit was read here. */
  reads: boolean
}>()
const emit = defineEmits<{ happen: [what: What]; why: [] }>()

const note = ref('')
const noting = ref(false)
const camera = ref<HTMLInputElement>()
const problem = ref<Problem | null>(null)

function keepNote(): void {
  if (note.value.trim()) emit('happen', { what: 'note', text: note.value.trim() })
  note.value = ''
  noting.value = false
}

async function photographed(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const kept = await api.keepPhoto(file)
  input.value = ''
  problem.value = kept.ok ? null : kept.problem
  if (kept.ok) emit('happen', { what: 'photo', sha256: kept.value.sha256 })
}
</script>

<template>
  <div>
    <div class="more">
      <v-btn v-if="holds" @click="emit('happen', { what: 'undone' })">Do it again</v-btn>
      <v-btn v-if="reads" variant="text" @click="emit('why')">Something is odd</v-btn>
      <v-btn variant="text" @click="noting = !noting">Note…</v-btn>
      <v-btn variant="text" :prepend-icon="mdiCameraOutline" @click="camera?.click()">Photo</v-btn>
      <input
        ref="camera"
        class="visually-hidden"
        type="file"
        accept="image/*"
        capture="environment"
        aria-label="Photograph of this step"
        tabindex="-1"
        @change="photographed"
      />
    </div>
    <form v-if="noting" class="words" @submit.prevent="keepNote">
      <v-text-field v-model="note" v-first-field label="Note" maxlength="2000" />
      <v-btn type="submit" :disabled="!note.trim()">Save it</v-btn>
    </form>
    <ul v-if="state.notes.length" class="rows">
      <li v-for="(said, i) in state.notes" :key="i">{{ said }}</li>
    </ul>
    <div v-if="state.photos.length" class="photos">
      <a v-for="sha256 in state.photos" :key="sha256" :href="files.photo(sha256)" target="_blank">
        <img :src="files.photo(sha256)" alt="Photograph of this step" loading="lazy" />
      </a>
    </div>
    <ProblemList v-if="problem" :problem="problem" />
  </div>
</template>

<style scoped>
.more {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 8px;
}

.words {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: start;
  margin-top: 12px;
}

.photos {
  margin-top: 8px;
  margin-top: 8px;
}

.photos img {
  height: 96px;
  border-radius: 4px;
}
</style>
