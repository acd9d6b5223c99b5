<script setup lang="ts">
// Why something was refused: every field that is wrong, or the problem as a whole.
import { computed } from 'vue'
import type { Problem } from '../api/types'

const props = defineProps<{ problem: Problem }>()

const words = computed(() => {
  const { errors, detail } = props.problem
  return errors.length ? errors.map((e) => e.message) : [detail]
})
</script>

<template>
  <ul role="alert">
    <li v-for="(line, i) in words" :key="i">{{ line }}</li>
  </ul>
</template>

<style scoped>
ul {
  margin: 10px 0 0;
  padding: 8px 10px 8px 28px;
  border-left: 5px solid var(--stop);
  background: var(--stop-tint);
  font-size: 14px;
}
</style>
