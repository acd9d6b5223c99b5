<script setup lang="ts">
// What is lower on a page: made in a frame of its own, after what stands above it is on the screen.
import { useTurn } from '../state/inTurn'

const its = useTurn()
</script>

<template><slot v-if="its" /></template>
