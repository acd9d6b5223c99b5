<script setup lang="ts" generic="T extends string">
// One of a few things, chosen by its picture.
import type { Picture } from './pictures'

defineProps<{
  /** What is chosen, for who cannot see it. */
  label: string
  pictures: readonly Picture<T>[]
}>()
const model = defineModel<T | null>({ required: true })
</script>

<template>
  <div class="tiles" role="radiogroup" :aria-label="label">
    <button
      v-for="picture in pictures"
      :key="picture.value"
      type="button"
      role="radio"
      class="tile"
      :aria-checked="model === picture.value"
      :data-picture="picture.value"
      @click="model = picture.value"
    >
      <svg viewBox="0 0 64 40" aria-hidden="true"><path v-for="d in picture.d" :key="d" :d="d" /></svg>
      <b>{{ picture.title }}</b>
      <span class="soft">{{ picture.hint }}</span>
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
