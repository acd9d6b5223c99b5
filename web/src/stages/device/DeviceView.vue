<script setup lang="ts">
// The device as surveyed: old battery, window, load, surroundings. Empty is unknown, never zero.
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Ask } from '../../api/types'
import type { DeviceFields } from './deviceFields'
import FoldSection from '../../ui/FoldSection.vue'
import InTurn from '../../ui/InTurn.vue'
import KnownField from '../../ui/KnownField.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { currencies } from '../../state/preferences'
import StageHead from '../../ui/StageHead.vue'
import { show, showRange } from '../../format/show'
import { usePlan } from '../../state/plan'
import { useReference } from '../../state/reference'
import { deviceKinds } from './deviceFields'
import ApartForm from './ApartForm.vue'
import BesideTable from './BesideTable.vue'
import ContactsForm from './ContactsForm.vue'
import ElectronicsForm from './ElectronicsForm.vue'
import LoadTable from './LoadTable.vue'
import MetersForm from './MetersForm.vue'
import OldBatteryForm from './OldBatteryForm.vue'
import PlaceForm from './PlaceForm.vue'

const ProvingDialog = defineAsyncComponent(() => import('./ProvingDialog.vue'))

const { plan, set, edit, figure } = usePlan()
const { job, jobs } = useReference()
/** Whether everything is asked, whatever the kind of job. */
const everything = ref(false)
const proving = ref(false)

const device = computed(() => plan.value?.device)
const environment = computed(() => plan.value?.environment)

const sheet = computed(() => job(device.value?.job))
/** What the kind of job asks; without one, everything. */
const asks = (ask: Ask): boolean => everything.value || !sheet.value || sheet.value.asks.includes(ask)
const jobItems = computed(() => [
  { value: null, title: 'something else' },
  ...jobs().map(({ job: value, title }) => ({ value, title })),
])

/** One currency a plan; one that came with a file stays among the choices. */
const currencyItems = computed(() => [...new Set([...currencies, plan.value?.currency ?? '€'])])

const put = (field: DeviceFields, value: unknown) => set(`/device/${field}`, value)

function rename(name: string): void {
  if (name.trim()) edit([{ at: '/name', value: name }])
}

const assumedHighest = computed(() => (device.value?.highest_v ? undefined : figure('device.highest_v')))
const assumedLowest = computed(() => (device.value?.lowest_v ? undefined : figure('device.lowest_v')))
const highestHint = computed(() => {
  const f = assumedHighest.value
  return f
    ? `assumed from the old battery: ${showRange(f.low ?? f.value, f.high ?? f.value, 'v')}`
    : undefined
})
const lowestHint = computed(() =>
  assumedLowest.value ? `assumed from the old battery: ${show(assumedLowest.value.value, 'v')}` : undefined,
)

const volts = computed(() => {
  const [lowest, highest] = [figure('device.lowest_v'), figure('device.highest_v')]
  const one = (f: typeof lowest) => (f ? `${show(f.value, 'v')}${f.assumed ? ', assumed' : ''}` : 'not known')
  return `minimum ${one(lowest)}; maximum ${one(highest)}`
})
const warmth = computed(() => {
  const e = environment.value
  return e
    ? `used at ${showRange(e.use_min_c, e.use_max_c, 'c')}, charged at ${showRange(e.charge_min_c, e.charge_max_c, 'c')}`
    : ''
})
</script>

<template>
  <StageHead
    stage="device"
    title="About the device"
    lead="Fill in what you know. Leave the rest empty; the list below says what to measure first."
  />
  <template v-if="device && environment">
    <p v-if="sheet" class="special">
      {{ sheet.special }}
      <button type="button" class="textlink" @click="everything = !everything">
        {{ everything ? 'Ask only what this kind needs' : 'Ask everything' }}
      </button>
    </p>
    <section>
      <InTurn>
        <div class="fields">
          <v-text-field
            label="Name of the plan"
            :model-value="plan!.name"
            maxlength="120"
            :rules="[(v: string) => !!v.trim() || 'Name: 1 to 120 characters']"
            @update:model-value="rename"
          />
          <v-select
            label="Kind of job"
            :items="jobItems"
            :model-value="device.job ?? null"
            data-at="/device/job"
            @update:model-value="put('job', $event)"
          />
          <v-select
            label="Kind of device"
            :items="deviceKinds"
            :model-value="device.kind"
            data-at="/device/kind"
            @update:model-value="put('kind', $event)"
          />
          <v-text-field
            label="What its type plate says"
            :model-value="device.label"
            maxlength="400"
            @update:model-value="put('label', $event ?? '')"
          />
          <QuantityField
            label="Run time you want"
            range="run_time"
            :model-value="device.wanted_run_s"
            data-at="/device/wanted_run_s"
            @update:model-value="put('wanted_run_s', $event)"
          />
          <v-select
            label="Currency"
            :items="currencyItems"
            :model-value="plan!.currency"
            @update:model-value="set('/currency', $event)"
          />
        </div>
      </InTurn>
    </section>
    <OldBatteryForm v-if="asks('battery')" :asks="asks" />
    <FoldSection name="volts" title="Voltage range" :summary="volts">
      <p class="lead prove">
        Not sure of the voltage range?
        <v-btn size="small" @click="proving = true">Test it on a bench supply…</v-btn>
      </p>
      <ProvingDialog v-if="proving" v-model="proving" />
      <div class="fields">
        <KnownField
          label="Minimum"
          range="device_volts"
          :hint="lowestHint"
          :model-value="device.lowest_v"
          data-at="/device/lowest_v"
          @update:model-value="put('lowest_v', $event)"
        />
        <KnownField
          label="Maximum"
          range="device_volts"
          :hint="highestHint"
          :model-value="device.highest_v"
          data-at="/device/highest_v"
          @update:model-value="put('highest_v', $event)"
        />
      </div>
    </FoldSection>
    <LoadTable />
    <BesideTable />
    <ElectronicsForm :asks="asks" />
    <ContactsForm />
    <ApartForm v-if="asks('battery') || device.apart?.length" />
    <PlaceForm :asks="asks" />
    <MetersForm />
    <FoldSection name="temperatures" title="Temperatures and notes" :summary="warmth" away>
      <div class="fields">
        <QuantityField
          v-for="[field, label] in [
            ['use_min_c', 'Coldest use'],
            ['use_max_c', 'Hottest use'],
            ['charge_min_c', 'Coldest charge'],
            ['charge_max_c', 'Hottest charge'],
          ] as const"
          :key="field"
          :label="label"
          range="temperature"
          required
          :model-value="environment[field]"
          :data-at="`/environment/${field}`"
          @update:model-value="set(`/environment/${field}`, $event)"
        />
      </div>
      <v-textarea
        class="after"
        label="Notes"
        rows="2"
        auto-grow
        maxlength="20000"
        :model-value="plan!.notes"
        @update:model-value="set('/notes', $event ?? '')"
      />
    </FoldSection>
  </template>
</template>

<style scoped>
.prove {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
  margin-bottom: 12px;
}

.special {
  margin-bottom: 14px;
}

.fields {
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
}
</style>
