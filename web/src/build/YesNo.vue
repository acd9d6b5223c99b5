<script setup lang="ts">
// Two large buttons for a question.
defineProps<{ what: string; yes: boolean | null; shut: boolean }>()
const emit = defineEmits<{ answer: [yes: boolean] }>()
const answers = [
  { yes: true, word: 'Yes' },
  { yes: false, word: 'No' },
]
</script>

<template>
  <span class="answers" role="group" :aria-label="what">
    <button
      v-for="a in answers"
      :key="a.word"
      type="button"
      :class="{ on: yes === a.yes }"
      :aria-pressed="yes === a.yes"
      :disabled="shut"
      @click="emit('answer', a.yes)"
    >
      {{ a.word }}
    </button>
  </span>
</template>

<style scoped>
.answers {
  display: flex;
  gap: 8px;
}

.answers button {
  min-width: 64px;
  min-height: 44px;
  padding: 0 14px;
  font: inherit;
  font-weight: 700;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
}

.answers button:disabled {
  cursor: default;
  opacity: 0.6;
}

.answers .on {
  color: var(--on-strong);
  background: var(--petrol);
  border-color: var(--petrol);
}

@media (max-width: 900px) {
  .answers button {
    min-width: 92px;
    min-height: 54px;
  }
}
</style>
