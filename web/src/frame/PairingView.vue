<script setup lang="ts">
// A browser of the workshop's network that is not paired yet: the code that was shown at the start lets it in.
import { ref } from 'vue'
import { api, unpaired } from '../api/client'
import EmergencyCard from './EmergencyCard.vue'
import { vFirstField } from '../ui/firstField'

const code = ref('')
const trouble = ref('')
const emergency = ref(false)

async function pair(): Promise<void> {
  const answer = await api.pair(code.value)
  if (answer.ok) {
    unpaired.value = false
    location.reload()
  } else trouble.value = `${answer.problem.title}. ${answer.problem.detail}`
}
</script>

<template>
  <main class="page">
    <h1>Pair this browser</h1>
    <p class="lead">Dense Brick shows a code where it was started. Type it here, once for each browser.</p>
    <form @submit.prevent="pair">
      <v-text-field
        v-model="code"
        v-first-field
        label="Code"
        autocapitalize="characters"
        autocomplete="off"
        maxlength="12"
        :error-messages="trouble ? [trouble] : []"
      />
      <v-btn type="submit" color="primary" variant="flat" :disabled="!code.trim()">Pair</v-btn>
    </form>
    <v-btn color="error" @click="emergency = true">Smoke, heat, swelling</v-btn>
    <EmergencyCard v-model="emergency" />
  </main>
</template>

<style scoped>
.page {
  max-width: 420px;
  margin: 0 auto;
  padding: 32px 20px;
}

h1 {
  font-size: 26px;
}

form {
  display: grid;
  gap: 14px;
  margin: 20px 0 40px;
}
</style>
