<script setup lang="ts">
// One reading or one question of a step: probes, a large field, the predicted band, and what it says.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { AskState, BuildAsk, Change } from '../api/types'
import { readReading } from '../format/reading'
import { show, symbol } from '../format/show'
import VerdictMark from '../ui/VerdictMark.vue'
import AskBand from './AskBand.vue'
import YesNo from './YesNo.vue'

const props = defineProps<{
  ask: BuildAsk
  state: AskState
  waiting?: number
  shut: boolean
  /** What the plan counts on there now. */
  planned?: number | null
  /** The change by which the plan would count on what was read. */
  counts?: Change | null
}>()
const emit = defineEmits<{
  read: [value: number]
  answer: [yes: boolean]
  next: []
  focus: []
  blur: []
  count: []
  why: []
}>()
/** A reading of the circuit that is not as predicted may be asked for its cause. */
const odd = computed(
  () => props.state.found === 'wrong' && !!props.ask.between && props.waiting === undefined,
)
/** What was read and the plan does not count on yet. */
const countable = computed(() => !!props.counts && props.waiting === undefined)

const text = ref('')
const error = ref('')
const field = ref<HTMLInputElement>()
/** Where a thumb types, the number pad is there instead of the keyboard. */
const ownKeys = matchMedia('(pointer: coarse)').matches
/** What was given on last: leaving the field does not give it on again. */
let given = ''

const unit = computed(() => (props.ask.expects.as === 'yes' ? null : props.ask.expects.unit))
const value = computed(() => props.waiting ?? props.state.value ?? null)

/** The number as it stands in the field: its unit stands behind. */
const written = (of: number): string => {
  const shown = show(of, unit.value!)
  const mark = ` ${symbol(unit.value!)}`
  return shown.endsWith(mark) ? shown.slice(0, -mark.length) : shown
}
watch(
  value,
  (now) => {
    given = ''
    if (document.activeElement !== field.value) text.value = now === null ? '' : written(now)
  },
  { immediate: true },
)

const mark = computed(() => {
  if (props.waiting !== undefined) return null
  if (props.state.found === 'wrong') return 'stop'
  return props.state.found === 'right' ? 'fine' : props.state.found === 'noted' ? 'note' : null
})

function keep(): boolean {
  clearTimeout(pause)
  error.value = ''
  const typed = text.value.trim()
  if (!typed) return false
  const read = readReading(typed, unit.value!)
  if (read === null) {
    error.value = `“${typed}” is not a reading in ${symbol(unit.value!)}`
    return false
  }
  if (typed !== given && (value.value === null || typed !== written(value.value))) emit('read', read)
  given = typed
  return true
}

/** A space may stand before a unit, or be a foot switch: it goes on if nothing follows. */
const PAUSE_MS = 500
let pause = 0
onBeforeUnmount(() => clearTimeout(pause))

function onward(): void {
  if (!text.value.trim() || keep()) emit('next')
}

function keys(event: KeyboardEvent): void {
  clearTimeout(pause)
  if (event.key === 'Enter') {
    event.preventDefault()
    onward()
  } else if (event.key === ' ') pause = window.setTimeout(onward, PAUSE_MS)
}

function left(): void {
  keep()
  emit('blur')
}

/** A key of the number pad. */
function press(key: string): void {
  if (key === '⌫') text.value = text.value.slice(0, -1)
  else if (key === '−') text.value = text.value.startsWith('-') ? text.value.slice(1) : `-${text.value}`
  else text.value += key
}

defineExpose({ focus: () => field.value?.focus(), press, enter: () => (text.value.trim() ? keep() : true) })
</script>

<template>
  <div class="ask" :data-ask="ask.key" :class="{ wrong: state.found === 'wrong' }">
    <ol v-if="ask.how.length" class="how">
      <li v-for="line in ask.how" :key="line">{{ line }}</li>
    </ol>
    <template v-if="unit">
      <div class="probes">
        <b>{{ ask.what }}</b>
        <template v-if="ask.red">
          <span class="probe red"><small>red</small> {{ ask.red }}</span>
          <span v-if="ask.black" class="probe black"><small>black</small> {{ ask.black }}</span>
        </template>
      </div>
      <label class="reading">
        <span class="visually-hidden">{{ ask.what }}</span>
        <input
          ref="field"
          v-model="text"
          class="mono"
          type="text"
          :inputmode="ownKeys ? 'none' : 'decimal'"
          autocomplete="off"
          :disabled="shut"
          :aria-invalid="!!error || state.found === 'wrong'"
          @keydown="keys"
          @blur="left"
          @focus="emit('focus')"
        />
        <span class="unit">{{ symbol(unit) }}</span>
      </label>
      <AskBand
        class="band"
        :ask="ask"
        :unit="unit"
        :before="state.before"
        :planned="planned !== value ? planned : null"
        :unsent="waiting !== undefined"
        :from-plan="state.from_plan"
        :error="error"
      />
      <span class="sign"><VerdictMark v-if="mark" :verdict="mark" :size="24" /></span>
    </template>
    <template v-else>
      <span class="question">
        {{ ask.what }} <small v-if="state.from_plan" class="soft">answered before this build</small>
      </span>
      <YesNo :what="ask.what" :yes="state.yes ?? null" :shut="shut" @answer="emit('answer', $event)" />
      <span class="sign"><VerdictMark v-if="mark" :verdict="mark" :size="24" /></span>
    </template>
    <button v-if="odd" type="button" class="textlink count" data-testid="why" @click="emit('why')">
      Why that value?
    </button>
    <button v-if="countable" type="button" class="textlink count" @click="emit('count')">
      Use this in the plan
    </button>
  </div>
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: 132px 168px minmax(0, 1fr) 28px;
  gap: 16px;
  align-items: center;
  padding: 9px 0;
  border-bottom: 1px solid var(--line);
}

.count {
  grid-column: 1 / -1;
  justify-self: start;
}

.probes {
  display: grid;
  gap: 4px;
}

.how {
  grid-column: 1 / -1;
  margin: 4px 0 0;
  padding-left: 22px;
}

.probe {
  padding-left: 9px;
  border-left: 5px solid var(--stop);
  line-height: 1.2;
  overflow-wrap: anywhere;
}

.probe.black {
  border-color: var(--ink);
}

.probe small {
  color: var(--soft);
  font-weight: 400;
}

.reading {
  display: flex;
  align-items: baseline;
  gap: 6px;
  padding: 4px 12px;
  background: var(--sheet);
  border: 2px solid var(--line-strong);
  border-radius: 4px;
}

.reading:focus-within {
  border-color: var(--ink);
}

.wrong .reading {
  border-color: var(--stop);
}

.reading input {
  width: 100%;
  min-width: 0;
  font-size: 28px;
  text-align: right;
  color: var(--ink);
  background: none;
  border: 0;
  outline: none;
}

.unit {
  color: var(--soft);
}

.question {
  grid-column: 1 / 3;
}

@media (max-width: 900px) {
  .ask {
    grid-template-columns: minmax(0, 1fr) 28px;
    gap: 8px;
  }

  .probes {
    grid-template-columns: 1fr 1fr;
    grid-column: 1 / -1;
  }

  .probes b {
    grid-column: 1 / -1;
  }

  .reading {
    grid-column: 1;
  }

  .sign {
    order: 1;
  }

  .band {
    order: 2;
  }

  .reading input {
    font-size: 40px;
  }

  .band {
    grid-column: 1 / -1;
  }

  .question {
    grid-column: 1 / -1;
  }
}
</style>
