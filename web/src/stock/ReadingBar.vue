<script setup lang="ts">
// What is read now and how: chosen once, then one reading after the other.
import { computed } from 'vue'
import type { Method, ReadingKind } from '../api/types'
import QuantityField from '../ui/QuantityField.vue'
import { reading } from './readingMode'
import { kinds, methods } from './words'

const items = [{ value: null, title: 'nothing: just look' }, ...kinds] as {
  value: ReadingKind | null
  title: string
}[]
const ways = methods as unknown as { value: Method | null; title: string }[]

const advice = computed(() => {
  switch (reading.kind) {
    case 'arrival_v':
      return 'As it came, before you charge anything.'
    case 'resistance_ohm':
      return 'Put the cell in afresh and read three times: over 20 % apart does not count. One instrument, one sitting.'
    case 'capacity_ah':
      return 'Full, rested, then down to the cut-off at the same current for all.'
    case 'rested_v':
      return 'Full and rested a day; read again after one to two weeks. Two readings show the self-discharge.'
    case 'self_discharge_v':
      return 'Only if you noted the loss and not the two readings.'
    default:
      return ''
  }
})
</script>

<template>
  <section class="reading" aria-label="What is read">
    <v-select v-model="reading.kind" class="kind" label="I am reading" :items="items" />
    <template v-if="reading.kind">
      <v-text-field v-model="reading.instrument" class="wide" label="Instrument" maxlength="80" />
      <v-select
        v-if="reading.kind === 'resistance_ohm'"
        v-model="reading.method"
        label="Method"
        :items="ways"
      />
      <QuantityField
        v-if="reading.kind === 'resistance_ohm'"
        v-model="reading.soc_share"
        label="State of charge"
        range="soc"
      />
      <QuantityField
        v-if="reading.kind === 'capacity_ah'"
        v-model="reading.rate_a"
        label="At"
        range="current"
      />
      <QuantityField
        v-if="reading.kind === 'capacity_ah'"
        v-model="reading.cutoff_v"
        label="Down to"
        range="cell_volts"
      />
      <QuantityField
        v-if="reading.kind === 'self_discharge_v'"
        v-model="reading.rest_s"
        label="Over"
        range="rest"
      />
      <QuantityField v-model="reading.temperature_c" label="Temperature" range="temperature" />
      <v-text-field v-model="reading.taken_at" label="When" placeholder="now" persistent-placeholder />
    </template>
    <p v-if="advice" class="soft advice">
      {{ advice }} Type, Enter: next cell. A column pasted fills downwards.
    </p>
  </section>
</template>

<style scoped>
.reading {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 8px;
  align-items: start;
}

.kind {
  grid-column: span 2;
}

.advice {
  grid-column: 1 / -1;
}
</style>
