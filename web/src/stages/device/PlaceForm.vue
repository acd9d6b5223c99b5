<script setup lang="ts">
// Where the pack goes and what it must bear there: compartments measured inside, obstructions, openings, surroundings.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Ask, Compartment } from '../../api/types'
import { show } from '../../format/show'
import FoldSection from '../../ui/FoldSection.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { usePlan } from '../../state/plan'
import { yesno } from './deviceFields'
import ObstructionRows from './ObstructionRows.vue'
import OpeningRows from './OpeningRows.vue'
import { useDraftRow } from './useDraftRow'

defineProps<{ asks: (ask: Ask) => boolean }>()

const { plan, set } = usePlan()
const compartments = computed<Compartment[]>(() => plan.value?.device.compartments ?? [])
const surroundings = computed(() => plan.value?.device.surroundings)
const list = '/device/compartments'

const shapes = [
  { value: 'box', title: 'box' },
  { value: 'cylinder', title: 'tube or handle' },
]
const sides = {
  box: [
    ['length_mm', 'Length'],
    ['width_mm', 'Width'],
    ['depth_mm', 'Depth'],
  ],
  cylinder: [
    ['diameter_mm', 'Diameter'],
    ['length_mm', 'Length'],
  ],
} as const
const hardships = [
  ['wet', 'Rain or splash'],
  ['dusty', 'Dust, chips, sand'],
  ['chemicals', 'Oil or solvents'],
  ['shocks', 'Drops or kicks'],
  ['vented', 'It has vents'],
] as const

function addCompartment(): void {
  const taken = new Set(compartments.value.map((c) => c.id))
  let number = 1
  while (taken.has(`place-${number}`)) number++
  draft.value = {
    id: `place-${number}`,
    name: compartments.value.length ? 'another place' : 'battery compartment',
    shape: 'box',
    sizes: {},
  }
}

/** A compartment until all its sides are measured: nothing is fitted into it before. */
interface Draft {
  id: string
  name: string
  shape: 'box' | 'cylinder'
  sizes: Record<string, number | null>
}
const draft = ref<Draft | null>(null)

function sizeDraft(side: string, value: number | null | undefined): void {
  const now = draft.value
  if (!now) return
  now.sizes = { ...now.sizes, [side]: value ?? null }
  void came()
}

/** On leaving it, not in the middle of a figure. */
function keepDraft(): void {
  const now = draft.value
  if (!now) return
  if (!sides[now.shape].every(([name]) => now.sizes[name] != null)) return
  const space = { shape: now.shape, ...now.sizes } as Compartment['space']
  draft.value = null
  set(list, [...compartments.value, { id: now.id, name: now.name, space, obstructions: [], openings: [] }])
}

const { came } = useDraftRow('draft-row', keepDraft)

function reshapeDraft(shape: Draft['shape']): void {
  if (draft.value) draft.value = { ...draft.value, shape, sizes: {} }
}

/** A tube is as wide and as deep as it is across; a box that becomes a tube is as wide across as its narrow side. */
function reshape(index: number, shape: 'box' | 'cylinder'): void {
  const old = compartments.value[index]?.space
  if (!old || old.shape === shape) return
  const space =
    old.shape === 'box'
      ? {
          shape,
          diameter_mm: old.depth_mm < old.width_mm ? old.depth_mm : old.width_mm,
          length_mm: old.length_mm,
        }
      : { shape, length_mm: old.length_mm, width_mm: old.diameter_mm, depth_mm: old.diameter_mm }
  set(`${list}/${index}/space`, space)
}

const size = (compartment: Compartment, side: string) =>
  (compartment.space as unknown as Record<string, number>)[side]

function removeAt(pointer: string, items: unknown[], index: number): void {
  set(
    pointer,
    items.filter((_, i) => i !== index),
  )
}

const room = computed(() => {
  const measured = (place: Compartment) =>
    sides[place.space.shape].map(([side]) => show(size(place, side) ?? 0, 'mm')).join(' × ')
  return compartments.value.map((c) => `${c.name} ${measured(c)}`).join(', ') || 'not measured yet'
})
const withstands = computed(() => {
  const hard = hardships.filter(([field]) => surroundings.value?.[field])
  const known = hardships.some(([field]) => surroundings.value?.[field] != null)
  return (
    hard.map(([, words]) => words.toLowerCase()).join(', ') || (known ? 'nothing special' : 'not said yet')
  )
})
</script>

