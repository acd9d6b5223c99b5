<script setup lang="ts">
// Why it is right to go on though something reads wrong or was not read: written down, then the gate opens.
import { ref } from 'vue'
import { vFirstField } from '../ui/firstField'

const emit = defineEmits<{ goOn: [reason: string] }>()
const reason = ref('')
</script>

<template>
  <form class="words" @submit.prevent="emit('goOn', reason.trim())">
    <v-text-field v-model="reason" v-first-field label="Why it is safe to go on" maxlength="2000" />
    <v-btn type="submit" :disabled="!reason.trim()">Save and go on</v-btn>
  </form>
</template>

<style scoped>
.words {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: start;
  margin-top: 12px;
}
</style>
