<script setup lang="ts">
// The lots beside the bench: which one is looked at, how many cells it has and how they stand.
import { mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { LotSummary } from '../api/types'
import { useStock } from '../state/stock'
import VerdictBar from './VerdictBar.vue'

const emit = defineEmits<{ look: [lot: string | null]; ask: [lot: LotSummary | null] }>()
const { lots, lotId } = useStock()
const all = computed(() => lots.value?.reduce((sum, l) => sum + l.cells, 0) ?? 0)
</script>

<template>
  <nav aria-label="Lots">
    <button type="button" class="lot" :class="{ here: !lotId }" @click="emit('look', null)">
      <b>Whole stock</b>
      <span class="soft">{{ all }} cells</span>
    </button>
    <div v-for="l in lots" :key="l.id" class="lot" :class="{ here: l.id === lotId }">
      <button type="button" class="name" :aria-pressed="l.id === lotId" @click="emit('look', l.id)">
        <b>{{ l.lot.name }}</b>
        <span class="soft">{{ l.cells }} {{ l.cells === 1 ? 'cell' : 'cells' }}</span>
      </button>
      <VerdictBar :counts="l.verdicts" />
      <button
        v-if="l.id === lotId"
        type="button"
        class="textlink soft"
        :aria-label="`Change ${l.lot.name}`"
        @click="emit('ask', l)"
      >
        Change
      </button>
    </div>
    <v-btn class="new" :prepend-icon="mdiPlus" @click="emit('ask', null)">New lot</v-btn>
  </nav>
</template>

<style scoped>
.lot {
  display: block;
  width: 100%;
  padding: 9px 14px 9px 11px;
  border: 0;
  border-left: 5px solid transparent;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
}

button.lot,
.name {
  cursor: pointer;
}

.lot.here {
  background: var(--petrol-tint);
  border-left-color: var(--petrol);
}

.lot b,
.lot .soft {
  display: block;
}

.name {
  display: block;
  width: 100%;
  border: 0;
  padding: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
}

.new {
  margin: 10px 14px;
}

@media (max-width: 900px) {
  .lot {
    width: auto;
    min-width: 132px;
    padding: 6px 8px;
    border-left-width: 3px;
  }

  .new {
    margin: 8px;
    flex: none;
  }
}
</style>
