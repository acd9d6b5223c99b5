<script setup lang="ts">
// What the old battery is, in pictures: words often fail a beginner here.
import type { Chemistry } from '../api/types'

/** A chemistry, nothing known, or no battery at all. */
export type OldBattery = Chemistry | 'unknown' | 'none'

const model = defineModel<OldBattery | null>({ required: true })

/** Each drawn in a box of 64 by 40. */
const tiles: { value: OldBattery; title: string; hint: string; d: string[] }[] = [
  {
    value: 'nickel',
    title: 'NiMH or NiCd',
    hint: 'round cells in a sleeve or a tool pack; 1.2 V each',
    d: [
      'M8 10h12v22H8z',
      'M22 10h12v22H22z',
      'M36 10h12v22H36z',
      'M11 10V7h6v3',
      'M25 10V7h6v3',
      'M39 10V7h6v3',
      'M5 14h46v12H5z',
    ],
  },
  {
    value: 'lead_acid',
    title: 'Lead-acid',
    hint: 'heavy block, 6 or 12 V, two flat tabs on top',
    d: ['M8 12h48v22H8z', 'M14 12V7h6v5', 'M44 12V7h6v5', 'M8 18h48', 'M14 26h6', 'M44 26h6M47 23v6'],
  },
  {
    value: 'alkaline',
    title: 'Alkaline or zinc',
    hint: 'single cells you put in; not charged',
    d: ['M6 8h52v11H6z', 'M58 11h3v5h-3', 'M6 22h52v11H6z', 'M6 25H3v5h3', 'M14 8v11', 'M50 22v11'],
  },
  {
    value: 'li_ion',
    title: 'Li-ion',
    hint: 'round cells or a flat block; 3.6 or 3.7 V each',
    d: ['M14 6h14v28H14z', 'M17 6V3h8v3', 'M34 6h14v28H34z', 'M37 6V3h8v3', 'M14 12h14', 'M34 12h14'],
  },
  {
    value: 'li_po',
    title: 'LiPo pouch',
    hint: 'soft silver or sleeved pouch with two plugs',
    d: ['M6 12h40v20H6z', 'M46 17h7v3h5', 'M46 27h5v3h7', 'M6 16h40', 'M12 22h20'],
  },
  {
    value: 'li_fe_po4',
    title: 'LiFePO4',
    hint: '3.2 V per cell; “LFP” on the label',
    d: ['M10 9h44v25H10z', 'M18 9V5h6v4', 'M40 9V5h6v4', 'M18 22h28', 'M32 15v14'],
  },
  {
    value: 'none',
    title: 'No battery yet',
    hint: 'it is built new',
    d: ['M12 10h40v22H12z', 'M12 10l40 22', 'M52 14h4v14h-4'],
  },
  {
    value: 'unknown',
    title: 'I do not know',
    hint: 'how to find out stands below',
    d: ['M12 10h40v22H12z', 'M52 16h4v10h-4', 'M28 18a4 4 0 1 1 6 3c-2 1-2 2-2 3', 'M32 27v1'],
  },
]
</script>

<template>
  <div class="tiles" role="radiogroup" aria-label="What the old battery is">
    <button
      v-for="t in tiles"
      :key="t.value"
      type="button"
      role="radio"
      class="tile"
      :aria-checked="model === t.value"
      :data-battery="t.value"
      @click="model = t.value"
    >
      <svg viewBox="0 0 64 40" aria-hidden="true"><path v-for="d in t.d" :key="d" :d="d" /></svg>
      <b>{{ t.title }}</b>
      <span class="soft">{{ t.hint }}</span>
    </button>
  </div>
</template>

<style scoped>
.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 10px;
}

.tile {
  display: grid;
  gap: 2px;
  align-content: start;
  justify-items: start;
  padding: 10px 12px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.tile[aria-checked='true'] {
  border-color: var(--petrol);
  box-shadow: inset 0 0 0 2px var(--petrol);
  background: var(--petrol-tint);
}

svg {
  width: 64px;
  height: 40px;
  fill: none;
  stroke: var(--copper);
  stroke-width: 1.6;
}

.soft {
  font-size: 13px;
}
</style>
