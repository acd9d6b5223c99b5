<script setup lang="ts">
// The cell holder that is printed: its sizes. The pitch follows from the gap between cells.
import { computed } from 'vue'
import QuantityField from '../../ui/QuantityField.vue'
import { usePlan } from '../../state/plan'

const { plan, set } = usePlan()
const brick = computed(() => plan.value?.packs[0]?.brick)
const holder = computed(() => brick.value?.holder)
const fields = [
  ['clearance_mm', 'Clearance on the diameter', 'holder_clearance'],
  ['wall_mm', 'Outer wall', 'holder_wall'],
  ['lip_mm', 'Lip over the cell’s end', 'holder_lip'],
  ['floor_mm', 'Thickness of the lip', 'holder_wall'],
  ['height_mm', 'Height', 'holder_height'],
] as const
</script>

<template>
  <div v-if="holder && brick" class="fields after">
    <QuantityField
      label="Between cells"
      range="clearance"
      required
      :model-value="brick.clearances?.gap_mm ?? 0"
      @update:model-value="set('/packs/0/brick/clearances/gap_mm', $event)"
    />
    <QuantityField
      v-for="[name, label, range] in fields"
      :key="name"
      :label="label"
      :range="range"
      required
      :model-value="holder[name] ?? 0"
      @update:model-value="set(`/packs/0/brick/holder/${name}`, $event)"
    />
  </div>
</template>
