<script setup lang="ts">
// What a meter shows at a probe instead of what it should: asked for its cause.
import { computed, ref } from 'vue'
import type { Condition, Diagram, OddReading, Probe } from '../api/types'
import { readReading } from '../format/reading'
import { readingAt } from '../odd/evidence'

const props = defineProps<{ diagram: Diagram; probe: Probe; condition: Condition }>()
const emit = defineEmits<{ odd: [reading: OddReading] }>()

const text = ref('')
const volts = computed(() => readReading(text.value, 'v'))
const named = computed(() => readingAt(props.diagram, props.probe, props.condition, 0) !== null)

function ask(): void {
  if (volts.value === null) return
  const reading = readingAt(props.diagram, props.probe, props.condition, volts.value)
  if (reading) emit('odd', reading)
}
</script>

<template>
  <form v-if="named" @submit.prevent="ask">
    <label>
      predicted
      <input v-model="text" class="mono" type="text" inputmode="decimal" autocomplete="off" />
      V
    </label>
    <button v-if="volts !== null" type="submit" class="textlink">Why?</button>
  </form>
</template>

<style scoped>
form {
  display: flex;
  gap: 10px;
  align-items: baseline;
}

input {
  width: 84px;
  padding: 2px 8px;
  font-size: 15px;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}
</style>
