<script setup lang="ts">
// The causes by how well they fit, the likeliest first; unlikely ones fold away.
import { computed } from 'vue'
import type { Diagnosis } from '../api/types'
import { percent } from './words'

const props = defineProps<{ diagnosis: Diagnosis }>()
const chosen = defineModel<number>({ required: true })

const MOST = 7
const shown = computed(() => props.diagnosis.lines.slice(0, MOST))
const rest = computed(() => 1 - shown.value.reduce((all, line) => all + line.probability, 0))
</script>

<template>
  <section data-testid="causes">
    <h2>{{ diagnosis.fits ? 'Possible causes' : 'No known cause fits' }}</h2>
    <p v-if="!diagnosis.sure || !diagnosis.fits" class="outcome" data-testid="outcome">
      {{ diagnosis.says }}
    </p>
    <ol>
      <li v-for="line in shown" :key="line.cause" :data-fault="diagnosis.hypotheses[line.cause]?.fault">
        <button
          type="button"
          :class="{ chosen: chosen === line.cause }"
          :aria-pressed="chosen === line.cause"
          @click="chosen = line.cause"
        >
          <span class="bar" :style="{ width: `${Math.max(line.probability * 100, 1)}%` }" />
          <span class="words">{{ line.says }}</span>
          <b>{{ percent(line.probability) }}</b>
        </button>
      </li>
    </ol>
    <p v-if="rest > 0.005" class="soft">Other causes together {{ percent(rest) }}.</p>
  </section>
</template>

<style scoped>
.outcome {
  margin: 6px 0 12px;
  max-width: 70ch;
}

ol {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  border-top: 1px solid var(--line-strong);
}

li button {
  position: relative;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  width: 100%;
  min-height: 44px;
  padding: 8px 10px;
  font: inherit;
  color: var(--ink);
  text-align: left;
  background: var(--sheet);
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  cursor: pointer;
}

li button.chosen {
  box-shadow: inset 5px 0 0 var(--petrol);
}

.bar {
  position: absolute;
  inset: 0 auto 0 0;
  background: var(--petrol-tint);
}

.words,
li b {
  position: relative;
}

li b {
  text-align: right;
}
</style>
