<script setup lang="ts">
// One pack on the scale of volts: empty to full, nominal marked, dashed = loaded in the cold; the device's window behind.
import { computed } from 'vue'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { plain, show } from '../../format/show'
import type { VoltScale } from './voltScale'

const props = defineProps<{ option: VoltageOption; found: VoltageOptions; scale: VoltScale }>()

const fill = computed(() =>
  props.option.chosen
    ? 'var(--copper)'
    : props.option.worst === 'stop'
      ? 'var(--nickel)'
      : 'var(--copper-text)',
)
const limits = computed(() => [props.found.lowest_v, props.found.highest_v].filter((v) => v != null))
</script>

<template>
  <svg
    class="bar"
    height="48"
    width="100%"
    role="img"
    :aria-label="`${show(option.empty_v, 'v')} empty, ${show(option.nominal_v, 'v')} nominal, ${show(option.full_v, 'v')} full`"
  >
    <rect
      v-if="found.lowest_v != null && found.highest_v != null"
      :x="scale.x(found.lowest_v)"
      y="0"
      :width="scale.width(found.lowest_v, found.highest_v)"
      height="48"
      fill="var(--window)"
    />
    <line
      v-for="v in limits"
      :key="v"
      :x1="scale.x(v)"
      :x2="scale.x(v)"
      y1="0"
      y2="48"
      stroke="var(--petrol)"
      stroke-width="2"
    />
    <rect
      v-if="option.loaded_empty_v != null"
      :x="scale.x(option.loaded_empty_v)"
      y="15"
      :width="scale.width(option.loaded_empty_v, option.empty_v)"
      height="18"
      fill="none"
      :stroke="fill"
      stroke-dasharray="3 3"
    />
    <rect
      :x="scale.x(option.empty_v)"
      y="13"
      :width="scale.width(option.empty_v, option.full_v)"
      height="22"
      :fill="fill"
    />
    <line
      :x1="scale.x(option.nominal_v)"
      :x2="scale.x(option.nominal_v)"
      y1="9"
      y2="39"
      stroke="var(--ink)"
      stroke-width="2"
    />
    <text :x="scale.x(option.loaded_empty_v ?? option.empty_v)" y="28" dx="-5" text-anchor="end" class="in">
      {{ plain(option.empty_v, 2) }}
    </text>
    <text :x="scale.x(option.full_v)" y="28" dx="5" class="in">{{ plain(option.full_v, 2) }}</text>
  </svg>
</template>

<style scoped>
.bar {
  display: block;
  overflow: visible;
}

.in {
  font-size: 12.5px;
  fill: var(--ink);
  font-weight: 600;
}
</style>
