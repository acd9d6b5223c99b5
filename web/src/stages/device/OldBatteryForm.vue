<script setup lang="ts">
// The battery that the device had, and what charged it.
import { computed } from 'vue'
import type { Ask } from '../../api/types'
import { usePlan } from '../../state/plan'
import { show } from '../../format/show'
import FixButtons from '../../ui/FixButtons.vue'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import QuantityField from '../../ui/QuantityField.vue'
import WireSizeField from '../../ui/WireSizeField.vue'
import { originalChemistries, yesno, type DeviceFields } from './deviceFields'

defineProps<{ asks: (ask: Ask) => boolean }>()

const { plan, set } = usePlan()
const device = computed(() => plan.value?.device)
const original = computed(() => plan.value?.device.original)

const put = (field: DeviceFields, value: unknown) => set(`/device/${field}`, value)

const summary = computed(() => {
  const was = original.value
  const chemistry = originalChemistries.find((c) => c.value === was?.chemistry)?.title
  const known = [
    was?.series ? `${was.series} in series` : '',
    chemistry ?? '',
    was?.capacity_ah ? show(was.capacity_ah.value, 'ah') : '',
  ]
  return known.filter(Boolean).join(', ') || 'nothing known yet'
})
</script>

<template>
  <FoldSection v-if="device && original" name="battery" title="Old battery" :summary="summary">
    <v-text-field
      class="words"
      label="Everything printed on it"
      :model-value="original.words"
      maxlength="400"
      data-at="/device/original/words"
      @update:model-value="put('original/words', $event ?? '')"
    />
    <FixButtons finding="device.label-words@says" />
    <FixButtons finding="device.label-words@chemistry" />
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
        label="Capacity on its label"
        range="battery_ah"
        :model-value="original.capacity_ah"
        data-at="/device/original/capacity_ah"
        @update:model-value="put('original/capacity_ah', $event)"
      />
      <KnownField
        label="Gave in a test"
        range="battery_ah"
        :model-value="original.gave_ah"
        data-at="/device/original/gave_ah"
        @update:model-value="put('original/gave_ah', $event)"
      />
      <QuantityField
        label="Age"
        range="age_days"
        :model-value="original.age_days"
        data-at="/device/original/age_days"
        @update:model-value="put('original/age_days', $event)"
      />
      <QuantityField
        label="Voltage printed on it"
        range="device_volts"
        :model-value="original.label_v"
        data-at="/device/original/label_v"
        @update:model-value="put('original/label_v', $event)"
      />
      <template v-if="asks('charger')">
        <QuantityField
          label="Charger label, voltage"
          range="device_volts"
          :model-value="original.charger_label_v"
          data-at="/device/original/charger_label_v"
          @update:model-value="put('original/charger_label_v', $event)"
        />
        <QuantityField
          label="Charger label, current"
          range="current"
          :model-value="original.charger_label_a"
          data-at="/device/original/charger_label_a"
          @update:model-value="put('original/charger_label_a', $event)"
        />
        <KnownField
          label="Charger output"
          range="device_volts"
          :model-value="original.charger_v"
          data-at="/device/original/charger_v"
          @update:model-value="put('original/charger_v', $event)"
        />
      </template>
      <KnownField
        label="Run time when good"
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
        label="Can the old cells still be fitted?"
        :items="yesno"
        :model-value="original.cells_fit ?? null"
        data-at="/device/original/cells_fit"
        @update:model-value="put('original/cells_fit', $event)"
      />
    </div>
  </FoldSection>
</template>

<style scoped>
.words {
  margin-bottom: 14px;
}

.fields {
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
}
</style>