<template>
  <FoldSection v-if="asks('compartment')" name="place" title="Where the pack goes" :summary="room">
    <p class="lead">
      Measured inside. Walls, posts and lamps in the way are boxes, each measured from the near end, the near
      side and the floor.
    </p>
    <div v-for="(place, i) in compartments" :key="place.id" class="place" :data-at="`${list}/${i}`">
      <div class="row">
        <v-text-field
          label="Place"
          :model-value="place.name"
          maxlength="120"
          @update:model-value="$event.trim() && set(`${list}/${i}/name`, $event)"
        />
        <v-select
          label="Shape"
          :items="shapes"
          :model-value="place.space.shape"
          @update:model-value="reshape(i, $event)"
        />
        <QuantityField
          v-for="[side, label] in sides[place.space.shape]"
          :key="side"
          :label="label"
          range="size"
          required
          :model-value="size(place, side)"
          @update:model-value="set(`${list}/${i}/space/${side}`, $event)"
        />
        <v-btn
          :icon="mdiDeleteOutline"
          variant="text"
          size="small"
          :aria-label="`Remove ${place.name}`"
          @click="removeAt(list, compartments, i)"
        />
      </div>
      <ObstructionRows :list="`${list}/${i}/obstructions`" :items="place.obstructions ?? []" />
      <v-select
        class="walls"
        label="Its walls are metal"
        :items="yesno"
        :model-value="place.metal ?? null"
        :data-at="`${list}/${i}/metal`"
        @update:model-value="set(`${list}/${i}/metal`, $event)"
      />
      <OpeningRows
        :list="`${list}/${i}/openings`"
        :place="place.id"
        :items="place.openings ?? []"
        :metal="place.metal === true"
      />
    </div>
    <div
      v-if="draft"
      ref="draft-row"
      class="place"
      :data-at="`${list}/${compartments.length}`"
      @focusout="keepDraft"
    >
      <div class="row">
        <v-text-field v-model="draft.name" label="Place" maxlength="120" />
        <v-select
          label="Shape"
          :items="shapes"
          :model-value="draft.shape"
          @update:model-value="reshapeDraft"
        />
        <QuantityField
          v-for="[side, label] in sides[draft.shape]"
          :key="side"
          :label="label"
          range="size"
          :model-value="draft.sizes[side] ?? null"
          @update:model-value="sizeDraft(side, $event)"
        />
        <v-btn
          :icon="mdiDeleteOutline"
          variant="text"
          size="small"
          :aria-label="`Remove ${draft.name}`"
          @click="draft = null"
        />
      </div>
      <p class="soft">It counts once all its sides are measured.</p>
    </div>
    <v-btn v-else class="after" :prepend-icon="mdiPlus" size="small" @click="addCompartment"
      >Compartment</v-btn
    >
  </FoldSection>
  <FoldSection
    v-if="asks('surroundings') && surroundings"
    name="withstand"
    title="What it must withstand"
    :summary="withstands"
    away
  >
    <div class="fields">
      <v-select
        v-for="[field, label] in hardships"
        :key="field"
        :label="label"
        :items="yesno"
        :data-at="`/device/surroundings/${field}`"
        :model-value="surroundings[field] ?? null"
        @update:model-value="set(`/device/surroundings/${field}`, $event)"
      />
    </div>
  </FoldSection>
</template>

<style scoped>
.place {
  padding: 8px 0 12px;
  border-bottom: 1px solid var(--line);
}

.row {
  display: grid;
  grid-template-columns: minmax(120px, 1.6fr) 130px repeat(3, minmax(80px, 1fr)) 40px;
  gap: 6px;
  padding: 4px 0;
}

.place > :deep(.v-btn) {
  margin: 6px 8px 0 0;
}

.walls {
  max-width: 240px;
  padding-left: 24px;
}

@media (max-width: 1100px) {
  .row {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
