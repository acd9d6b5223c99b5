<script setup lang="ts">
// One step: what to do and why, what can hurt, what is read and asked, and how it is left.
import { computed, nextTick, ref, watch } from 'vue'
import type { BuildStep, Change, ChargeWatch, StepState, Unit, What } from '../api/types'
import { moment } from '../format/moment'
import { usePlan } from '../state/plan'
import VerdictMark from '../ui/VerdictMark.vue'
import AskField from './AskField.vue'
import ChargeLog from './ChargeLog.vue'
import { countsOn, planned } from './counting'
import NumberPad from './NumberPad.vue'
import ReasonForm from './ReasonForm.vue'
import StepDrawing from './StepDrawing.vue'
import StepMore from './StepMore.vue'
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
const emit = defineEmits<{ happen: [what: What]; next: []; count: [change: Change]; why: [] }>()

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
const asking = ref(false)

const unitOf = (i: number | null): Unit | null => {
  const expects = i === null ? undefined : props.step.asks[i]?.expects
  return expects && expects.as !== 'yes' ? expects.unit : null
}
const unit = computed(() => unitOf(at.value))
const drawn = computed(() => props.step.shows.length > 0 || !!props.step.weld)
const reads = computed(() => props.step.asks.some((_, i) => unitOf(i)))
/** Whether something of the circuit was read here, so that its cause can be asked for. */
const circuit = computed(() =>
  props.step.asks.some((a, i) => a.between && props.state.asks[i]?.value != null),
)
/** What the probes are drawn for: the reading that has the cursor, else the first. */
const pointed = computed(() => props.step.asks[at.value ?? 0] ?? null)

watch(
  () => props.step.key,
  async () => {
    at.value = null
    asking.value = false
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

function open(reason: string): void {
  emit('happen', { what: 'opened', reason })
  asking.value = false
  emit('next')
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
    <StepDrawing v-if="drawn && !reads" :step="step" :ask="pointed" />
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
        @why="emit('why')"
        @focus="at = i"
        @blur="at = null"
      />
    </div>
    <NumberPad v-if="unit && !shut" class="thumb" :unit="unit" @press="fields[at!]?.press($event)">
      <button type="button" @pointerdown.prevent="enter">OK</button>
    </NumberPad>

    <!-- Where something is read, the fields come first: the points are named beside them. -->
    <StepDrawing v-if="drawn && reads" :step="step" :ask="pointed" />
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
        Steps that need this one stay locked until the reading is right, or until you write down why you go
        on.
      </p>
    </div>
    <p v-if="state.reason" class="problem quiet">Gone on with: {{ state.reason }}</p>

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
    <ReasonForm v-if="asking" :key="step.key" @go-on="open" />
    <StepMore
      :key="step.key"
      :state="state"
      :holds="holds"
      :reads="circuit"
      @happen="emit('happen', $event)"
      @why="emit('why')"
    />
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

.photos {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
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
