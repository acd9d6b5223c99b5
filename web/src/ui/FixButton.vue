<script setup lang="ts">
// One change that clears a finding.
import type { Fix } from '../api/types'
import { usePlan } from '../state/plan'

defineProps<{ fix: Fix }>()
const { edit } = usePlan()
</script>

<template>
  <v-btn size="small" data-testid="fix" @click="edit(fix.changes)">{{ fix.label }}</v-btn>
</template>
