<script setup lang="ts">
// A sentence of core: its figures are written our way and open their working.
import type { Phrase } from '../api/types'
import { runs } from '../format/phrase'
import { show } from '../format/show'
import { openWorking } from '../state/working'

defineProps<{ phrase: Phrase; plain?: boolean }>()
</script>

<template>
  <span>
    <template v-for="({ before, piece, after }, i) in runs(phrase.pieces)" :key="i">
      <template v-if="piece.is === 'text'">{{ piece.text }}</template>
      <span v-else class="value"
        >{{ before
        }}<button
          v-if="piece.figure && !plain"
          type="button"
          class="figure"
          title="Show the calculation"
          @click="openWorking(piece.figure)"
        >
          {{ show(piece.value, piece.unit) }}</button
        ><template v-else>{{ show(piece.value, piece.unit) }}</template
        >{{ after }}</span
      >
    </template>
  </span>
</template>

<style scoped>
.figure {
  font: inherit;
  font-weight: 600;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px dotted currentcolor;
  padding: 0;
  cursor: pointer;
}

.value {
  white-space: nowrap;
}
</style>
