<script setup lang="ts">
// Keys large enough for a thumb with a probe in the other hand.
import type { Unit } from '../api/types'
import { symbol } from '../format/show'

const props = defineProps<{ unit: Unit }>()
const emit = defineEmits<{ press: [key: string] }>()

const keys = [
  '1',
  '2',
  '3',
  '−',
  '4',
  '5',
  '6',
  '.',
  '7',
  '8',
  '9',
  '⌫',
  `m${symbol(props.unit)}`,
  '0',
  symbol(props.unit),
]
const words: Record<string, string> = { '⌫': 'delete', '−': 'minus' }
</script>

<template>
  <div class="pad" role="group" aria-label="Number pad">
    <!-- On press, so that the field keeps the cursor. -->
    <button
      v-for="key in keys"
      :key="key"
      type="button"
      :aria-label="words[key]"
      @pointerdown.prevent="emit('press', key)"
    >
      {{ key }}
    </button>
    <slot />
  </div>
</template>

<style scoped>
.pad {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 6px;
  margin-top: 12px;
}

.pad :deep(button) {
  min-height: 54px;
  font: inherit;
  font-size: 20px;
  font-weight: 700;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  touch-action: manipulation;
}
</style>
