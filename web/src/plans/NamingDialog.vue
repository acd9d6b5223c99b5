<script setup lang="ts">
// The name of a plan: a new one, with the kind of job that decides what is asked, or another name for one.
import { computed, ref, watch } from 'vue'
import type { Job } from '../api/types'
import { useReference } from '../state/reference'

const open = defineModel<boolean>({ required: true })
/** The name it has; none for a new plan. */
const props = defineProps<{ old: string | null }>()
const emit = defineEmits<{ named: [name: string, job: Job | null] }>()

const name = ref('')
const job = ref<Job | null>(null)
const { jobs, job: sheetOf } = useReference()
const jobItems = computed(() => [
  { value: null, title: 'something else: ask everything' },
  ...jobs().map(({ job: value, title }) => ({ value, title })),
])
const special = computed(() => sheetOf(job.value)?.special)

const nameError = computed(() => {
  const length = name.value.trim().length
  return length >= 1 && length <= 120 ? '' : 'Name: 1 to 120 characters'
})

watch(open, (now) => {
  if (now) name.value = props.old ?? ''
})

function done(): void {
  if (!nameError.value) emit('named', name.value.trim(), job.value)
}
</script>

<template>
  <v-dialog v-model="open" max-width="420" aria-labelledby="naming-title">
    <v-card class="panel">
      <h2 id="naming-title">{{ old !== null ? 'Rename the plan' : 'What do you convert?' }}</h2>
      <form class="naming" @submit.prevent="done">
        <v-text-field
          v-model="name"
          label="Name"
          autofocus
          :error-messages="name && nameError ? [nameError] : []"
          hint="The device, as you call it"
          persistent-hint
        />
        <v-select v-if="old === null" v-model="job" label="Kind of job" :items="jobItems" />
        <p v-if="special && old === null" class="soft">{{ special }}</p>
        <div class="actions">
          <v-btn type="submit" color="primary" variant="flat" :disabled="!!nameError">
            {{ old !== null ? 'Rename' : 'Start' }}
          </v-btn>
          <v-btn variant="text" @click="open = false">Cancel</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.naming {
  display: grid;
  gap: 14px;
  margin-top: 14px;
}

.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
