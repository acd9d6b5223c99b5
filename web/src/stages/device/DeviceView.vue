<script setup lang="ts">
// The device as surveyed: old battery, window, load, surroundings. Empty is unknown, never zero.
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Ask } from '../../api/types'
import type { DeviceFields } from './deviceFields'
import KnownField from '../../ui/KnownField.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { currencies } from '../../state/preferences'
import StageHead from '../../ui/StageHead.vue'
import WireSizeField from '../../ui/WireSizeField.vue'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { useReference } from '../../state/reference'
import { deviceKinds, originalChemistries, yesno } from './deviceFields'
import ApartForm from './ApartForm.vue'
import BrainsForm from './BrainsForm.vue'
import LoadTable from './LoadTable.vue'
import MetersForm from './MetersForm.vue'
import PlaceForm from './PlaceForm.vue'

const ProvingDialog = defineAsyncComponent(() => import('./ProvingDialog.vue'))

const { plan, set, edit, figure } = usePlan()
const { job, jobs } = useReference()
/** Whether everything is asked, whatever the kind of job. */
const everything = ref(false)
const proving = ref(false)

const device = computed(() => plan.value?.device)
const original = computed(() => plan.value?.device.original)
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
    ? `assumed from the old battery: ${show(f.low ?? f.value, 'v')} to ${show(f.high ?? f.value, 'v')}`
    : undefined
})
const lowestHint = computed(() =>
  assumedLowest.value ? `assumed from the old battery: ${show(assumedLowest.value.value, 'v')}` : undefined,
)
</script>

<template>
  <StageHead
    stage="device"
    title="Survey the device"
    lead="In the order one measures. What stays empty stays unknown; the list below names what to find out first."
  />
  <template v-if="device && original && environment">
    <p v-if="sheet" class="special">
      {{ sheet.special }}
      <button type="button" class="textlink" @click="everything = !everything">
        {{ everything ? 'Ask only what this kind needs' : 'Ask everything' }}
      </button>
    </p>
    <section>
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
          label="Run time wanted"
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
    </section>
    <section v-if="asks('battery')" class="section">
      <h2>Its old battery</h2>
      <div class="fields">
        <v-select
          label="Chemistry"
          clearable
          :items="originalChemistries"
          :model-value="original.chemistry"
          data-at="/device/original/chemistry"
          @update:model-value="put('original/chemistry', $event ?? null)"
        />
        <QuantityField
          label="Cells in series"
          range="original_series"
          :model-value="original.series"
          data-at="/device/original/series"
          @update:model-value="put('original/series', $event)"
        />
        <KnownField
          label="Capacity"
          range="battery_ah"
          :model-value="original.capacity_ah"
          data-at="/device/original/capacity_ah"
          @update:model-value="put('original/capacity_ah', $event)"
        />
        <QuantityField
          label="Volts printed on it"
          range="device_volts"
          :model-value="original.label_v"
          data-at="/device/original/label_v"
          @update:model-value="put('original/label_v', $event)"
        />
        <template v-if="asks('charger')">
          <QuantityField
            label="Charger's label, volts"
            range="device_volts"
            :model-value="original.charger_label_v"
            data-at="/device/original/charger_label_v"
            @update:model-value="put('original/charger_label_v', $event)"
          />
          <QuantityField
            label="Charger's label, amperes"
            range="current"
            :model-value="original.charger_label_a"
            data-at="/device/original/charger_label_a"
            @update:model-value="put('original/charger_label_a', $event)"
          />
          <KnownField
            label="Charger puts out"
            range="device_volts"
            :model-value="original.charger_v"
            data-at="/device/original/charger_v"
            @update:model-value="put('original/charger_v', $event)"
          />
        </template>
        <KnownField
          label="Ran, when good"
          range="run_time"
          :model-value="original.run_s"
          data-at="/device/original/run_s"
          @update:model-value="put('original/run_s', $event)"
        />
        <KnownField
          label="Mass"
          range="mass"
          :model-value="original.mass_g"
          data-at="/device/original/mass_g"
          @update:model-value="put('original/mass_g', $event)"
        />
        <v-text-field
          label="Its connector, as it looks"
          :model-value="device.connector"
          maxlength="400"
          @update:model-value="put('connector', $event ?? '')"
        />
        <WireSizeField
          label="Its wire"
          optional
          :model-value="original.wire"
          data-at="/device/original/wire"
          @update:model-value="put('original/wire', $event)"
        />
        <v-select
          label="Old charger still fits"
          :items="yesno"
          :model-value="original.charger_fits ?? null"
          data-at="/device/original/charger_fits"
          @update:model-value="put('original/charger_fits', $event)"
        />
        <v-select
          label="Old cells can still be put in"
          :items="yesno"
          :model-value="original.cells_fit ?? null"
          data-at="/device/original/cells_fit"
          @update:model-value="put('original/cells_fit', $event)"
        />
      </div>
    </section>
    <section class="section">
      <h2>Volts it lives between</h2>
      <p class="lead prove">
        Assumed volts ruin conversions.
        <v-btn size="small" @click="proving = true">Prove them on a bench supply…</v-btn>
      </p>
      <ProvingDialog v-if="proving" v-model="proving" />
      <div class="fields">
        <KnownField
          label="Lowest"
          range="device_volts"
          :hint="lowestHint"
          :model-value="device.lowest_v"
          data-at="/device/lowest_v"
          @update:model-value="put('lowest_v', $event)"
        />
        <KnownField
          label="Highest"
          range="device_volts"
          :hint="highestHint"
          :model-value="device.highest_v"
          data-at="/device/highest_v"
          @update:model-value="put('highest_v', $event)"
        />
      </div>
    </section>
    <LoadTable />
    <BrainsForm :asks="asks" />
    <ApartForm v-if="asks('battery') || device.apart?.length" />
    <PlaceForm :asks="asks" />
    <MetersForm />
    <section class="section">
      <h2>Temperatures</h2>
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
    </section>
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
