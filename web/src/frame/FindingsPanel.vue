<script setup lang="ts">
// What is wrong or worth knowing, stops first; each leads to its stage and its working.
import { computed, ref } from 'vue'
import type { Finding } from '../api/types'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import PhraseText from '../ui/PhraseText.vue'
import VerdictMark from '../ui/VerdictMark.vue'

const { assessment } = usePlan()
const { source } = useReference()
const raised = ref(false)

const findings = computed<Finding[]>(() => assessment.value?.findings ?? [])

const title = computed(() => {
  const count = (severity: string) => findings.value.filter((f) => f.severity === severity).length
  const said = [
    ['stop', 'stops', count('stop')],
    ['caution', 'cautions', count('caution')],
    ['note', 'notes', count('note')],
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
    <div class="list" aria-live="polite">
      <p v-if="!findings.length" class="soft">
        Nothing speaks against this plan as far as it is known. Every stage still lists what to find out.
      </p>
      <article
        v-for="finding in findings"
        :key="finding.key"
        class="finding"
        :class="finding.severity"
        :data-finding="finding.key"
      >
        <VerdictMark :verdict="finding.severity" />
        <div>
          <h3><PhraseText :phrase="finding.title" plain /></h3>
          <p><PhraseText :phrase="finding.why" /></p>
          <p class="foot">
            <router-link
              v-if="finding.stage !== $route.name"
              :to="{ name: finding.stage }"
              @click="raised = false"
            >
              Go to {{ finding.stage }}
            </router-link>
            <span class="soft">{{ source(finding.source) }}</span>
          </p>
        </div>
      </article>
    </div>
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

.finding {
  display: flex;
  gap: 8px;
  padding: 9px 10px;
  border: 1px solid var(--line-strong);
  border-left-width: 5px;
  border-radius: 4px;
  background: var(--sheet);
}

.finding.stop {
  background: var(--stop-tint);
  border-left-color: var(--stop);
}

.finding.caution {
  background: var(--caution-tint);
  border-left-color: var(--caution);
}

.finding.note {
  border-left-color: var(--note);
}

.finding p {
  font-size: 14px;
  margin-top: 3px;
}

.foot {
  display: flex;
  flex-direction: column;
}

.foot .soft {
  font-size: 12px;
  color: var(--ink);
  opacity: 0.8;
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
    max-height: 55vh;
    overflow-y: auto;
  }

  .raised .list {
    display: flex;
  }
}
</style>
