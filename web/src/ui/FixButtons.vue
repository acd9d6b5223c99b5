<script setup lang="ts">
// What clears one finding, as buttons beside the field that it is about.
import { useFixes } from '../state/fixes'
import FixButton from './FixButton.vue'

const props = defineProps<{ finding: string }>()
const { fixes, current } = useFixes(() => props.finding)
</script>

<template>
  <div v-if="fixes?.length" class="fixes" :data-fixes="finding" :inert="!current">
    <FixButton v-for="fix in fixes" :key="fix.label" :fix="fix" />
  </div>
</template>

<style scoped>
.fixes {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0 12px;
}
</style>
