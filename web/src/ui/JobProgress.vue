<script setup lang="ts">
// How far long work is, as a bar; what it does stands below, where the caller says it.
defineProps<{ share: number; label: string }>()
</script>

<template>
  <div role="status">
    <v-progress-linear :model-value="share * 100" color="primary" height="8" :aria-label="label" />
    <slot />
  </div>
</template>
