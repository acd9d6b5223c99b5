<script setup lang="ts">
// The figures of an entry, by what happened. Where a choice is all there is to say, choosing keeps it.
import { computed } from 'vue'
import type { ChargeEnd, Logged, Mishap } from '../api/types'
import { toNextField } from '../state/keys'
import QuantityField from '../ui/QuantityField.vue'
import { vFirstField } from '../ui/firstField'
import { states } from './words'

const props = defineProps<{
  groups: number
  /** A field is refused, or not read yet. */
  waiting: boolean
}>()
const model = defineModel<Logged>({ required: true })
const emit = defineEmits<{ keep: [happened: Logged] }>()

const mishaps: { value: Mishap; title: string }[] = [
  { value: 'dropped', title: 'Dropped' },
  { value: 'wet', title: 'Got wet' },
  { value: 'hot', title: 'Got hot' },
  { value: 'swollen', title: 'Swollen' },
  { value: 'run_flat', title: 'Was empty for long' },
  { value: 'shorted', title: 'Shorted, or fuse blew' },
  { value: 'other', title: 'Something else (say what above)' },
]
const ends: { value: ChargeEnd; title: string }[] = [
  { value: 'charger', title: 'Charger ended it' },
  { value: 'board', title: 'Board cut it off' },
  { value: 'hand', title: 'Stopped by hand' },
]
const rests = [
  { title: '1 h', value: 3600 },
  { title: '1 day', value: 86_400 },
  { title: '1 week', value: 604_800 },
  { title: 'months', value: 7_776_000 },
]
/** One figure of an entry, in a field of its own. */
interface Figure {
  field: string
  label: string
  range: string
  hint?: string
  required?: boolean
}
const warm: Figure = { field: 'temp_c', label: 'How warm it was', range: 'temperature' }
const figures: Partial<Record<Logged['what'], Figure[]>> = {
  charge: [
    { field: 'charge_ah', label: 'Charged', range: 'pack_ah' },
    { field: 'took_s', label: 'Took', range: 'took', hint: '110 min' },
    { field: 'end_a', label: 'Current at its end', range: 'bench_current' },
  ],
  run: [
    { field: 'took_s', label: 'Ran for', range: 'took', hint: '26 min' },
    { field: 'charge_ah', label: 'Used', range: 'pack_ah' },
    warm,
  ],
  capacity: [
    { field: 'charge_ah', label: 'Capacity, from full', range: 'pack_ah', required: true },
    { field: 'rate_a', label: 'At', range: 'current' },
    { field: 'to_v', label: 'Down to, per cell', range: 'read_volts' },
    warm,
  ],
  resistance: [
    { field: 'resistance_ohm', label: 'Resistance of the whole pack', range: 'pack_ohm', required: true },
  ],
  storage: [{ field: 'cell_v', label: 'Voltage per cell', range: 'read_volts', required: true }],
}
const asked = computed(() => figures[model.value.what] ?? [])

const numbers = computed(() => Array.from({ length: props.groups }, (_, i) => i + 1))

const given = (v: number): number | null => (Number.isNaN(v) ? null : v)

/** What stands in a figure's field. */
const standing = ({ field }: Figure): number | null =>
  given((model.value as unknown as Record<string, number | null>)[field] ?? NaN)

function put<K extends string>(field: K, value: unknown): void {
  model.value = { ...model.value, [field]: value } as Logged
}

function group(i: number, value: number | null | undefined): void {
  if (model.value.what !== 'rest') return
  put('groups_v', model.value.groups_v.with(i, value ?? NaN))
}
</script>

