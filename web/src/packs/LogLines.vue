<script setup lang="ts">
// The log: an entry a line with its figure at the right; what was wrong stays in sight, struck out with its reason.
import { computed, ref } from 'vue'
import { files } from '../api/client'
import type { LogLine, Problem } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { dayOf } from './words'

const props = defineProps<{
  lines: LogLine[]
  strike: (number: number, reason: string) => Promise<Problem | null>
}>()

/** As many as are drawn at once. */
const PAGE = 60
const shown = ref(PAGE)
const open = ref<number | null>(null)
const reason = ref('')
const problem = ref<Problem | null>(null)
const drawn = computed(() => props.lines.slice(0, shown.value))

function look(number: number): void {
  open.value = open.value === number ? null : number
  reason.value = ''
  problem.value = null
}

async function strikeOut(number: number): Promise<void> {
  problem.value = await props.strike(number, reason.value.trim())
  if (!problem.value) open.value = null
}
</script>

<template>
  <ol class="log">
    <li v-for="line in drawn" :key="line.number" :class="{ struck: line.struck }">
      <button type="button" class="line" :aria-expanded="open === line.number" @click="look(line.number)">
        <span class="soft day">{{ dayOf(line.at_s) }}</span>
        <VerdictMark :verdict="line.severity ?? 'fine'" />
        <b class="title">{{ line.title }}</b>
        <span class="says">{{ line.says }}</span>
        <b class="figure">{{ line.figure }}</b>
      </button>
      <p v-if="line.struck" class="soft why">Struck out: {{ line.struck }}</p>
      <div v-if="open === line.number" class="more">
        <a v-if="line.entry.photo" :href="files.photo(line.entry.photo)" target="_blank">
          <img :src="files.photo(line.entry.photo)" alt="Photograph of this entry" loading="lazy" />
        </a>
        <form v-if="!line.struck" class="strike" @submit.prevent="strikeOut(line.number)">
          <v-text-field v-model="reason" label="It was wrong because" maxlength="2000" hide-details />
          <v-btn type="submit" :disabled="!reason.trim()">Strike out</v-btn>
        </form>
        <ProblemList v-if="problem" :problem="problem" />
      </div>
    </li>
  </ol>
  <v-btn v-if="lines.length > shown" class="after" @click="shown += PAGE">Show earlier entries</v-btn>
</template>

<style scoped>
.log {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--line);
}

.log li {
  border-bottom: 1px solid var(--line);
}

.line {
  display: grid;
  grid-template-columns: 96px 22px 130px minmax(0, 1fr) auto;
  gap: 10px;
  align-items: baseline;
  width: 100%;
  padding: 9px 0;
  text-align: left;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  cursor: pointer;
}

.line :deep(.mark) {
  align-self: start;
  margin-top: 2px;
}

.figure {
  text-align: right;
  white-space: nowrap;
}

.struck .title,
.struck .says,
.struck .figure {
  text-decoration: line-through;
  color: var(--soft);
  font-weight: 400;
}

.why {
  margin: -6px 0 8px 138px;
  font-size: 13px;
}

.more {
  padding: 0 0 12px;
}

.more img {
  max-height: 220px;
  border-radius: 4px;
}

.strike {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
}

@media (max-width: 760px) {
  .line {
    grid-template-columns: 22px minmax(0, 1fr) auto;
    gap: 2px 8px;
  }

  .day {
    grid-column: 2 / 4;
    grid-row: 1;
    font-size: 13px;
  }

  .line :deep(.mark) {
    grid-row: 1 / 3;
    grid-column: 1;
  }

  .title {
    grid-column: 2;
  }

  .says {
    grid-column: 2 / 4;
    grid-row: 3;
  }

  .figure {
    grid-column: 3;
    grid-row: 2;
  }

  .why {
    margin-left: 30px;
  }
}
</style>
