<script setup lang="ts">
// Outer size of a cell: its shape, and the sides that shape has. It decides what fits.
import { computed, ref, watch } from 'vue'
import type { ClaimedCell } from '../api/types'
import QuantityField from './QuantityField.vue'

type Size = ClaimedCell['size']
type Sides = Record<string, number | null | undefined>
const model = defineModel<Size | null>({ required: true })

const shapes = [
  { value: 'cylindrical', title: 'round' },
  { value: 'pouch', title: 'pouch' },
  { value: 'prismatic', title: 'hard case, flat' },
]
const flat = [
  ['thickness_mm', 'Cell thickness'],
  ['width_mm', 'Cell width'],
  ['length_mm', 'Cell length'],
] as const
const sidesOf = {
  cylindrical: [
    ['diameter_mm', 'Cell diameter'],
    ['length_mm', 'Cell length'],
  ],
  pouch: flat,
  prismatic: flat,
} as const

/** What is typed; it is a size once every side of its shape is there. */
const shape = ref<Size['shape'] | null>(null)
const sides = ref<Sides>({})

watch(
  model,
  (now) => {
    if (!now) return
    const { shape: of, ...rest } = now
    shape.value = of
    sides.value = rest
  },
  { immediate: true },
)

const asked = computed(() => (shape.value ? sidesOf[shape.value] : []))

function keep(): void {
  const typed = asked.value.map(([name]) => [name, sides.value[name]] as const)
  if (typed.every(([, value]) => value != null)) {
    model.value = { shape: shape.value, ...Object.fromEntries(typed) } as Size
  }
}

function reshape(to: Size['shape']): void {
  shape.value = to
  keep()
}

function resize(name: string, value: number | null | undefined): void {
  sides.value = { ...sides.value, [name]: value }
  keep()
}
</script>

<template>
  <div class="fields">
    <v-select label="Shape" :items="shapes" :model-value="shape" @update:model-value="reshape" />
    <QuantityField
      v-for="[name, label] in asked"
      :key="name"
      :label="label"
      range="size"
      required
      :model-value="sides[name]"
      @update:model-value="resize(name, $event)"
    />
  </div>
</template>
