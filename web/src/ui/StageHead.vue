<script setup lang="ts">
// Head of a stage: what it decides, and what is still to be found out, the most settling first.
import { computed } from 'vue'
import type { Stage } from '../api/types'
import { usePlan } from '../state/plan'

const props = defineProps<{ stage: Stage; title: string; lead: string }>()

const { stage: report } = usePlan()
const unknowns = computed(() => report(props.stage)?.to_find_out ?? [])
</script>

<template>
  <header>
    <h2>{{ title }}</h2>
    <p class="lead">{{ lead }}</p>
    <details v-if="unknowns.length" class="unknowns">
      <summary>To find out: {{ unknowns.length }}. First: {{ unknowns[0]!.what }}</summary>
      <ol>
        <li v-for="u in unknowns" :key="u.what">
          <b>{{ u.what }}</b> <span class="soft">settles {{ u.settles }}</span>
        </li>
      </ol>
    </details>
  </header>
</template>

<style scoped>
header {
  margin-bottom: 16px;
}

.unknowns {
  margin-top: 8px;
  padding: 6px 10px;
  border-left: 3px solid var(--petrol);
  background: var(--petrol-tint);
  font-size: 14px;
}

summary {
  cursor: pointer;
}

ol {
  margin: 6px 0;
  padding-left: 22px;
}
</style>
