<script setup lang="ts">
// What stands in a compartment's way: a box of its own each, measured from the near end, the near side and the floor.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { ref } from 'vue'
import type { Compartment } from '../../api/types'
import { usePlan } from '../../state/plan'
import QuantityField from '../../ui/QuantityField.vue'
import { useDraftRow } from './useDraftRow'

type Obstruction = NonNullable<Compartment['obstructions']>[number]
type Measure = Exclude<keyof Obstruction, 'name' | 'cut'>

const props = defineProps<{ list: string; items: Obstruction[] }>()
const { set } = usePlan()

const measures: [Measure, string, 'size' | 'place'][] = [
  ['length_mm', 'Length', 'size'],
  ['width_mm', 'Width', 'size'],
  ['depth_mm', 'Depth', 'size'],
  ['x_mm', 'From the end', 'place'],
  ['y_mm', 'From the side', 'place'],
  ['z_mm', 'From the floor', 'place'],
]

const stays = [
  { value: false, title: 'stays' },
  { value: true, title: 'cut away' },
]

/** What is being measured: nothing is fitted round it before all of it is. */
const draft = ref<{ name: string; sizes: Partial<Record<Measure, number | null>> } | null>(null)

function size(measure: Measure, value: number | null | undefined): void {
  if (draft.value) draft.value.sizes = { ...draft.value.sizes, [measure]: value ?? null }
  void came()
}

/** On leaving it, not in the middle of a figure. */
function keep(): void {
  const now = draft.value
  if (!now || !measures.every(([measure]) => now.sizes[measure] != null)) return
  draft.value = null
  set(props.list, [...props.items, { name: now.name.trim() || 'in the way', ...now.sizes }])
}

const { came } = useDraftRow('row', keep)

function remove(index: number): void {
  set(
    props.list,
    props.items.filter((_, i) => i !== index),
  )
}
</script>

<template>
  <div v-for="(o, k) in items" :key="k" class="row" :data-at="`${list}/${k}`">
    <v-text-field
      label="In the way"
      :model-value="o.name"
      maxlength="120"
      @update:model-value="$event.trim() && set(`${list}/${k}/name`, $event)"
    />
    <QuantityField
      v-for="[measure, label, range] in measures"
      :key="measure"
      :label="label"
      :range="range"
      required
      :model-value="o[measure] ?? 0"
      @update:model-value="set(`${list}/${k}/${measure}`, $event)"
    />
    <v-select
      label="Planned"
      :items="stays"
      :model-value="o.cut ?? false"
      :data-at="`${list}/${k}/cut`"
      @update:model-value="set(`${list}/${k}/cut`, $event)"
    />
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="small"
      :aria-label="`Remove ${o.name}`"
      @click="remove(k)"
    />
  </div>
  <div v-if="draft" ref="row" class="row" :data-at="`${list}/${items.length}`" @focusout="keep">
    <v-text-field v-model="draft.name" label="In the way" maxlength="120" />
    <QuantityField
      v-for="[measure, label, range] in measures"
      :key="measure"
      :label="label"
      :range="range"
      :model-value="draft.sizes[measure] ?? null"
      @update:model-value="size(measure, $event)"
    />
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="small"
      aria-label="Drop what is being measured"
      @click="draft = null"
    />
  </div>
  <p v-if="draft" class="soft hint">It counts once all six are measured.</p>
  <v-btn v-else :prepend-icon="mdiPlus" size="small" @click="draft = { name: '', sizes: {} }"
    >Something in the way</v-btn
  >
</template>

<style scoped>
.hint {
  padding: 2px 0 6px 24px;
}

.row {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(124px, 1fr));
  gap: 10px 6px;
  padding: 8px 0 4px 24px;
}

@media (max-width: 1100px) {
  .row {
    grid-template-columns: 1fr 1fr;
    padding-left: 0;
  }
}
</style>
