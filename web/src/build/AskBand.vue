<script setup lang="ts">
// What is predicted of a reading and why, what it was before, what the plan counts on, and what is wrong with what was typed.
import { computed } from 'vue'
import type { BuildAsk, Unit } from '../api/types'
import { show } from '../format/show'
import { predictedOf } from './band'

const props = defineProps<{
  ask: BuildAsk
  unit: Unit
  /** Earlier readings, the oldest first. */
  before: number[]
  /** What the plan counts on there now, where that is something else. */
  planned?: number | null
  /** Whether what was typed is still on its way. */
  unsent: boolean
  /** Whether what stands there was read before this build. */
  fromPlan: boolean
  error: string
}>()

const predicted = computed(() => predictedOf(props.ask))
const because = computed(() => (props.ask.expects.as === 'band' ? props.ask.expects.because : ''))
</script>

<template>
  <div class="band">
    <small>predicted</small>
    <span class="mono">{{ predicted }}</span>
    <small v-if="because" class="soft">{{ because }}</small>
    <small v-if="before.length" class="soft">before: {{ before.map((b) => show(b, unit)).join(', ') }}</small>
    <small v-if="planned != null" class="soft">in the plan: {{ show(planned, unit) }}</small>
    <small v-if="unsent" class="soft">not sent yet</small>
    <small v-else-if="fromPlan" class="soft">read before this build</small>
    <small v-if="error" class="error">{{ error }}</small>
  </div>
</template>

<style scoped>
.band {
  display: grid;
  line-height: 1.3;
}

.band small {
  color: var(--soft);
}

.band .error {
  color: var(--stop);
  font-weight: 700;
}
</style>
