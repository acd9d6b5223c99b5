<script setup lang="ts">
// Says that what stands below is not of the plan as it is now, and why.
import type { Problem } from '../api/types'
import { usePlan } from '../state/plan'

defineProps<{ stale: boolean; problem: Problem | null }>()

/** The page says already why nothing of this plan can be had. */
const { away, problem: ofPage } = usePlan()
</script>

<template>
  <p v-if="problem" class="note" role="status" data-testid="not-of-this-plan">
    <b>{{ stale ? 'From before your last change.' : 'Not calculated.' }}</b>
    <template v-if="!away && !ofPage">{{ problem.title }}. {{ problem.detail }}</template>
  </p>
</template>

<style scoped>
.note {
  margin: 6px 0 10px;
  padding: 7px 10px;
  border-left: 3px solid var(--copper);
  background: var(--copper-tint);
}
</style>
