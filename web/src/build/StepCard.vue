<script setup lang="ts">
// One step: what to do and why, what can hurt, what is read and asked, and how it is left.
import { mdiCameraOutline } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import { api, files } from '../api/client'
import type { BuildStep, Change, ChargeWatch, Problem, StepState, Unit, What } from '../api/types'
import { moment } from '../format/moment'
import { usePlan } from '../state/plan'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import AskField from './AskField.vue'
import ChargeLog from './ChargeLog.vue'
import { countsOn, planned } from './counting'
import NumberPad from './NumberPad.vue'
import StepDrawing from './StepDrawing.vue'
import WaitTimer from './WaitTimer.vue'
import { phaseNames } from './phases'

const props = defineProps<{
  /** Id of the build. */
  build: string
  step: BuildStep
  state: StepState
  number: number
  count: number
  waiting: Map<string, number>
  /** The first charge, for the step that logs it. */
  charge?: ChargeWatch | null
}>()
const emit = defineEmits<{ happen: [what: What]; next: []; count: [change: Change] }>()

const { plan } = usePlan()
/** For each reading the change by which the plan counts on it, where there is one. */
const changes = computed(() =>
  props.step.asks.map((_, i) => (plan.value ? countsOn(plan.value, props.step, props.state, i) : null)),
)
const shut = computed(() => props.state.stands === 'shut')
const holds = computed(() => props.state.stands === 'done' || props.state.stands === 'opened')
const fields = ref<InstanceType<typeof AskField>[]>([])
/** The reading that has the cursor. */
const at = ref<number | null>(null)
const reason = ref('')
const asking = ref(false)
const note = ref('')
const noting = ref(false)
const camera = ref<HTMLInputElement>()
const problem = ref<Problem | null>(null)

const unitOf = (i: number | null): Unit | null => {
  const expects = i === null ? undefined : props.step.asks[i]?.expects
  return expects && expects.as !== 'yes' ? expects.unit : null
}
const unit = computed(() => unitOf(at.value))
/** What the probes are drawn for: the reading that has the cursor, else the first. */
const pointed = computed(() => props.step.asks[at.value ?? 0] ?? null)

watch(
  () => props.step.key,
  async () => {
    at.value = null
    asking.value = false
    noting.value = false
    reason.value = ''
    note.value = ''
    problem.value = null
    await nextTick()
    const first = props.step.asks.findIndex((_, i) => unitOf(i))
    // Where fingers type, the keyboard of the phone stays down: the pad is there.
    if (first >= 0 && !shut.value && matchMedia('(pointer: fine)').matches) fields.value[first]?.focus()
  },
  { immediate: true },
)

/** To the next reading; behind the last, the step is done. */
function onward(from: number): void {
  const following = props.step.asks.findIndex((_, i) => i > from && unitOf(i))
  if (following >= 0) fields.value[following]?.focus()
  else (document.activeElement as HTMLElement | null)?.blur()
}

function enter(): void {
  if (at.value !== null && fields.value[at.value]?.enter()) onward(at.value)
}

function done(): void {
  emit('happen', { what: 'done' })
  emit('next')
}

function open(): void {
  if (!reason.value.trim()) return
  emit('happen', { what: 'opened', reason: reason.value.trim() })
  asking.value = false
  emit('next')
}

function keepNote(): void {
  if (note.value.trim()) emit('happen', { what: 'note', text: note.value.trim() })
  note.value = ''
  noting.value = false
}

async function photographed(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const kept = await api.keepPhoto(file)
  input.value = ''
  problem.value = kept.ok ? null : kept.problem
  if (kept.ok) emit('happen', { what: 'photo', sha256: kept.value.sha256 })
}
</script>

