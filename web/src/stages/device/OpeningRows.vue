<script setup lang="ts">
// Holes wanted in the walls of a compartment: what for, through which wall, and what lies behind.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { ref } from 'vue'
import type { Compartment } from '../../api/types'
import { usePlan } from '../../state/plan'
import FigureText from '../../ui/FigureText.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { yesno } from './deviceFields'
import { useDraftRow } from './useDraftRow'

type Opening = NonNullable<Compartment['openings']>[number]

const props = defineProps<{ list: string; place: string; items: Opening[]; metal: boolean }>()
const { set } = usePlan()

const purposes = [
  { value: 'jack', title: 'charge jack' },
  { value: 'lamp', title: 'lamp' },
  { value: 'switch', title: 'switch' },
  { value: 'cable', title: 'cable' },
  { value: 'gauge', title: 'gauge' },
]
const walls = [
  { value: null, title: 'not known' },
  { value: 'x_low', title: 'near end' },
  { value: 'x_high', title: 'far end' },
  { value: 'y_low', title: 'near side' },
  { value: 'y_high', title: 'far side' },
  { value: 'z_low', title: 'floor' },
  { value: 'z_high', title: 'lid' },
]
const depths = [
  ['wall_mm', 'Wall', 'size'],
  ['pad_mm', 'Pad', 'clearance'],
  ['thread_mm', 'Thread reaches', 'size'],
  ['part_mm', 'Part needs', 'size'],
  ['body_mm', 'Part across', 'size'],
  ['behind_mm', 'Free behind', 'size'],
  ['along_mm', 'Along the wall', 'place'],
  ['up_mm', 'Up the wall', 'place'],
] as const

const kept = [
  { value: true, title: 'stays, light led out' },
  { value: false, title: 'replaced, on leads' },
  { value: null, title: 'not decided' },
]
const colours = ['red', 'yellow', 'green', 'blue', 'white'].map((value) => ({ value, title: value }))
const commons = [
  { value: 'anode', title: 'plus (common anode)' },
  { value: 'cathode', title: 'minus (common cathode)' },
  { value: null, title: 'not known' },
]

function putLamp(k: number, o: Opening, field: string, value: unknown): void {
  set(`${props.list}/${k}/lamp`, { ...o.lamp, [field]: value ?? null })
}

/** What is wanted: a hole once its width is there. */
const draft = ref<{ purpose: Opening['purpose'] | null; hole_mm: number | null } | null>(null)

/** On leaving it, not in the middle of a figure. */
function keep(): void {
  const now = draft.value
  if (!now || now.purpose === null || now.hole_mm === null) return
  draft.value = null
  const { purpose, hole_mm } = now
  set(props.list, [...props.items, { purpose, hole_mm, behind_mm: null, wall_mm: null }])
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
    <v-select
      label="Opening for"
      :items="purposes"
      :model-value="o.purpose"
      @update:model-value="set(`${list}/${k}/purpose`, $event)"
    />
    <QuantityField
      label="Hole"
      range="size"
      required
      :model-value="o.hole_mm"
      @update:model-value="set(`${list}/${k}/hole_mm`, $event)"
    />
    <v-select
      label="Through the"
      :items="walls"
      :model-value="o.wall ?? null"
      @update:model-value="set(`${list}/${k}/wall`, $event)"
    />
    <QuantityField
      v-for="[name, label, range] in depths"
      :key="name"
      :label="label"
      :range="range"
      :model-value="o[name]"
      @update:model-value="set(`${list}/${k}/${name}`, $event)"
    />
    <template v-if="o.purpose === 'lamp'">
      <v-select
        label="The module’s lamp"
        :items="kept"
        :model-value="o.lamp?.keeps ?? null"
        :data-at="`${list}/${k}/lamp`"
        @update:model-value="putLamp(k, o, 'keeps', $event)"
      />
      <template v-if="o.lamp?.keeps === false">
        <v-select
          label="Colour"
          :items="colours"
          :model-value="o.lamp.colour ?? null"
          @update:model-value="putLamp(k, o, 'colour', $event)"
        />
        <v-select
          label="Lamps share"
          :items="commons"
          :model-value="o.lamp.common ?? null"
          @update:model-value="putLamp(k, o, 'common', $event)"
        />
        <QuantityField
          label="Between its pads"
          range="device_volts"
          :model-value="o.lamp.fed_v ?? null"
          @update:model-value="putLamp(k, o, 'fed_v', $event)"
        />
        <FigureText :id="`lamp.series_ohm@${place}/${k}`" label="Series resistor" />
      </template>
    </template>
    <v-select
      v-if="metal"
      label="Insulated from the wall"
      :items="yesno"
      :model-value="o.insulated ?? null"
      :data-at="`${list}/${k}/insulated`"
      @update:model-value="set(`${list}/${k}/insulated`, $event)"
    />
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="small"
      aria-label="Remove the opening"
      @click="remove(k)"
    />
  </div>
  <div v-if="draft" ref="row" class="row" :data-at="`${list}/${items.length}`" @focusout="keep">
    <v-select v-model="draft.purpose" label="Opening for" :items="purposes" @update:model-value="keep" />
    <QuantityField v-model="draft.hole_mm" label="Hole" range="size" @update:model-value="came" />
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="small"
      aria-label="Drop the opening"
      @click="draft = null"
    />
  </div>
  <v-btn v-else :prepend-icon="mdiPlus" size="small" @click="draft = { purpose: null, hole_mm: null }"
    >Opening wanted</v-btn
  >
</template>

<style scoped>
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
