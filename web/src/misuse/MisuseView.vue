<script setup lang="ts">
// "Later, somebody will...": foreseeable misuse, each with what happens, what prevents it, and the words for a label.
import { mdiPrinterOutline } from '@mdi/js'
import { computed } from 'vue'
import { files } from '../api/client'
import type { Prevented } from '../api/types'
import { useAnswer } from '../state/answer'
import { usePlan } from '../state/plan'
import AnswerNote from '../ui/AnswerNote.vue'
import VerdictMark from '../ui/VerdictMark.vue'

const { id } = usePlan()
const { answer, stale, problem } = useAnswer(() => ({ about: 'later' }))
const all = computed(() => answer.value ?? [])
const labelled = computed(() => all.value.filter((m) => m.label))

const marks: Record<Prevented, 'fine' | 'note' | 'caution' | 'nothing_yet'> = {
  by_design: 'fine',
  by_label: 'note',
  not_yet: 'caution',
  unknown: 'nothing_yet',
}
const stands: Record<Prevented, string> = {
  by_design: 'prevented',
  by_label: 'a label only',
  not_yet: 'nothing prevents it yet',
  unknown: 'not known yet',
}
</script>

<template>
  <header class="page-head">
    <div>
      <h1>What could go wrong later</h1>
      <p class="lead">
        Someone else will use the device one day. What they might do to it, what happens then, and what
        prevents it.
      </p>
    </div>
    <v-btn
      v-if="labelled.length"
      :prepend-icon="mdiPrinterOutline"
      :href="files.sheet(id, 'warnings')"
      target="_blank"
      >Print the label</v-btn
    >
  </header>
  <AnswerNote :stale="stale" :problem="problem" />
  <p v-if="answer && !all.length" class="soft section">
    Nothing to show yet: choose the voltage and the cells first.
  </p>
  <ul class="rows section cases">
    <li v-for="m in all" :key="m.id" :data-misuse="m.id" :data-prevented="m.prevented">
      <VerdictMark :verdict="marks[m.prevented]" />
      <div>
        <b>… {{ m.title }}</b> <span class="soft">{{ stands[m.prevented] }}</span>
        <p>{{ m.happens }}</p>
        <p class="soft">{{ m.by }}</p>
        <p v-if="m.label" class="label">{{ m.label }}</p>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.cases > li {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr);
  align-items: start;
  padding: 10px 0;
}

.cases p {
  margin: 2px 0 0;
  max-width: 75ch;
}

.label {
  display: inline-block;
  margin-top: 6px;
  padding: 3px 9px;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  font-weight: 600;
}
</style>
