<script setup lang="ts">
// Thickness of a wire, as AWG or mm²; typed AWG stays AWG. In another standard it is typed anew.
import { computed, ref, watch } from 'vue'
import type { WireSize } from '../api/types'
import { wireSizes } from '../state/preferences'
import QuantityField from './QuantityField.vue'

type Standard = WireSize['standard'] | 'unknown'
const props = defineProps<{ label: string; optional?: boolean }>()
const model = defineModel<WireSize | null | undefined>({ required: true })

const systems: { value: Standard; title: string }[] = [
  { value: 'awg', title: 'AWG' },
  { value: 'metric', title: 'mm²' },
]

/** The system this person prefers comes first. */
const standards = computed(() => [
  ...(wireSizes.value === 'awg' ? systems : [...systems].reverse()),
  ...(props.optional ? [{ value: 'unknown' as Standard, title: 'unknown' }] : []),
])

const preferred = () => (props.optional ? 'unknown' : wireSizes.value)
const standard = ref<Standard>(model.value?.standard ?? preferred())
watch(model, (now) => (standard.value = now?.standard ?? standard.value))

function measure(to: Standard): void {
  standard.value = to
  if (to === 'unknown') model.value = null
}

const value = computed({
  get: () => {
    if (model.value?.standard === 'awg' && standard.value === 'awg') return model.value.awg
    return model.value?.standard === 'metric' && standard.value === 'metric' ? model.value.area_mm2 : null
  },
  set: (now: number | null) => {
    if (now === null) return
    model.value =
      standard.value === 'awg' ? { standard: 'awg', awg: now } : { standard: 'metric', area_mm2: now }
  },
})
</script>

<template>
  <div class="size">
    <QuantityField
      v-if="standard !== 'unknown'"
      v-model="value"
      :label="label"
      :range="standard === 'awg' ? 'awg' : 'area'"
      required
    />
    <span v-else class="soft none">{{ label }}: not known</span>
    <v-select
      :model-value="standard"
      :items="standards"
      :aria-label="`Size system: ${label}`"
      label="as"
      @update:model-value="measure"
    />
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
