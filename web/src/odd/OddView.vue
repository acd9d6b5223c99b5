<script setup lang="ts">
// Something is odd: what is seen, then one reading or one question after the other, with the causes in sight all the time.
import { computed, ref, watch } from 'vue'
import { usePlan } from '../state/plan'
import { useAnswer } from '../state/answer'
import AnswerNote from '../ui/AnswerNote.vue'
import CauseList from './CauseList.vue'
import CauseSheet from './CauseSheet.vue'
import KnownList from './KnownList.vue'
import NextStep from './NextStep.vue'
import SeenPicker from './SeenPicker.vue'
import { useEvidence } from './evidence'
import { percent } from './words'

const { id, plan } = usePlan()
const { known, see, read, answer, clear } = useEvidence(id)

const evidence = computed(() => {
  const { readings, seen, answers } = known.value
  return { readings, seen, answers }
})
/** Without a circuit there is nothing that could be wrong with it. */
const decided = computed(() => {
  const pack = plan.value?.packs[0]
  return pack?.series != null && pack.chemistry != null
})
const begun = computed(() => !!known.value.readings.length || !!known.value.seen.length)
const {
  answer: diagnosis,
  stale,
  problem,
} = useAnswer(() => (begun.value && decided.value ? { about: 'diagnosis', evidence: evidence.value } : null))

/** The cause that is looked at: the first, until another is chosen. */
const chosen = ref(0)
watch(diagnosis, (now) => (chosen.value = now?.lines[0]?.cause ?? 0))
const line = computed(() => diagnosis.value?.lines.find((l) => l.cause === chosen.value) ?? null)
const likeliest = computed(() => diagnosis.value?.lines[0] ?? null)
const cause = computed(() => diagnosis.value?.hypotheses[chosen.value] ?? null)
</script>

<template>
  <header class="page-head">
    <div>
      <h1>Something is odd</h1>
      <p v-if="!begun" class="lead">
        Say what you see, then read or answer one thing at a time. Each answer narrows the causes down; the
        next one always tells the most for the least work.
      </p>
    </div>
    <v-btn v-if="begun" @click="clear">Start again</v-btn>
  </header>
  <AnswerNote :stale="stale" :problem="problem" />
  <p v-if="plan && !decided" class="undecided" data-testid="undecided">
    The causes are searched in the circuit of this plan, and it has none yet. Choose the chemistry and the
    series count in the
    <router-link :to="{ name: 'voltage' }">Voltage stage</router-link> first.
  </p>
  <div class="odd" :class="{ begun }">
    <div class="left">
      <SeenPicker :seen="known.seen" :begun="begun" @see="see" />
      <template v-if="diagnosis && begun">
        <p v-if="likeliest" class="so-far">
          <b>{{ percent(likeliest.probability) }}</b> {{ likeliest.says }}
        </p>
        <NextStep :diagnosis="diagnosis" @read="read" @answer="answer" />
        <KnownList v-model="known" :points="diagnosis.points" />
      </template>
    </div>
    <div v-if="diagnosis && begun" class="right" aria-live="polite">
      <CauseList v-model="chosen" :diagnosis="diagnosis" />
      <CauseSheet v-if="cause" :cause="cause" :line="line" :known="known" :points="diagnosis.points" />
    </div>
  </div>
</template>

<style scoped>
.odd {
  margin-top: 14px;
}

.odd.begun {
  display: grid;
  grid-template-columns: minmax(320px, 5fr) minmax(360px, 6fr);
  gap: 28px;
  align-items: start;
}

.undecided {
  margin: 12px 0 4px;
  padding: 8px 12px;
  max-width: 75ch;
  background: var(--sheet);
  border-left: 5px solid var(--note);
}

/* Beside the list of causes it would say the same twice. */
.so-far {
  display: none;
  margin: 12px 0 0;
}

@media (max-width: 900px) {
  .so-far {
    display: block;
  }

  .odd.begun {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
