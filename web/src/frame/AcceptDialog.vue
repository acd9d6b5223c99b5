<script setup lang="ts">
// Accepting a caution by name: the maker writes why; the figure it rests on is remembered.
import { computed, ref, watch } from 'vue'
import type { Finding } from '../api/types'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import PhraseText from '../ui/PhraseText.vue'
import { vFirstField } from '../ui/firstField'

const finding = defineModel<Finding | null>({ required: true })

const { accept, figure } = usePlan()
const reason = ref('')
const open = computed({ get: () => finding.value !== null, set: () => (finding.value = null) })
const rests = computed(() => {
  const id = finding.value?.deciding?.figure
  return id ? figure(id) : undefined
})

watch(finding, () => (reason.value = ''))

function done(): void {
  if (!finding.value || !reason.value.trim()) return
  const { key, deciding } = finding.value
  accept({ finding: key, reason: reason.value.trim(), deciding_value: deciding?.value ?? null })
  finding.value = null
}
</script>

<template>
  <v-dialog v-model="open" max-width="480" aria-labelledby="accept-title">
    <v-card v-if="finding" class="panel">
      <h2 id="accept-title">Accept this caution?</h2>
      <p class="after"><PhraseText :phrase="finding.title" plain /></p>
      <p class="soft">
        It stays in the plan with your reason.
        <template v-if="rests">
          It comes back when “{{ rests.label.toLowerCase() }}”, now {{ show(rests.value, rests.unit) }}, gets
          worse by more than 5 %.
        </template>
      </p>
      <form class="form" @submit.prevent="done">
        <v-text-field v-model="reason" v-first-field label="Why it is acceptable" maxlength="400" />
        <div class="buttons">
          <v-btn type="submit" color="primary" variant="flat" :disabled="!reason.trim()">Accept</v-btn>
          <v-btn variant="text" @click="open = false">Cancel</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.form {
  display: grid;
  gap: 14px;
  margin-top: 14px;
}

.buttons {
  display: flex;
  gap: 10px;
}
</style>