<template>
  <div>
    <div v-if="asked.length" :class="{ two: asked.length > 1 }">
      <QuantityField
        v-for="figure in asked"
        :key="`${model.what} ${figure.field}`"
        :model-value="standing(figure)"
        :label="figure.label"
        :range="figure.range"
        :hint="figure.hint"
        :required="figure.required"
        @update:model-value="put(figure.field, $event ?? (figure.required ? NaN : null))"
      />
    </div>
    <div v-if="model.what === 'rest'">
      <div v-first-field class="groups" @keydown="toNextField">
        <QuantityField
          v-for="(v, i) in model.groups_v"
          :key="i"
          :model-value="given(v)"
          :label="`Group ${i + 1}`"
          range="read_volts"
          @update:model-value="group(i, $event)"
        />
      </div>
      <p class="soft after">Group 1 is at pack minus. Rested for:</p>
      <v-btn-toggle
        :model-value="model.rested_s"
        density="comfortable"
        variant="outlined"
        divided
        @update:model-value="put('rested_s', $event ?? null)"
      >
        <v-btn v-for="rest in rests" :key="rest.value" :value="rest.value">{{ rest.title }}</v-btn>
      </v-btn-toggle>
    </div>
    <div v-else-if="model.what === 'charge'" class="choices">
      <v-btn
        v-for="end in ends"
        :key="end.value"
        :color="end.value === 'charger' ? 'primary' : undefined"
        :variant="end.value === 'charger' ? 'flat' : 'outlined'"
        :disabled="waiting"
        @click="emit('keep', { ...model, ended: end.value })"
        >{{ end.title }}</v-btn
      >
    </div>
    <div v-else-if="model.what === 'run'" class="choices">
      <v-btn
        color="primary"
        variant="flat"
        :disabled="waiting"
        @click="emit('keep', { ...model, is_whole: true })"
        >From full until it cut off</v-btn
      >
      <v-btn :disabled="waiting" @click="emit('keep', { ...model, is_whole: false })">Part of a charge</v-btn>
    </div>
    <v-btn-toggle
      v-else-if="model.what === 'resistance'"
      :model-value="model.by"
      mandatory
      variant="outlined"
      divided
      density="comfortable"
      @update:model-value="put('by', $event)"
    >
      <v-btn value="load">Voltage drop under a load</v-btn>
      <v-btn value="meter1_khz">1 kHz meter</v-btn>
    </v-btn-toggle>
    <div v-else-if="model.what === 'event'" class="choices tall">
      <v-btn
        v-for="mishap in mishaps"
        :key="mishap.value"
        :color="mishap.value === 'swollen' || mishap.value === 'hot' ? 'error' : undefined"
        @click="emit('keep', { what: 'event', mishap: mishap.value })"
        >{{ mishap.title }}</v-btn
      >
    </div>
    <div v-else-if="model.what === 'looked'">
      <p class="soft">
        Insulation, strain relief, shell, plug: nothing rubbed through, loose, browned, swollen.
      </p>
      <div class="choices">
        <v-btn color="primary" variant="flat" @click="emit('keep', { what: 'looked', is_sound: true })"
          >All sound</v-btn
        >
        <v-btn @click="emit('keep', { what: 'looked', is_sound: false })"
          >Something is not (say what above)</v-btn
        >
      </div>
    </div>
    <div v-else-if="model.what === 'repair'">
      <v-text-field
        :model-value="model.exchanged"
        label="What was done or replaced"
        maxlength="2000"
        @update:model-value="put('exchanged', $event)"
      />
      <v-select
        :model-value="model.groups"
        label="Groups worked on: compared afresh from here"
        :items="numbers"
        multiple
        @update:model-value="put('groups', $event)"
      />
    </div>
    <div v-else-if="model.what === 'state'" class="choices tall">
      <v-btn v-for="to in states" :key="to.value" @click="emit('keep', { what: 'state', to: to.value })">{{
        to.title
      }}</v-btn>
    </div>
  </div>
</template>

<style scoped>
.groups,
.two {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 4px 12px;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 10px;
}

.choices .v-btn {
  min-height: 44px;
}

.tall .v-btn {
  min-height: 52px;
}
</style>
