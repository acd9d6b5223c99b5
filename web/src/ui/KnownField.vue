<script setup lang="ts">
// A figure with how it is known; empty is unknown.
import { computed } from 'vue'
import type { How, Known } from '../api/types'
import QuantityField from './QuantityField.vue'

const props = defineProps<{ label: string; range: string; required?: boolean; hint?: string }>()
const model = defineModel<Known | null | undefined>({ required: true })

const hows: { value: How; title: string }[] = [
  { value: 'measured', title: 'measured' },
  { value: 'stated', title: 'stated' },
  { value: 'assumed', title: 'assumed' },
  { value: 'lower_bound', title: 'at least' },
]

const value = computed({
  get: () => model.value?.value ?? null,
  set: (now: number | null) => {
    if (now === null) model.value = null
    else model.value = { how: 'stated', ...model.value, value: now }
  },
})
const how = computed({
  get: () => model.value?.how ?? 'stated',
  set: (now: How) => {
    if (model.value) model.value = { ...model.value, how: now }
  },
})
</script>

<template>
  <div class="known">
    <QuantityField v-model="value" :label="label" :range="range" :required="required" :hint="hint" />
    <v-select
      v-model="how"
      class="how"
      :items="hows"
      :disabled="!model"
      :aria-label="`How known: ${props.label}`"
      label="known"
    />
  </div>
</template>

<style scoped>
.known {
  display: grid;
  grid-template-columns: minmax(84px, 1fr) 126px;
  gap: 6px;
  align-items: start;
}

.how :deep(.v-field) {
  --v-field-padding-start: 10px;
  --v-field-padding-end: 4px;
}
</style>
