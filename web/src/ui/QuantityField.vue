<script setup lang="ts">
// The one field for figures: read by core as typed, refused in place with what would be right.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import { show, showFine, SPACE, symbol } from '../format/show'
import { useReference } from '../state/reference'
import { tellRefusal } from './refusals'
import { turns } from '../state/turns'

const props = defineProps<{
  label: string
  range: string
  /** A value must stand here; otherwise an empty field means unknown. */
  required?: boolean
  hint?: string
  /** What is wrong with it beside the figure itself. */
  trouble?: string
  /** What an empty field means. */
  placeholder?: string
}>()
const model = defineModel<number | null | undefined>({ required: true })

const { range: rangeOf } = useReference()
const text = ref('')
const error = ref('')
const focused = ref(false)
/** What stood here when the cursor came. */
let before: number | null | undefined
/** Whether core is still reading what was typed. */
const pending = ref(false)
tellRefusal(computed(() => !!error.value || pending.value))
const { take } = turns()

const limits = computed(() => rangeOf(props.range))
const unit = computed(() => (limits.value ? symbol(limits.value.unit) : ''))

/** The number pad of a phone, where nobody types another unit than the one that stands there, nor a minus. */
const SIZED = ['s', 'days', 'ohm', 'f', 'c']
const pad = computed(() => (limits.value && !SIZED.includes(limits.value.unit) ? 'decimal' : 'text'))

/** The unit stands behind the field unless the text names one itself. */
const suffix = computed(() => (/[a-zµΩ%°]/i.test(text.value) ? '' : unit.value))

function written(value: number | null | undefined): string {
  if (value === null || value === undefined || !limits.value) return ''
  const shown =
    props.range === 'read_volts' || props.range === 'tap_volts'
      ? showFine(value)
      : show(value, limits.value.unit)
  // The unit stands behind the field already, unless the value is written in another size.
  return unit.value && shown.endsWith(`${SPACE}${unit.value}`)
    ? shown.slice(0, -unit.value.length - 1)
    : shown
}

watch(
  [model, limits],
  () => {
    if (focused.value) return
    text.value = written(model.value)
    error.value = ''
  },
  { immediate: true },
)

async function typed(now: string | null): Promise<void> {
  text.value = now ?? ''
  const isLast = take()
  pending.value = false
  if (!text.value.trim()) {
    error.value = props.required ? `${props.label}: a figure is needed` : ''
    if (!props.required) model.value = null
    return
  }
  // Minus signs as written on screen are read again as typed ones.
  const withUnit =
    limits.value?.unit === 'share' && /^[\d.,\s]+$/.test(text.value) ? `${text.value} %` : text.value
  pending.value = true
  const answer = await api.quantity(withUnit.replace('−', '-'), props.range)
  if (!isLast()) return
  pending.value = false
  if (answer.ok && answer.value.value != null) {
    error.value = ''
    model.value = answer.value.value
    return
  }
  const why = answer.ok
    ? (answer.value.refused ?? '')
    : (answer.problem.errors[0]?.message ?? answer.problem.detail)
  error.value = why.replace(/^[^:]*:/, `${props.label}:`)
}

function came(): void {
  focused.value = true
  before = model.value
}

/** As it stood: what was typed since is taken back. */
function back(event: KeyboardEvent): void {
  // A key of the list behind the field is none of its own.
  if (!focused.value || text.value === written(before)) return
  event.stopPropagation()
  take()
  pending.value = false
  error.value = ''
  text.value = written(before)
  if (model.value !== before) model.value = before
}

function left(): void {
  focused.value = false
  if (!error.value) text.value = written(model.value)
}
</script>

<template>
  <v-text-field
    :label="label"
    :model-value="text"
    :suffix="suffix"
    :placeholder="placeholder"
    :persistent-placeholder="!!placeholder"
    :error-messages="error || trouble ? [error || trouble!] : []"
    :hint="hint"
    :persistent-hint="!!hint"
    autocomplete="off"
    :inputmode="pad"
    @update:model-value="typed"
    @focus="came"
    @keydown.esc="back"
    @blur="left"
  >
    <template v-if="$slots.known" #append-inner><slot name="known" /></template>
  </v-text-field>
</template>
