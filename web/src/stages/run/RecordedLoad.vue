<script setup lang="ts">
// A recorded series of currents in the place of the survey's levels.
import FileLink from '../../ui/FileLink.vue'

const recorded = defineModel<string | null>({ required: true })
</script>

<template>
  <span v-if="recorded">
    A recorded series is run, over and over.
    <button type="button" class="textlink" @click="recorded = null">Run the survey’s levels again</button>
  </span>
  <FileLink
    v-else
    label="Run a recorded series of currents"
    name="Recorded series as CSV"
    test-id="recorded"
    @text="recorded = $event"
  />
</template>
