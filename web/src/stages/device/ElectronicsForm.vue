<script setup lang="ts">
// The device's own electronics: what they do to the battery, and what they want of it.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { AlarmLevel, Ask } from '../../api/types'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { yesno } from './deviceFields'

const props = defineProps<{ asks: (ask: Ask) => boolean }>()

const { plan, set } = usePlan()
const brains = computed(() => plan.value?.device.brains)
const alarms = computed<AlarmLevel[]>(() => brains.value?.alarms ?? [])
const put = (field: string, value: unknown) => set(`/device/brains/${field}`, value)

function addAlarm(): void {
  const at_v = { value: 10, how: 'assumed', error: null, meter: null }
  put('alarms', [...alarms.value, { name: alarms.value.length ? 'low' : 'empty', at_v }])
}

const meanings = [
  { value: null, title: 'its own name' },
  { value: 'full', title: 'full' },
  { value: 'low', title: 'nearly empty' },
  { value: 'empty', title: 'empty' },
]

/** What the kind of job asks, and what was answered with yes all the same. */
const answers = computed(() =>
  (
    [
      ['soft_start', 'It has a soft start', 'soft_start'],
      ['soft_start_kept', 'The new supply keeps the soft start', 'soft_start'],
      ['charges_itself', 'It charges its battery itself', 'host_charger'],
      ['selector', 'A selector sets series or parallel', 'selector'],
      ['identity_pins', 'It needs a pack that identifies itself', 'pins'],
      ['temperature_pins', 'It reads a sensor in the pack', 'pins'],
    ] as const
  ).filter(([field, , ask]) => props.asks(ask) || brains.value?.[field]),
)

const summary = computed(() => {
  const cutout = plan.value?.device.cutout_v
  const said = answers.value.filter(([field]) => brains.value?.[field] != null).length
  const known = [
    cutout ? `cuts out at ${show(cutout.value, 'v')}` : '',
    said ? `${said} of ${answers.value.length} questions answered` : '',
    alarms.value.length ? `${alarms.value.length} gauge levels` : '',
  ]
  return known.filter(Boolean).join(', ') || 'nothing known yet'
})
</script>

<template>
  <FoldSection v-if="brains" name="electronics" title="Its electronics" :summary="summary" away>
    <div class="fields">
      <KnownField
        label="Cut-out voltage"
        range="device_volts"
        hint="where its electronics switch it off"
        data-at="/device/cutout_v"
        :model-value="plan!.device.cutout_v"
        @update:model-value="set('/device/cutout_v', $event)"
      />
      <v-select
        v-for="[field, label] in answers"
        :key="field"
        :label="label"
        :items="yesno"
        :data-at="`/device/brains/${field}`"
        :model-value="brains[field] ?? null"
        @update:model-value="put(field, $event)"
      />
      <KnownField
        v-if="brains.charges_itself"
        label="Its charge voltage"
        range="device_volts"
        data-at="/device/brains/charge_v"
        :model-value="brains.charge_v"
        @update:model-value="put('charge_v', $event)"
      />
      <KnownField
        v-if="brains.charges_itself"
        label="Its charge current limit"
        range="current"
        data-at="/device/brains/charge_limit_a"
        :model-value="brains.charge_limit_a"
        @update:model-value="put('charge_limit_a', $event)"
      />
      <KnownField
        v-if="brains.selector"
        label="Voltage at the lower setting"
        range="device_volts"
        data-at="/device/brains/selector_low_v"
        :model-value="brains.selector_low_v"
        @update:model-value="put('selector_low_v', $event)"
      />
    </div>
    <template v-if="asks('gauge')">
      <h3 class="after">Levels of its gauge</h3>
      <div v-for="(alarm, i) in alarms" :key="i" class="alarm" :data-at="`/device/brains/alarms/${i}`">
        <v-text-field
          label="Shows or does"
          :model-value="alarm.name"
          maxlength="120"
          @update:model-value="$event.trim() && put(`alarms/${i}/name`, $event)"
        />
        <KnownField
          label="At"
          range="device_volts"
          required
          :model-value="alarm.at_v"
          @update:model-value="$event && put(`alarms/${i}/at_v`, $event)"
        />
        <v-select
          label="Means"
          :items="meanings"
          :model-value="alarm.means ?? null"
          @update:model-value="put(`alarms/${i}/means`, $event)"
        />
        <v-btn
          :icon="mdiDeleteOutline"
          variant="text"
          size="small"
          :aria-label="`Remove ${alarm.name}`"
          @click="
            put(
              'alarms',
              alarms.filter((_, k) => k !== i),
            )
          "
        />
      </div>
      <v-btn class="after" :prepend-icon="mdiPlus" size="small" @click="addAlarm">Level of the gauge</v-btn>
    </template>
  </FoldSection>
</template>

<style scoped>
.fields {
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
}

.alarm {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr) minmax(0, 0.7fr) 40px;
  gap: 6px;
  padding: 6px 0;
}
</style>
