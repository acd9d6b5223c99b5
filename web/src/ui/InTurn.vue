<script setup lang="ts">
// What is lower on a page: made in a frame of its own, after what stands above it is on the screen.
import { onMounted, ref } from 'vue'
import { inTurn } from '../state/folds'

const its = ref(false)
onMounted(() => inTurn(() => (its.value = true)))
</script>

<template><slot v-if="its" /></template>
