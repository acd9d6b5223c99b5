<script setup lang="ts">
// The meters at hand: they decide what can be known. One row a range.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { api } from '../../api/client'
import type { Meter, Way } from '../../api/types'
import { usePlan } from '../../state/plan'
import { turns } from '../../state/turns'
import { placesOf } from '../../state/pointer'
import { useReference } from '../../state/reference'
import FoldSection from '../../ui/FoldSection.vue'
import PhraseText from '../../ui/PhraseText.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { plain } from '../../format/show'

const { plan, set, edit, figure } = usePlan()
const { reference } = useReference()

const meters = computed<Meter[]>(() => plan.value?.meters ?? [])
const at = (index: number) => `/meters/${index}`

const reads = [
  { value: 'volts', title: 'volts' },
  { value: 'amps', title: 'amperes' },
  { value: 'ohms', title: 'ohms' },
  { value: 'watts', title: 'watts' },
]

function add(kind: Meter['reads']): void {
  const taken = new Set(meters.value.map((m) => m.id))
  let number = 1
  while (taken.has(`meter-${number}`)) number++
  const usual = reference.value?.meters.find((m) => m.reads === kind)
  if (usual) set('/meters', [...meters.value, { id: `meter-${number}`, ...usual }])
}

function remove(index: number): void {
  set(
    '/meters',
    meters.value.filter((_, i) => i !== index),
  )
}

/** Another name follows into every reading that names the meter: they know it by its name. */
function rename(index: number, name: string): void {
  const old = meters.value[index]?.name
  if (!name.trim() || !plan.value || !old) return
  const named = placesOf(plan.value, 'meter', old).map((place) => ({ at: place, value: name }))
  edit([{ at: `${at(index)}/name`, value: name }, ...named])
}

/** What was typed; until then the device's own current is the one to read. */
const typed = ref<number | null>(null)
const own_a = computed(
  () =>
    (figure('output.continuous_a') ?? figure('load.continuous_a') ?? figure('load.usual_a'))?.value ?? null,
)
const current = computed({ get: () => typed.value ?? own_a.value, set: (a) => (typed.value = a) })
const { take: turn } = turns()
const ways = ref<Way[]>([])

/** A resistor for a trip test, or watts over volts, want the volts it flows at. */
const pack_v = computed(() => (figure('pack.nominal_v') ?? figure('original.nominal_v'))?.value ?? null)

watch(
  [meters, current, pack_v],
  async () => {
    const isLast = turn()
    if (!meters.value.length || current.value === null) {
      ways.value = []
      return
    }
    const answer = await api.ways(meters.value, current.value, pack_v.value)
    if (!isLast()) return
    ways.value = answer.ok ? answer.value : []
  },
  { immediate: true },
)
</script>

<template>
  <FoldSection
    name="meters"
    title="Meters at hand"
    :summary="meters.map((m) => m.name).join(', ') || 'none entered'"
    away
    data-at="/meters"
  >
    <p class="lead">
      No verdict is finer than the meter. A reading that names its meter gets the error its manual states.
    </p>
    <div v-for="(meter, i) in meters" :key="meter.id" class="meter" :data-meter="meter.id">
      <v-text-field
        label="Meter and range"
        :model-value="meter.name"
        maxlength="120"
        @update:model-value="rename(i, $event)"
      />
      <v-select
        label="Reads"
        :items="reads"
        :model-value="meter.reads"
        @update:model-value="set(`${at(i)}/reads`, $event)"
      />
      <QuantityField
        label="Range"
        range="meter_range"
        required
        :model-value="meter.range"
        @update:model-value="set(`${at(i)}/range`, $event)"
      />
      <QuantityField
        label="Step"
        range="meter_step"
        required
        :model-value="meter.step"
        @update:model-value="set(`${at(i)}/step`, $event)"
      />
      <QuantityField
        label="Error"
        range="tolerance"
        required
        :model-value="meter.error_share"
        @update:model-value="set(`${at(i)}/error_share`, $event)"
      />
      <QuantityField
        label="+ digits"
        range="meter_steps"
        required
        :model-value="meter.error_steps"
        @update:model-value="set(`${at(i)}/error_steps`, $event)"
      />
      <v-btn
        :icon="mdiDeleteOutline"
        variant="text"
        size="small"
        :aria-label="`Remove ${meter.name}`"
        @click="remove(i)"
      />
    </div>
    <div class="add">
      <v-btn :prepend-icon="mdiPlus" size="small" @click="add('volts')">DC voltage range</v-btn>
      <v-btn :prepend-icon="mdiPlus" size="small" @click="add('amps')">Current range</v-btn>
      <v-btn :prepend-icon="mdiPlus" size="small" @click="add('ohms')">Resistance range</v-btn>
      <v-btn :prepend-icon="mdiPlus" size="small" @click="add('watts')">Wattmeter</v-btn>
    </div>
    <div v-if="meters.length" class="ways">
      <QuantityField v-model="current" label="How would I read about" range="current" />
      <ol v-if="ways.length" data-testid="ways">
        <li v-for="(way, i) in ways" :key="i">
          <PhraseText :phrase="way.how" plain />; good to {{ plain(way.error_share * 100, 1) }} %
        </li>
      </ol>
      <p v-else-if="current !== null" class="soft">
        None of these meters can read that. A small voltage range across a piece of wire can: add one.
      </p>
    </div>
  </FoldSection>
</template>

<style scoped>
.meter {
  display: grid;
  grid-template-columns: minmax(120px, 1.6fr) 116px repeat(4, minmax(76px, 1fr)) 40px;
  gap: 6px;
  align-items: start;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}

.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 12px 0;
}

.ways {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 16px;
}

ol {
  margin: 0;
  padding-left: 20px;
}

@media (max-width: 1100px) {
  .meter,
  .ways {
    grid-template-columns: 1fr 1fr;
  }
}

@media (max-width: 600px) {
  .ways {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
