<script setup lang="ts">
// Where the board sits, and what it guards there. Core says which runs move.
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import AnswerNote from '../../ui/AnswerNote.vue'

const { edit } = usePlan()
const { answer: places, stale, problem } = useAnswer(() => ({ about: 'board_places' }))
</script>

<template>
  <fieldset v-if="places?.length" class="places" data-testid="board-places">
    <legend>The board sits</legend>
    <AnswerNote :stale="stale" :problem="problem" />
    <label v-for="p in places" :key="p.name" :class="{ chosen: p.chosen }">
      <input type="radio" name="board-place" :checked="p.chosen" @change="edit(p.changes)" />
      <span
        ><b>{{ p.name }}</b> <span class="guards">{{ p.guards }}</span></span
      >
    </label>
  </fieldset>
</template>

<style scoped>
.places {
  border: 0;
  padding: 4px 0 12px;
  display: grid;
  gap: 4px;
}

legend {
  padding: 0;
  font-size: 14px;
  color: var(--soft);
}

label {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-size: 14px;
  cursor: pointer;
}

input {
  accent-color: var(--petrol);
}

.guards {
  color: var(--soft);
}
</style>
