<script setup lang="ts">
// A sentence of core: its figures are written our way and open their working.
import type { Phrase } from '../api/types'
import { show } from '../format/show'
import { openWorking } from '../state/working'

defineProps<{ phrase: Phrase; plain?: boolean }>()
</script>

<template>
  <span>
    <template v-for="(piece, i) in phrase.pieces" :key="i">
      <template v-if="piece.is === 'text'">{{ piece.text }}</template>
      <button
        v-else-if="piece.figure && !plain"
        type="button"
        class="figure"
        :title="'Show the working'"
        @click="openWorking(piece.figure)"
      >
        {{ show(piece.value, piece.unit) }}
      </button>
      <span v-else class="value">{{ show(piece.value, piece.unit) }}</span>
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

.value,
.figure {
  white-space: nowrap;
}
</style>
