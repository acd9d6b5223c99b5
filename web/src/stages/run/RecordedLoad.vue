<script setup lang="ts">
// A recorded series of currents in the place of the survey's levels.
const recorded = defineModel<string | null>({ required: true })

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) recorded.value = await file.text()
  input.value = ''
}
</script>

<template>
  <span v-if="recorded">
    A recorded series is run, over and over.
    <button type="button" class="textlink" @click="recorded = null">Run the survey’s levels again</button>
  </span>
  <label v-else class="file">
    <span class="textlink">Run a recorded series of currents</span>
    <input
      type="file"
      accept=".csv,.txt,text/csv,text/plain"
      aria-label="Recorded series as CSV"
      @change="take"
    />
  </label>
</template>

<style scoped>
.file input {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}

.file:focus-within .textlink {
  outline: 2px solid var(--petrol);
  outline-offset: 2px;
}
</style>
