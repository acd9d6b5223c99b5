<script setup lang="ts">
// Room for everything round the cells, where the ends should come out, and the compartment it goes into.
import { computed } from 'vue'
import QuantityField from '../../ui/QuantityField.vue'
import { usePlan } from '../../state/plan'

const { plan, set } = usePlan()
const at = '/packs/0/brick'
const brick = computed(() => plan.value?.packs[0]?.brick)
const room = computed(() => brick.value?.clearances)
const places = computed(() => plan.value?.device.compartments ?? [])
const flat = computed(() => {
  const cell = plan.value?.packs[0]?.cell
  return cell?.state === 'chosen' && cell.part.size.shape !== 'cylindrical'
})

const fields = [
  ['gap_mm', 'Between cells'],
  ['ends_mm', 'Strips, each face'],
  ['wrap_mm', 'Wrap'],
  ['padding_mm', 'Foam'],
  ['wires_mm', 'Wire channel'],
  ['between_layers_mm', 'Between layers'],
  ['shell_mm', 'Rigid shell'],
] as const
const edges = [
  { value: null, title: 'anywhere' },
  { value: 'left', title: 'left' },
  { value: 'right', title: 'right' },
  { value: 'upper', title: 'top edge' },
  { value: 'lower', title: 'bottom edge' },
]
const sides = [
  ['length_mm', 'Board, length'],
  ['width_mm', 'Board, width'],
  ['thickness_mm', 'Board, height'],
] as const

const boards = [
  { value: 'open', title: 'not measured yet' },
  { value: 'beside', title: 'beside the cells' },
  { value: 'elsewhere', title: 'elsewhere' },
]
const boardState = computed(() => {
  if (room.value?.board) return 'beside'
  return room.value?.board_elsewhere ? 'elsewhere' : 'open'
})

function placeBoard(state: string): void {
  set(`${at}/clearances`, {
    ...room.value,
    board: state === 'beside' ? { length_mm: 60, width_mm: 20, thickness_mm: 4 } : null,
    board_elsewhere: state === 'elsewhere',
  })
}
</script>

<template>
  <div v-if="room && brick" class="fields after">
    <v-select
      v-if="places.length > 1"
      label="Goes into"
      :items="places.map((p) => ({ value: p.id, title: p.name }))"
      :model-value="brick.compartment ?? places[0]?.id"
      @update:model-value="set(`${at}/compartment`, $event)"
    />
    <QuantityField
      v-for="[name, label] in fields"
      :key="name"
      :label="label"
      range="clearance"
      required
      :model-value="room[name]"
      @update:model-value="set(`${at}/clearances/${name}`, $event)"
    />
    <QuantityField
      v-if="flat"
      label="Swelling of a cell"
      range="swelling"
      required
      :model-value="room.swelling_share"
      @update:model-value="set(`${at}/clearances/swelling_share`, $event)"
    />
    <v-select
      label="The board sits"
      :items="boards"
      :model-value="boardState"
      @update:model-value="placeBoard"
    />
    <template v-if="room.board">
      <QuantityField
        v-for="[name, label] in sides"
        :key="name"
        :label="label"
        range="size"
        required
        :model-value="room.board[name]"
        @update:model-value="set(`${at}/clearances/board/${name}`, $event)"
      />
    </template>
    <v-select
      label="Minus comes out"
      :items="edges"
      :model-value="brick.minus_at ?? null"
      @update:model-value="set(`${at}/minus_at`, $event)"
    />
    <v-select
      label="Plus comes out"
      :items="edges"
      :model-value="brick.plus_at ?? null"
      @update:model-value="set(`${at}/plus_at`, $event)"
    />
  </div>
</template>
