<script setup lang="ts">
// One figure of the assessment, large or in a line; a click opens its working.
import { computed } from 'vue'
import { money, show, showRange } from '../format/show'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import { openWorking } from '../state/working'

const props = defineProps<{ id: string; label?: string }>()

const { figure, plan } = usePlan()
const { label: named } = useReference()
const found = computed(() => figure(props.id))
const range = computed(() => {
  const f = found.value
  if (f?.low == null || f.high == null) return ''
  return show(f.low, f.unit) === show(f.high, f.unit) ? '' : showRange(f.low, f.high, f.unit)
})
</script>

<template>
  <div class="row" :data-figure="id">
    <span class="label">{{ label ?? found?.label ?? named(id) }}</span>
    <button v-if="found" type="button" class="value" :title="'Show the calculation'" @click="openWorking(id)">
      <span class="whole">{{
        found.unit === 'money' ? money(found.value, plan?.currency) : show(found.value, found.unit)
      }}</span><span v-if="found.assumed" class="assumed">assumed</span>
      <span v-if="range" class="band">{{ range }}</span>
    </button>
    <span v-else class="unknown">not known yet</span>
  </div>
</template>

<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}

.label,
.unknown {
  color: var(--soft);
  font-size: 14px;
}

.value {
  font: inherit;
  font-weight: 700;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 0;
  cursor: pointer;
  text-align: right;
}

.whole,
.assumed,
.band {
  white-space: nowrap;
}

.value:hover {
  text-decoration: underline dotted;
}

.assumed,
.band {
  margin-left: 6px;
  font-weight: 400;
  font-size: 13px;
  color: var(--copper-text);
}

.band {
  color: var(--soft);
}
</style>
