<script setup lang="ts">
// Tests of the parts on arrival, on dummy cells: what to do, what to read, a place for what was read, and what it says.
import { computed } from 'vue'
import type { Arrival, PartTests, TestReport } from '../api/types'
import { show, showRange } from '../format/show'
import { useAnswer } from '../state/answer'
import { usePlan } from '../state/plan'
import AnswerNote from './AnswerNote.vue'
import FoldSection from './FoldSection.vue'
import KnownField from './KnownField.vue'
import QuantityField from './QuantityField.vue'
import VerdictMark from './VerdictMark.vue'

const props = defineProps<{ kinds: string[]; lead: string }>()

const { plan, edit, set } = usePlan()
const { answer: all, stale, problem } = useAnswer(() => ({ about: 'arrival_tests' }))
const parts = computed(() =>
  (all.value ?? []).filter((p) =>
    props.kinds.includes(plan.value?.nodes.find((n) => n.id === p.place)?.kind ?? ''),
  ),
)

const verdicts = { right: 'fine', wrong: 'stop', unsettled: 'caution', open: 'nothing_yet' } as const

/** Writes the outcome of a test; one of another part at the same place is replaced. */
function write(part: PartTests, report: TestReport, outcome: Partial<Arrival> | null): void {
  const others = (plan.value?.arrivals ?? []).filter(
    (a) => a.place !== part.place || a.test !== report.test.id || a.part !== part.part,
  )
  const one = { place: part.place, test: report.test.id, part: part.part }
  set('/arrivals', outcome ? [...others, { ...one, ...outcome }] : others)
}

function expected(report: TestReport): string {
  const e = report.test.expected
  if (!e) return report.test.question ?? ''
  return e.low === 0 ? `at most ${show(e.high, e.unit)}` : showRange(e.low, e.high, e.unit)
}

function progress(part: PartTests): string {
  const done = part.tests.filter((t) => t.outcome !== 'open').length
  const wrong = part.tests.filter((t) => t.outcome === 'wrong').length
  return `${done} of ${part.tests.length} done${wrong ? `, ${wrong} failed` : ''}`
}

/** Whether a part is tested on a capacitor behind a resistor: other values than those proposed may be at hand. */
const onDummy = (part: PartTests) => part.tests.some((t) => t.test.id === 'rise')

const worst = (part: PartTests) =>
  part.tests.some((t) => t.outcome === 'wrong')
    ? 'stop'
    : part.tests.some((t) => t.outcome === 'unsettled')
      ? 'caution'
      : part.tests.every((t) => t.outcome === 'right')
        ? 'fine'
        : 'nothing_yet'
</script>

<template>
  <FoldSection
    v-if="parts.length"
    name="arrival"
    title="Tests on arrival"
    :summary="parts.map((p) => `${p.part}: ${progress(p)}`).join('; ')"
    data-testid="arrival"
  >
    <p class="lead">{{ lead }}</p>
    <AnswerNote :stale="stale" :problem="problem" />
    <details v-for="p in parts" :key="p.place" class="part" :data-part="p.place">
      <summary>
        <VerdictMark :verdict="worst(p)" />
        <b>{{ p.part }}</b>
        <span class="soft">{{ progress(p) }}</span>
      </summary>
      <p class="needs"><b>Prepare:</b> {{ p.needs.join('; ') }}.</p>
      <div v-if="onDummy(p)" class="own">
        <QuantityField
          label="Resistor at hand"
          range="load_ohm"
          placeholder="as proposed"
          :model-value="plan?.dummy?.resistor_ohm ?? null"
          @update:model-value="set('/dummy/resistor_ohm', $event)"
        />
        <QuantityField
          label="Capacitor at hand"
          range="capacitance"
          placeholder="as proposed"
          :model-value="plan?.dummy?.capacitor_f ?? null"
          @update:model-value="set('/dummy/capacitor_f', $event)"
        />
      </div>
      <ol>
        <li v-for="t in p.tests" :key="t.test.id" :data-test="t.test.id">
          <div class="what">
            <VerdictMark :verdict="verdicts[t.outcome]" />
            <h3>{{ t.test.title }}</h3>
          </div>
          <ol class="steps">
            <li v-for="(s, i) in t.test.steps" :key="i">{{ s }}</li>
          </ol>
          <p class="right">
            <b>{{ t.test.expected ? 'Right:' : 'Ask:' }}</b> {{ expected(t)
            }}<span v-if="t.test.expected" class="soft">, {{ t.test.expected.because }}</span>
          </p>
          <div v-if="t.test.expected" class="read">
            <KnownField
              as="measured"
              label="As measured"
              :range="t.test.expected.range"
              :model-value="t.done?.reading ?? null"
              @update:model-value="write(p, t, $event ? { reading: $event, passed: null } : null)"
            />
          </div>
          <div v-else class="answer">
            <v-btn
              size="small"
              :variant="t.done?.passed === true ? 'flat' : 'outlined'"
              :aria-pressed="t.done?.passed === true"
              @click="write(p, t, t.done?.passed === true ? null : { reading: null, passed: true })"
              >Yes</v-btn
            >
            <v-btn
              size="small"
              :variant="t.done?.passed === false ? 'flat' : 'outlined'"
              :aria-pressed="t.done?.passed === false"
              @click="write(p, t, t.done?.passed === false ? null : { reading: null, passed: false })"
              >No</v-btn
            >
          </div>
          <p v-if="t.words" class="words" :class="t.outcome" role="status">
            {{ t.words }}
            <v-btn v-if="t.adopt.length && t.outcome === 'right'" size="small" @click="edit(t.adopt)"
              >Use this reading</v-btn
            >
          </p>
        </li>
      </ol>
    </details>
  </FoldSection>
</template>

<style scoped>
.part {
  border-top: 1px solid var(--line-strong);
}

summary {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
  padding: 10px 0;
  cursor: pointer;
}

.own {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(160px, 220px));
  gap: 8px;
  margin-top: 10px;
}

.needs {
  padding: 8px 12px;
  background: var(--petrol-tint);
  font-size: 14px;
}

ol:not(.steps) {
  list-style: none;
  margin: 0;
  padding: 0;
}

ol:not(.steps) > li {
  padding: 12px 0;
  border-bottom: 1px solid var(--line);
}

.what {
  display: flex;
  align-items: center;
  gap: 10px;
}

.steps {
  margin: 4px 0;
  padding-left: 50px;
}

.right {
  margin: 6px 0;
}

.right,
.read,
.answer,
.words {
  margin-left: 32px;
}

.read {
  max-width: 380px;
}

.answer {
  display: flex;
  gap: 8px;
}

.words {
  margin-top: 6px;
  font-weight: 600;
}

.words.wrong {
  color: var(--stop);
}

@media (max-width: 600px) {
  .steps {
    padding-left: 20px;
  }

  .right,
  .read,
  .answer,
  .words {
    margin-left: 0;
  }
}
</style>
