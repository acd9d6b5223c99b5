<script setup lang="ts">
// What must be so, and how much each wish counts.
import type { Wish, Wishes } from '../api/types'

const wishes = defineModel<Wishes>({ required: true })

const musts: { key: 'afresh' | 'no_welding' | 'reversible' | 'usb'; title: string }[] = [
  { key: 'afresh', title: 'From the survey alone' },
  { key: 'no_welding', title: 'No welding' },
  { key: 'reversible', title: 'Can be undone' },
  { key: 'usb', title: 'Charged from USB' },
]

const wanted: { value: Wish | null; title: string }[] = [
  { value: null, title: 'all alike' },
  { value: 'at_hand', title: 'what you have' },
  { value: 'simplest', title: 'least work' },
  { value: 'longest', title: 'run time' },
  { value: 'lightest', title: 'weight' },
  { value: 'cheapest', title: 'cost' },
  { value: 'soonest', title: 'days' },
]
const order: Wish[] = ['at_hand', 'simplest', 'longest', 'lightest', 'cheapest', 'soonest']
const EVEN = 0.5

const weight = (i: number) => wishes.value.weights?.[i] ?? EVEN

function weigh(i: number, to: number): void {
  const weights = order.map((_, k) => (k === i ? to : weight(k)))
  wishes.value = { ...wishes.value, weights }
}

const nameOf = (wish: Wish) => wanted.find((w) => w.value === wish)?.title ?? wish
</script>

<template>
  <div class="wishes">
    <div class="musts" role="group" aria-label="What must be so">
      <label v-for="m in musts" :key="m.key">
        <input
          type="checkbox"
          :checked="wishes[m.key]"
          @change="wishes = { ...wishes, [m.key]: ($event.target as HTMLInputElement).checked }"
        />
        {{ m.title }}
      </label>
    </div>
    <div class="order">
      <v-select
        label="Most important"
        :items="wanted"
        :model-value="wishes.first ?? null"
        density="compact"
        @update:model-value="wishes = { ...wishes, first: $event }"
      />
    </div>
    <details>
      <summary>Weigh the wishes</summary>
      <div class="weights">
        <label v-for="(wish, i) in order" :key="wish">
          <span>{{ nameOf(wish) }}</span>
          <input
            type="range"
            min="0"
            max="1"
            step="0.1"
            :value="weight(i)"
            @change="weigh(i, Number(($event.target as HTMLInputElement).value))"
          />
        </label>
      </div>
    </details>
  </div>
</template>

<style scoped>
.wishes {
  display: flex;
  margin: 14px 0 4px;
  flex-wrap: wrap;
  gap: 8px 24px;
  align-items: center;
}

.musts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
}

.musts label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}

.order {
  width: 210px;
}

summary {
  min-height: 24px;
  cursor: pointer;
}

.weights {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 6px 20px;
  margin-top: 8px;
}

.weights label {
  display: grid;
  grid-template-columns: 110px 1fr;
  gap: 8px;
  align-items: center;
}

input[type='range'] {
  width: 100%;
  accent-color: var(--petrol);
}
</style>