<template>
  <article class="step" :data-step="step.key" :data-stands="state.stands">
    <p class="soft">Step {{ number }} of {{ count }} · {{ phaseNames[step.phase] }}</p>
    <h1 tabindex="-1">{{ step.title }}</h1>
    <p class="why">{{ step.why }}</p>
    <p v-if="step.hazard" class="hazard"><VerdictMark verdict="caution" :size="20" /> {{ step.hazard }}</p>
    <div v-if="shut" class="wall" data-testid="shut">
      <p v-for="said in state.says" :key="said">{{ said }}</p>
    </div>
    <ol v-if="step.how.length" class="how">
      <li v-for="line in step.how" :key="line">{{ line }}</li>
    </ol>
    <StepDrawing v-if="step.shows.length || step.weld" :step="step" :ask="pointed" />
    <WaitTimer v-if="step.wait && !shut" :wait="step.wait" :of="`${build} ${step.key}`" />
    <p v-if="step.tools.length" class="soft tools">Needs: {{ step.tools.join(' · ') }}</p>

    <div class="asks">
      <AskField
        v-for="(ask, i) in step.asks"
        :key="`${step.key} ${ask.key}`"
        :ref="(field) => (fields[i] = field as InstanceType<typeof AskField>)"
        :ask="ask"
        :state="state.asks[i]!"
        :waiting="waiting.get(`${step.key} ${ask.key}`)"
        :shut="shut"
        :planned="plan ? planned(plan, step, i) : null"
        :counts="changes[i] ?? null"
        @read="emit('happen', { what: 'read', ask: ask.key, value: $event })"
        @answer="emit('happen', { what: 'answered', ask: ask.key, yes: $event })"
        @next="onward(i)"
        @count="emit('count', changes[i]!)"
        @focus="at = i"
        @blur="at = null"
      />
    </div>
    <NumberPad v-if="unit && !shut" class="thumb" :unit="unit" @press="fields[at!]?.press($event)">
      <button type="button" @pointerdown.prevent="enter">OK</button>
    </NumberPad>

    <ChargeLog
      v-if="step.logs && charge"
      :watch="charge"
      :shut="shut"
      @log="emit('happen', { what: 'logged', line: $event })"
    />

    <div v-if="state.stands === 'wrong'" class="problem" role="alert" data-testid="wrong">
      <p v-for="said in state.says" :key="said">
        <b>{{ said }}</b>
      </p>
      <p v-if="step.if_not">{{ step.if_not }}</p>
      <p class="soft">
        What needs this step stays shut until it reads right, or until you write down why you go on.
      </p>
    </div>
    <p v-if="state.reason" class="problem quiet">Gone on with: {{ state.reason }}</p>
    <ProblemList v-if="problem" :problem="problem" />

    <div class="buttons">
      <v-btn
        v-if="!holds"
        color="primary"
        variant="flat"
        size="large"
        :disabled="shut || state.stands === 'wrong'"
        @click="done"
        >Done, next</v-btn
      >
      <v-btn v-else color="primary" variant="flat" size="large" @click="emit('next')">Next</v-btn>
      <v-btn v-if="!shut && !holds" size="large" @click="asking = !asking">Go on anyway…</v-btn>
    </div>
    <div class="more">
      <v-btn v-if="holds" @click="emit('happen', { what: 'undone' })">Do it again</v-btn>
      <v-btn variant="text" @click="noting = !noting">Note…</v-btn>
      <v-btn variant="text" :prepend-icon="mdiCameraOutline" @click="camera?.click()">Photo</v-btn>
      <input
        ref="camera"
        class="visually-hidden"
        type="file"
        accept="image/*"
        capture="environment"
        aria-label="Photograph of this step"
        tabindex="-1"
        @change="photographed"
      />
    </div>
    <form v-if="asking" class="words" @submit.prevent="open">
      <v-text-field v-model="reason" label="Why it is right to go on" maxlength="2000" autofocus />
      <v-btn type="submit" :disabled="!reason.trim()">Write it down and go on</v-btn>
    </form>
    <form v-if="noting" class="words" @submit.prevent="keepNote">
      <v-text-field v-model="note" label="Note" maxlength="2000" autofocus />
      <v-btn type="submit" :disabled="!note.trim()">Keep it</v-btn>
    </form>
    <ul v-if="state.notes.length" class="rows">
      <li v-for="(said, i) in state.notes" :key="i">{{ said }}</li>
    </ul>
    <div v-if="state.photos.length" class="photos">
      <a v-for="sha256 in state.photos" :key="sha256" :href="files.photo(sha256)" target="_blank">
        <img :src="files.photo(sha256)" alt="Photograph of this step" loading="lazy" />
      </a>
    </div>
    <p v-if="state.at" class="soft">{{ moment(state.at) }}</p>
  </article>
</template>

<style scoped>
.step {
  max-width: 760px;
}

h1 {
  margin-top: 2px;
  font-size: 24px;
  outline: none;
}

.why {
  margin-top: 6px;
  font-size: 16px;
}

.hazard {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  margin-top: 10px;
  padding: 8px 12px;
  background: var(--caution-tint);
  border-left: 5px solid var(--caution);
  border-radius: 4px;
}

.hazard > :first-child {
  flex: none;
}

.wall {
  margin-top: 10px;
  padding: 8px 12px;
  border: 1px dashed var(--line-strong);
  border-radius: 4px;
}

.how {
  margin: 12px 0 0;
  padding-left: 22px;
  font-size: 16px;
}

.how li {
  padding: 2px 0;
}

.tools,
.photos {
  margin-top: 8px;
}

.asks {
  margin-top: 12px;
}

.problem {
  margin-top: 14px;
}

.quiet {
  border-color: var(--caution);
  background: var(--caution-tint);
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}

.more {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 8px;
}

.words {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: start;
  margin-top: 12px;
}

.photos {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.photos img {
  height: 96px;
  border-radius: 4px;
}

/* Over the buttons while a reading is typed. */
.thumb {
  display: none;
  position: sticky;
  z-index: 2;
  bottom: -40px;
  padding: 8px 0;
  background: var(--paper);
}

@media (max-width: 900px), (pointer: coarse) {
  .thumb {
    display: grid;
  }
}

@media (max-width: 900px) {
  .thumb {
    bottom: -28px;
  }

  .buttons {
    position: sticky;
    z-index: 1;
    bottom: -28px;
    flex-wrap: nowrap;
    padding: 8px 0;
    background: var(--paper);
  }

  .buttons > * {
    min-height: 54px;
  }

  .buttons > :first-child {
    flex: 1;
  }

  h1 {
    font-size: 21px;
  }
}
</style>
