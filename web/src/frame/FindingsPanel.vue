<script setup lang="ts">
// What is wrong or worth knowing, stops first; each leads to its stage and its working.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Finding } from '../api/types'
import { alongList } from '../state/keys'
import { usePlan } from '../state/plan'
import { steady } from '../state/steady'
import AcceptDialog from './AcceptDialog.vue'
import FindingCard from './FindingCard.vue'

const { assessment } = usePlan()
const route = useRoute()
/** The finding that is asked for, by its key. */
const asked = defineModel<string | null>('asked', { default: null })
/** On a phone: whether the sheet is raised. */
const raised = ref(false)
const accepting = ref<Finding | null>(null)

const findings = computed<Finding[]>(() => assessment.value?.findings ?? [])
/** What follows from another finding is folded under that; what belongs to the stage at hand comes first. */
const causes = steady(() => {
  const all = findings.value.filter((f) => !f.follows)
  const here = (f: Finding) => f.stage === route.name
  const sorted = [...all.filter(here), ...all.filter((f) => !here(f))]
  return sorted.map((finding) => ({ finding, consequences: consequences(finding) }))
})
watch(asked, (key) => {
  if (key) raised.value = true
})
/** The sheet makes room for the field that is being mended. */
function lower(event: FocusEvent): void {
  if (event.target instanceof HTMLElement && event.target.closest('main')) raised.value = false
}
onMounted(() => document.addEventListener('focusin', lower))
onBeforeUnmount(() => document.removeEventListener('focusin', lower))

function consequences(cause: Finding): Finding[] {
  const own = findings.value.filter((f) => f.follows === cause.key)
  return own.flatMap((f) => [f, ...consequences(f)])
}

const title = computed(() => {
  const open = causes.value.map((c) => c.finding).filter((f) => !f.accepted)
  const count = (severity: string) => open.filter((f) => f.severity === severity).length
  const said = [
    ['stop', 'stops', count('stop')],
    ['caution', 'cautions', count('caution')],
    ['note', 'notes', count('note')],
    ['accepted', 'accepted', causes.value.length - open.length],
  ] as const
  const parts = said.filter(([, , n]) => n > 0).map(([one, many, n]) => `${n} ${n === 1 ? one : many}`)
  return parts.join(', ') || 'Nothing found'
})
</script>

<template>
  <aside class="findings" :class="{ raised }" aria-label="Findings">
    <button class="head" type="button" :aria-expanded="raised" @click="raised = !raised">
      <h2 data-testid="finding-count">{{ title }}</h2>
    </button>
    <div class="list" aria-live="polite" @keydown="alongList">
      <p v-if="!findings.length" class="soft">
        No findings with what is known so far. Every stage still lists what to find out.
      </p>
      <FindingCard
        v-for="{ finding, consequences: followers } in causes"
        :key="finding.key"
        :finding="finding"
        :consequences="followers"
        :here="finding.stage === route.name || finding.key === asked"
        @accept="accepting = $event"
        @away="raised = false"
      />
    </div>
    <AcceptDialog v-model="accepting" />
  </aside>
</template>

<style scoped>
.head {
  background: none;
  border: 0;
  padding: 0;
  color: inherit;
  font: inherit;
  text-align: left;
  width: 100%;
}

.list {
  margin-top: 12px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}

@media (min-width: 901px) {
  .head {
    cursor: default;
  }
}

@media (max-width: 900px) {
  .findings {
    border-top: 1px solid var(--line-strong);
    background: var(--sheet);
  }

  .head {
    min-height: 44px;
    padding: 0 16px;
  }

  .head h2 {
    font-size: 15px;
  }

  .list {
    display: none;
    margin: 0;
    padding: 0 12px 12px;
    max-height: 40vh;
    overflow-y: auto;
  }

  .raised .list {
    display: flex;
  }
}
</style>
