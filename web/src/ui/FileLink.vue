<script setup lang="ts">
// A file of text that is taken in: a link to the eye, a file chooser to the keyboard.
defineProps<{ label: string; name: string; testId: string }>()
const emit = defineEmits<{ text: [text: string] }>()

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) emit('text', await file.text())
  input.value = ''
}
</script>

<template>
  <label class="file">
    <span class="textlink">{{ label }}</span>
    <input
      type="file"
      accept=".csv,.txt,text/csv,text/plain"
      :aria-label="name"
      :data-testid="testId"
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
