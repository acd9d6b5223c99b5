<script setup lang="ts">
// A voltage as the meter shows it, kept with Enter.
import { ref } from 'vue'
import { readReading } from '../format/reading'
import { show } from '../format/show'
import { useReference } from '../state/reference'

const props = defineProps<{ label: string }>()
const emit = defineEmits<{ take: [volts: number] }>()

const { range } = useReference()
const text = ref('')
const error = ref('')

function take(): void {
  if (!text.value.trim()) return
  const volts = readReading(text.value, 'v')
  const limits = range('build_volts')
  if (volts === null) error.value = `“${text.value.trim()}” is not a reading in V`
  else if (limits && (volts < limits.min || volts > limits.max))
    error.value = `${show(limits.min, 'v')} to ${show(limits.max, 'v')}`
  else {
    error.value = ''
    emit('take', volts)
  }
}

function empty(): void {
  text.value = ''
  error.value = ''
}

defineExpose({ empty })
</script>

<template>
  <form class="volts" @submit.prevent="take">
    <label>
      <span class="visually-hidden">{{ props.label }}</span>
      <input
        v-model="text"
        class="mono"
        type="text"
        inputmode="decimal"
        autocomplete="off"
        :placeholder="label"
        :aria-invalid="!!error"
      />
      <span class="unit">V</span>
    </label>
    <v-btn type="submit" color="primary" variant="flat">Save it</v-btn>
    <small v-if="error" class="error" role="alert">{{ error }}</small>
  </form>
</template>

<style scoped>
.volts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-bottom: 10px;
}

label {
  display: flex;
  gap: 6px;
  align-items: baseline;
  width: 170px;
  padding: 4px 12px;
  background: var(--paper);
  border: 2px solid var(--line-strong);
  border-radius: 4px;
}

label:focus-within {
  border-color: var(--ink);
}

input {
  flex: 1;
  min-width: 0;
  height: 36px;
  font-size: 22px;
  color: var(--ink);
  background: none;
  border: 0;
  outline: none;
}

input::placeholder {
  font-size: 15px;
  color: var(--soft);
  opacity: 1;
}

.volts .v-btn {
  height: 44px;
}

.error {
  flex-basis: 100%;
  color: var(--stop);
}
</style>
