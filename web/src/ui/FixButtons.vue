<script setup lang="ts">
// What clears one finding, as buttons beside the field that it is about.
import { useFixes } from '../state/fixes'
import { usePlan } from '../state/plan'

const props = defineProps<{ finding: string }>()
const { edit } = usePlan()
const { fixes } = useFixes(() => props.finding)
</script>

<template>
  <div v-if="fixes?.length" class="fixes" :data-fixes="finding">
    <v-btn v-for="fix in fixes" :key="fix.label" size="small" @click="edit(fix.changes)">{{
      fix.label
    }}</v-btn>
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
