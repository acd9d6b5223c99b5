<script setup lang="ts">
// The reading to take now: how the device stands, where each probe goes, and what it shows.
import { nextTick, ref, watch } from 'vue'
import type { NextReading, OddReading } from '../api/types'
import VoltField from './VoltField.vue'

const props = defineProps<{ next: NextReading; says: (point: string) => string }>()
const emit = defineEmits<{ read: [reading: OddReading] }>()

const field = ref<InstanceType<typeof VoltField>>()
watch(
  () => props.next,
  async () => {
    await nextTick()
    field.value?.empty()
  },
)

function take(volts: number): void {
  const { red, black, condition } = props.next
  emit('read', { red, black, condition, volts })
}
</script>

<template>
  <h2>Read between two points</h2>
  <p class="how">{{ next.how }} Meter on DC voltage, red in its voltage socket.</p>
  <dl class="probes">
    <div class="red">
      <dt>red</dt>
      <dd>{{ says(next.red) }}</dd>
    </div>
    <div class="black">
      <dt>black</dt>
      <dd>{{ says(next.black) }}</dd>
    </div>
  </dl>
  <VoltField ref="field" label="It reads" @take="take" />
</template>

<style scoped>
.how {
  margin: 6px 0 10px;
}

.probes {
  display: grid;
  gap: 6px;
  margin: 0 0 12px;
}

.probes div {
  padding-left: 10px;
  border-left: 6px solid var(--stop);
  line-height: 1.25;
}

.probes .black {
  border-color: var(--ink);
}

dt {
  font-size: 13px;
  color: var(--soft);
}

dd {
  margin: 0;
  font-size: 17px;
  font-weight: 600;
}
</style>
