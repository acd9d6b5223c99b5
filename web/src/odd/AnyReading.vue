<script setup lang="ts">
// A reading that was taken anyway, between any two points.
import { ref } from 'vue'
import type { OddReading, PointName, ReadAt } from '../api/types'
import VoltField from './VoltField.vue'
import { conditions } from './words'

defineProps<{ points: PointName[] }>()
const emit = defineEmits<{ read: [reading: OddReading] }>()

const red = ref<string | null>(null)
const black = ref<string | null>(null)
const condition = ref<ReadAt>('rest')
const field = ref<InstanceType<typeof VoltField>>()

function take(volts: number): void {
  if (!red.value || !black.value) return
  emit('read', { red: red.value, black: black.value, condition: condition.value, volts })
  field.value?.empty()
}
</script>

<template>
  <details class="any">
    <summary class="soft">Another reading of yours</summary>
    <div class="fields">
      <v-select v-model="red" label="Red on" :items="points" item-title="says" item-value="name" />
      <v-select v-model="black" label="Black on" :items="points" item-title="says" item-value="name" />
      <v-select v-model="condition" label="The device" :items="conditions" />
      <VoltField v-if="red && black" ref="field" label="It read" @take="take" />
    </div>
  </details>
</template>

<style scoped>
.any {
  margin-top: 12px;
}

summary {
  cursor: pointer;
}

.fields {
  display: grid;
  gap: 10px;
  margin-top: 10px;
}
</style>
