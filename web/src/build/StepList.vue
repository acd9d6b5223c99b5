<script setup lang="ts">
// Every step by its part of the work, with how it stands.
import { computed, nextTick, ref, watch } from 'vue'
import type { OpenBuild } from '../api/types'
import VerdictMark from '../ui/VerdictMark.vue'
import { phaseNames } from './phases'

const props = defineProps<{ build: OpenBuild; at: string }>()
const emit = defineEmits<{ open: [key: string] }>()

const phases = computed(() => {
  const rows = props.build.sheet.steps.map((step, i) => ({ step, state: props.build.progress.steps[i]! }))
  const names = [...new Set(rows.map((row) => row.step.phase))]
  return names.map((phase) => ({ phase, rows: rows.filter((row) => row.step.phase === phase) }))
})
const list = ref<HTMLElement>()
watch(
  () => props.at,
  async () => {
    await nextTick()
    list.value?.querySelector('.here')?.scrollIntoView({ block: 'nearest' })
  },
)

const marks = {
  done: 'fine',
  opened: 'caution',
  wrong: 'stop',
  open: 'nothing_yet',
  shut: 'nothing_yet',
} as const
</script>

<template>
  <nav ref="list" aria-label="Steps">
    <section v-for="{ phase, rows } in phases" :key="phase">
      <h3>{{ phaseNames[phase] }}</h3>
      <button
        v-for="{ step, state } in rows"
        :key="step.key"
        type="button"
        :class="[state.stands, { here: step.key === at }]"
        :aria-current="step.key === at ? 'step' : undefined"
        :data-row="step.key"
        @click="emit('open', step.key)"
      >
        <VerdictMark :verdict="marks[state.stands]" :size="15" />
        <span>{{ step.title }}</span>
      </button>
    </section>
  </nav>
</template>

<style scoped>
h3 {
  margin: 12px 0 2px;
  font-size: 13px;
  color: var(--soft);
}

button {
  display: flex;
  gap: 9px;
  align-items: flex-start;
  width: 100%;
  padding: 5px 8px;
  font: inherit;
  font-size: 14px;
  line-height: 1.3;
  text-align: left;
  color: inherit;
  background: none;
  border: 0;
  border-left: 5px solid transparent;
  cursor: pointer;
}

button > :first-child {
  flex: none;
  margin-top: 2px;
}

.shut {
  color: var(--soft);
}

.here {
  color: var(--ink);
  font-weight: 700;
  background: var(--copper-tint);
  border-left-color: var(--copper);
}
</style>
