<script setup lang="ts">
// The volts at one end of a bar of the nameplate; opens its working.
import { computed } from 'vue'
import { plain, show } from '../format/show'
import { usePlan } from '../state/plan'
import { openWorking } from '../state/working'

const props = defineProps<{ id: string; x: number; y: number; bold?: boolean }>()

const { figure } = usePlan()
const found = computed(() => figure(props.id))
</script>

<template>
  <text
    v-if="found"
    :x="x"
    :y="y"
    text-anchor="middle"
    :class="{ bold }"
    role="button"
    tabindex="0"
    :aria-label="`${found.label}: ${show(found.value, 'v')}, show the calculation`"
    @click="openWorking(id)"
    @keydown.enter="openWorking(id)"
    @keydown.space.prevent="openWorking(id)"
  >
    {{ plain(found.value, 1) }}
  </text>
</template>

<style scoped>
text {
  font-size: 12px;
  fill: var(--ink);
  cursor: pointer;
}

text:hover {
  text-decoration: underline dotted;
}

.bold {
  font-weight: 700;
}
</style>
