<script setup lang="ts">
// A figure with how it is known, and on which meter it was read; empty is unknown.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { How, Known } from '../api/types'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import HowKnown from './HowKnown.vue'
import QuantityField from './QuantityField.vue'

const props = defineProps<{
  label: string
  range: string
  required?: boolean
  hint?: string
  /** How it is known, where nobody has to say. */
  as?: How
  /** A value that the screen put there for something to stand there: typed over, it is no longer assumed. */
  invented?: boolean
}>()
const model = defineModel<Known | null | undefined>({ required: true })

const { plan } = usePlan()
const { range: rangeOf } = useReference()

const ways: { value: How; title: string }[] = [
  { value: 'measured', title: 'measured' },
  { value: 'stated', title: 'stated' },
  { value: 'assumed', title: 'assumed' },
  { value: 'lower_bound', title: 'at least' },
]
/** Worked out is nothing to choose: it stands where core worked it out. */
const hows = computed(() =>
  model.value?.how === 'computed' ? [...ways, { value: 'computed' as How, title: 'calculated' }] : ways,
)
const units = { volts: 'v', amps: 'a', ohms: 'ohm', watts: 'w' } as const

const unit = computed(() => rangeOf(props.range)?.unit)
/** Meters at hand that read this unit. */
const meters = computed(() => plan.value?.meters?.filter((m) => units[m.reads] === unit.value) ?? [])
const asksMeter = computed(
  () => !!meters.value.length && (model.value?.how === 'measured' || model.value?.how === 'lower_bound'),
)
const trouble = ref('')
const blank: Omit<Known, 'value'> = { how: props.as ?? 'stated', error: null, meter: null }

const value = computed({
  get: () => model.value?.value ?? null,
  set: (now: number | null) => {
    if (now === null) model.value = null
    else if (model.value?.how === 'computed' || props.invented) void take({ ...blank, value: now })
    else void take({ ...blank, ...model.value, value: now })
  },
})
const how = (now: How) => model.value && (model.value = { ...model.value, how: now })
const by = (name: string | null) => model.value && void take({ ...model.value, meter: name, error: null })

/** Takes a reading with the error that its meter leaves; one the meter cannot give is refused in place. */
async function take(reading: Known): Promise<void> {
  trouble.value = ''
  const by = meters.value.find((m) => m.name === reading.meter)
  if (!by || !unit.value) {
    model.value = reading
    return
  }
  const answer = await api.reading(by, reading.value, unit.value)
  if (answer.ok) model.value = { ...reading, error: answer.value.error }
  else trouble.value = answer.problem.errors[0]?.message ?? answer.problem.detail
}

watch(model, () => (trouble.value = ''))

const said = computed(() => {
  const error = model.value?.error
  return error && unit.value ? `± ${show(error, unit.value)}` : ''
})
const beneath = computed(() => [model.value?.meter, said.value].filter(Boolean).join(': ') || props.hint)
</script>

<template>
  <QuantityField
    v-model="value"
    :label="label"
    :range="range"
    :required="required"
    :hint="beneath"
    :trouble="trouble"
  >
    <template v-if="model && (!as || asksMeter)" #known>
      <HowKnown
        :label="label"
        :how="model.how"
        :hows="as ? hows.filter((h) => h.value === model?.how) : hows"
        :meter="model.meter ?? null"
        :meters="asksMeter ? meters.map((m) => m.name) : []"
        @how="how"
        @meter="by"
      />
    </template>
  </QuantityField>
</template>
