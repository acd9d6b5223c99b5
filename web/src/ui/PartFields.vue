<script setup lang="ts">
// The figures of a part, typed by hand: of one chosen in the plan, or of a draft that somebody else keeps. Which fields
// there are is data.
import type { Change, ClaimedCell, FieldSheet, Known, WireSize } from '../api/types'
import { usePlan } from '../state/plan'
import { valueAt } from '../state/pointer'
import CellSizeField from './CellSizeField.vue'
import KnownField from './KnownField.vue'
import QuantityField from './QuantityField.vue'
import WireSizeField from './WireSizeField.vue'

const props = defineProps<{ part: string; fields: FieldSheet[]; draft?: unknown }>()
const emit = defineEmits<{ change: [change: Change] }>()

const { at, edit } = usePlan()

const answers = [
  { value: true, title: 'yes' },
  { value: false, title: 'no' },
]
const unstated = { value: null, title: 'not stated' }

const read = <T,>(field: FieldSheet) =>
  (props.draft === undefined ? at(props.part + field.at) : valueAt(props.draft, props.part + field.at)) as T

const readNumber = (field: FieldSheet) => read<number | null>(field)
const readKnown = (field: FieldSheet) => read<Known | null>(field)
const readSize = (field: FieldSheet) => read<WireSize>(field)
const readCellSize = (field: FieldSheet) => read<ClaimedCell['size'] | null>(field)
const readText = (field: FieldSheet) => read<string>(field)
const readAnswer = (field: FieldSheet) => read<boolean | null | undefined>(field) ?? null

function write(field: FieldSheet, value: unknown): void {
  const change = { at: props.part + field.at, value }
  if (props.draft === undefined) edit([change])
  else emit('change', change)
}

function writeText(field: FieldSheet, value: string): void {
  if (value.trim()) write(field, value)
}
</script>

<template>
  <div class="fields">
    <div
      v-for="field in fields"
      :key="field.at"
      :class="{ whole: field.typed === 'cell_size' }"
      :data-at="part + field.at"
    >
      <QuantityField
        v-if="field.typed === 'quantity'"
        :label="field.label"
        :range="field.range ?? ''"
        :required="field.needed"
        :model-value="readNumber(field)"
        @update:model-value="write(field, $event)"
      />
      <KnownField
        v-else-if="field.typed === 'known'"
        :label="field.label"
        :range="field.range ?? ''"
        :required="field.needed"
        :model-value="readKnown(field)"
        @update:model-value="write(field, $event)"
      />
      <WireSizeField
        v-else-if="field.typed === 'wire_size'"
        :label="field.label"
        :model-value="readSize(field)"
        @update:model-value="write(field, $event)"
      />
      <CellSizeField
        v-else-if="field.typed === 'cell_size'"
        :model-value="readCellSize(field)"
        @update:model-value="write(field, $event)"
      />
      <v-select
        v-else-if="field.typed === 'choice'"
        :label="field.label"
        :items="field.needed ? field.words : [...field.words, unstated]"
        :model-value="read(field) ?? null"
        @update:model-value="write(field, $event)"
      />
      <v-select
        v-else-if="field.typed === 'yes_no'"
        :label="field.label"
        :items="field.needed ? answers : [...answers, unstated]"
        :model-value="readAnswer(field)"
        @update:model-value="write(field, $event)"
      />
      <v-checkbox
        v-else-if="field.typed === 'flag'"
        :label="field.label"
        :model-value="!!read(field)"
        density="compact"
        hide-details
        @update:model-value="write(field, $event)"
      />
      <v-text-field
        v-else
        :label="field.label"
        :model-value="readText(field)"
        :rules="[(v: string) => !!v.trim() || 'Name: 1 to 120 characters']"
        maxlength="120"
        @update:model-value="writeText(field, $event)"
      />
    </div>
  </div>
</template>

<style scoped>
.whole {
  grid-column: 1 / -1;
}
</style>
