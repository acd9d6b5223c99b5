<script setup lang="ts">
// Thickness of a wire, as AWG or mm²; typed AWG stays AWG.
import { computed } from 'vue'
import type { WireSize } from '../api/types'
import { wireSizes } from '../state/preferences'
import QuantityField from './QuantityField.vue'

const props = defineProps<{ label: string; optional?: boolean }>()
const model = defineModel<WireSize | null | undefined>({ required: true })

const systems = [
  { value: 'awg', title: 'AWG' },
  { value: 'metric', title: 'mm²' },
]

/** The system this person prefers comes first. */
const standards = computed(() => [
  ...(wireSizes.value === 'awg' ? systems : [...systems].reverse()),
  ...(props.optional ? [{ value: 'unknown', title: 'unknown' }] : []),
])

const standard = computed({
  get: () => model.value?.standard ?? 'unknown',
  set: (now: string) => {
    if (now === 'awg') model.value = { standard: 'awg', awg: 18 }
    else if (now === 'metric') model.value = { standard: 'metric', area_mm2: 0.75 }
    else model.value = null
  },
})
const value = computed({
  get: () => {
    if (!model.value) return null
    return model.value.standard === 'awg' ? model.value.awg : model.value.area_mm2
  },
  set: (now: number | null) => {
    if (now === null || !model.value) return
    model.value =
      model.value.standard === 'awg' ? { standard: 'awg', awg: now } : { standard: 'metric', area_mm2: now }
  },
})
</script>

<template>
  <div class="size">
    <QuantityField
      v-if="model"
      v-model="value"
      :label="label"
      :range="model.standard === 'awg' ? 'awg' : 'area'"
      required
    />
    <span v-else class="soft none">{{ label }}: unknown</span>
    <v-select v-model="standard" :items="standards" :aria-label="`Size system: ${label}`" label="as" />
  </div>
</template>

<style scoped>
.size {
  display: grid;
  grid-template-columns: minmax(80px, 1fr) 126px;
  gap: 6px;
  align-items: start;
}

.none {
  align-self: center;
}
</style>
