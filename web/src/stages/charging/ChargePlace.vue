<script setup lang="ts">
// Where the pack is charged, and what becomes of a charge circuit that the device has.
import { computed } from 'vue'
import { usePlan } from '../../state/plan'
import FoldSection from '../../ui/FoldSection.vue'

const { plan, set, nodeIndex } = usePlan()
const charging = computed(() => plan.value?.charging)
const hosted = computed(() => plan.value?.device.brains?.charges_itself === true)

const places = [
  {
    value: false,
    title: 'in the device',
    says: 'One plug and no wear on the pack’s contacts. But a fault burns inside the device, and the heat of charger and balancer stays there.',
  },
  {
    value: true,
    title: 'pack removed',
    says: 'You can charge it on a fireproof surface where you can see it. The pack’s plug wears and can be reversed each time: use a keyed one with no bare pins on its half.',
  },
]
const hosts = [
  { value: 'cut_off', title: 'disconnected' },
  { value: 'followed', title: 'followed: it only tells that there is mains' },
  { value: 'charges_pack', title: 'it charges the pack' },
  { value: null, title: 'not decided' },
]
/** Where the charger itself sits: it decides what the jack leads to. */
const charger = computed(() => plan.value?.nodes[nodeIndex('charger')])
const sits = [
  { value: 'inside', title: 'in the device: the jack leads to its input' },
  { value: 'outside', title: 'outside: the jack leads to the pack' },
  { value: 'on_the_lead', title: 'on the lead between' },
  { value: null, title: 'as usual for its kind' },
]
const isolated = [
  { value: true, title: 'yes' },
  { value: false, title: 'no' },
  { value: null, title: 'not known' },
]

const summary = computed(() => {
  const place = places.find((p) => p.value === charging.value?.taken_out)?.title ?? 'not said yet'
  const host = hosted.value ? hosts.find((h) => h.value === (charging.value?.host ?? null))?.title : ''
  return host ? `${place}; the device’s own charge circuit: ${host}` : place
})
</script>

<template>
  <FoldSection name="charge-place" title="Where it is charged" :summary="summary" data-testid="charge-place">
    <fieldset>
      <legend class="soft">The pack is charged</legend>
      <label v-for="p in places" :key="p.title">
        <input
          type="radio"
          name="charge-place"
          :checked="(charging?.taken_out ?? null) === p.value"
          @change="set('/charging/taken_out', p.value)"
        />
        <span
          ><b>{{ p.title }}</b> <span class="soft">{{ p.says }}</span></span
        >
      </label>
    </fieldset>
    <v-select
      v-if="charger?.part.state === 'chosen'"
      class="sits"
      label="The charger sits"
      :data-at="`/nodes/${nodeIndex('charger')}/sits`"
      :items="sits"
      :model-value="charger.sits ?? null"
      @update:model-value="set(`/nodes/${nodeIndex('charger')}/sits`, $event)"
    />
    <div v-if="hosted" class="fields host">
      <v-select
        label="The device’s own charge circuit"
        data-at="/charging/host"
        :items="hosts"
        :model-value="charging?.host ?? null"
        @update:model-value="set('/charging/host', $event)"
      />
      <v-select
        v-if="charging?.host === 'followed'"
        label="A diode or relay keeps the new supply off it"
        data-at="/charging/host_isolated"
        :items="isolated"
        :model-value="charging?.host_isolated ?? null"
        @update:model-value="set('/charging/host_isolated', $event)"
      />
      <v-select
        label="It feeds the charger of the pack"
        data-at="/charging/fed_by_host"
        :items="isolated"
        :model-value="charging?.fed_by_host ?? null"
        @update:model-value="set('/charging/fed_by_host', $event)"
      />
    </div>
  </FoldSection>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 4px 0;
  display: grid;
  gap: 6px;
}

legend {
  padding: 0;
  font-size: 14px;
}

label {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-size: 14px;
  cursor: pointer;
}

input {
  accent-color: var(--petrol);
}

.sits {
  max-width: 480px;
  margin-top: 12px;
}

.host {
  margin-top: 12px;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 320px), 1fr));
}
</style>
