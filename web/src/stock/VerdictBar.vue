<script setup lang="ts">
// How the cells of a lot came out, as one bar; the words stand in its label.
import { computed } from 'vue'
import { verdictOrder, verdictWords } from './words'

const props = defineProps<{ counts: number[] }>()

const parts = computed(() =>
  verdictOrder.map((verdict, i) => ({ verdict, count: props.counts[i] ?? 0 })).filter((p) => p.count),
)
const words = computed(() => parts.value.map((p) => `${p.count} ${verdictWords[p.verdict]}`).join(', '))
</script>

<template>
  <span v-if="parts.length" class="bar" role="img" :aria-label="words" :title="words">
    <i v-for="p in parts" :key="p.verdict" :class="p.verdict" :style="{ flexGrow: p.count }" />
  </span>
</template>

<style scoped>
.bar {
  display: flex;
  gap: 1px;
  height: 7px;
  margin-top: 4px;
}

i {
  min-width: 2px;
}

.unfinished {
  background: var(--line);
}

.fine {
  background: var(--fine);
}

.watch {
  background: var(--note);
}

.recover {
  background: var(--caution);
}

.scrap {
  background: var(--stop);
}
</style>
