<script setup lang="ts">
// How the wiring is done: tap wires, what holds the leads, a panel meter, plugs that could be swapped.
import { computed } from 'vue'
import { usePlan } from '../../state/plan'
import FigureText from '../../ui/FigureText.vue'
import QuantityField from '../../ui/QuantityField.vue'
import WireSizeField from '../../ui/WireSizeField.vue'

const { plan, set, figure } = usePlan()
const wiring = computed(() => plan.value?.wiring)
const taps = computed(() => wiring.value?.taps)
const several = computed(() => (plan.value?.packs[0]?.series ?? 0) > 1)

const yesno = [
  { value: true, title: 'yes' },
  { value: false, title: 'no' },
  { value: null, title: 'not known' },
]
const answers = computed(
  () =>
    [
      ['strain_relief', 'Something holds every lead', true],
      ['panel_meter', 'There is a panel meter', true],
      ['meter_isolated', 'It has its own supply', wiring.value?.panel_meter === true],
      ['plugs_swap', 'Plugs that set packs in series fit each other', plan.value?.feed?.second != null],
    ] as const,
)
const tapAnswers = [
  ['order_read', 'Every pin read against pack minus'],
  ['fused', 'Each has its own fuse'],
] as const

const putTap = (field: string, value: unknown) => set('/wiring/taps', { ...taps.value, [field]: value })
</script>

<template>
  <section v-if="wiring" class="section" data-testid="wiring-work">
    <h2>How it is wired</h2>
    <div class="fields">
      <template v-for="[field, label, asked] in answers" :key="field">
        <v-select
          v-if="asked"
          :label="label"
          :items="yesno"
          :data-at="`/wiring/${field}`"
          :model-value="wiring[field] ?? null"
          @update:model-value="set(`/wiring/${field}`, $event)"
        />
      </template>
    </div>
    <div v-if="wiring.meter_isolated" class="fields after">
      <QuantityField
        label="The panel meter draws"
        range="bench_current"
        data-at="/wiring/meter_a"
        :model-value="wiring.meter_a ?? null"
        @update:model-value="set('/wiring/meter_a', $event)"
      />
      <QuantityField
        label="Its supply holds"
        range="battery_ah"
        data-at="/wiring/meter_supply_ah"
        :model-value="wiring.meter_supply_ah ?? null"
        @update:model-value="set('/wiring/meter_supply_ah', $event)"
      />
      <FigureText v-if="figure('meter.lasts_days')" id="meter.lasts_days" />
    </div>
    <template v-if="several">
      <h3 class="after">Tap wires</h3>
      <div class="fields">
        <WireSizeField
          label="Thickness"
          optional
          data-at="/wiring/taps/size"
          :model-value="taps?.size ?? null"
          @update:model-value="putTap('size', $event)"
        />
        <QuantityField
          label="The longest, one way"
          range="run_length"
          data-at="/wiring/taps/length_mm"
          :model-value="taps?.length_mm ?? null"
          @update:model-value="putTap('length_mm', $event)"
        />
        <v-select
          v-for="[field, label] in tapAnswers"
          :key="field"
          :label="label"
          :items="yesno"
          :data-at="`/wiring/taps/${field}`"
          :model-value="taps?.[field] ?? null"
          @update:model-value="putTap(field, $event)"
        />
      </div>
      <div v-if="figure('taps.ohm')" class="after">
        <FigureText id="taps.ohm" />
        <FigureText id="taps.error_v" />
      </div>
    </template>
  </section>
</template>

<style scoped>
.fields {
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 250px), 1fr));
}
</style>
