<script setup lang="ts">
// The shape of a verdict: octagon, triangle, ring, tick, half ring while questions are open, small empty ring. Always with a word for those who hear.
import { computed } from 'vue'
import type { Severity, Verdict } from '../api/types'

const props = defineProps<{ verdict: Verdict | Severity | 'fine'; size?: number }>()

const words: Record<string, string> = {
  stop: 'stop',
  caution: 'caution',
  note: 'note',
  fine: 'fine',
  open: 'questions open',
  nothing_yet: 'nothing yet',
}
const word = computed(() => words[props.verdict] ?? '')
</script>

<template>
  <svg
    class="mark"
    :width="size ?? 18"
    :height="size ?? 18"
    viewBox="0 0 20 20"
    role="img"
    :aria-label="word"
  >
    <template v-if="verdict === 'stop'">
      <path d="M6.3 1h7.4L19 6.3v7.4L13.7 19H6.3L1 13.7V6.3Z" fill="var(--stop)" />
      <rect x="5" y="8.6" width="10" height="2.8" fill="var(--on-strong)" />
    </template>
    <template v-else-if="verdict === 'caution'">
      <path d="M10 1.5 19.2 18H.8Z" fill="var(--caution)" />
      <rect x="9" y="7" width="2" height="5.5" fill="var(--on-strong)" />
      <rect x="9" y="14" width="2" height="2" fill="var(--on-strong)" />
    </template>
    <template v-else-if="verdict === 'note'">
      <circle cx="10" cy="10" r="8" fill="none" stroke="var(--note)" stroke-width="2" />
      <rect x="9" y="8.6" width="2" height="6" fill="var(--note)" />
      <rect x="9" y="5.2" width="2" height="2" fill="var(--note)" />
    </template>
    <path
      v-else-if="verdict === 'fine'"
      d="m3 10.5 4.6 4.6L17 5.5"
      fill="none"
      stroke="var(--fine)"
      stroke-width="2.4"
    />
    <template v-else-if="verdict === 'open'">
      <circle cx="10" cy="10" r="6" fill="none" stroke="var(--petrol)" stroke-width="2" />
      <path d="M10 4a6 6 0 0 1 0 12Z" fill="var(--petrol)" />
    </template>
    <circle v-else cx="10" cy="10" r="4" fill="none" stroke="var(--line-strong)" stroke-width="2" />
  </svg>
</template>

<style scoped>
.mark {
  flex: none;
  display: block;
}
</style>
