<script setup lang="ts">
// Outer size of a cell: its shape, and the sides that shape has. It decides what fits.
import type { ClaimedCell } from '../api/types'
import QuantityField from './QuantityField.vue'

type Size = ClaimedCell['size']
const model = defineModel<Size>({ required: true })

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
const sides = {
  cylindrical: [
    ['diameter_mm', 'Cell diameter'],
    ['length_mm', 'Cell length'],
  ],
  pouch: flat,
  prismatic: flat,
} as const

const side = (name: string) => (model.value as unknown as Record<string, number | null>)[name]

function reshape(shape: Size['shape']): void {
  // In a draft nothing is known of its sides; a cell that is there already keeps figures to start from.
  const drafted = Object.values(model.value).some((value) => value === null)
  const sidesOf = (of: Record<string, number>): Size => {
    const known = Object.entries(of).map(([name, value]) => [name, drafted ? null : value])
    return { shape, ...Object.fromEntries(known) } as Size
  }
  model.value =
    shape === 'cylindrical'
      ? sidesOf({ diameter_mm: 18.4, length_mm: 65.2 })
      : sidesOf({ thickness_mm: 8, width_mm: 35, length_mm: 100 })
}

function resize(name: string, value: number | null | undefined): void {
  if (value != null) model.value = { ...model.value, [name]: value } as Size
}
</script>

<template>
  <div class="fields">
    <v-select label="Shape" :items="shapes" :model-value="model.shape" @update:model-value="reshape" />
    <QuantityField
      v-for="[name, label] in sides[model.shape]"
      :key="name"
      :label="label"
      range="size"
      required
      :model-value="side(name)"
      @update:model-value="resize(name, $event)"
    />
  </div>
</template>
