<script setup lang="ts">
// The usual ways to lay the groups on this lattice, and a search for a better one round the locked cells.
import { computed } from 'vue'
import type { PatternOffer } from '../../api/types'
import { plain, show } from '../../format/show'
import { api } from '../../api/client'
import { useJob } from '../../state/jobs'
import { usePlan } from '../../state/plan'
import JobProgress from '../../ui/JobProgress.vue'
import ProblemList from '../../ui/ProblemList.vue'

defineProps<{ patterns: PatternOffer[] }>()
const { plan, edit } = usePlan()
const { job, problem, start, stop } = useJob()

const names: Record<string, string> = {
  ladder: 'Ladder',
  blocks: 'Blocks',
  snake: 'Snake',
  spiral: 'Spiral',
}
const busy = computed(() => job.value?.stage === 'working')
let seed = 0

async function search(thorough: boolean): Promise<void> {
  const from = plan.value
  if (!from) return
  seed += 1
  const ended = await start(api.searchBrick(from, seed, thorough))
  if (ended?.layout && plan.value === from) edit([{ at: '/packs/0/brick/layout', value: ended.layout }])
}

function words(p: PatternOffer): string {
  const m = p.merit
  const across = m.narrowest ? `, at least ${m.narrowest} across` : ''
  return `${m.strips} strips, ${show(m.strip_mm, 'mm')}${across}${m.wires ? `, ${m.wires} links by wire` : ''}`
}
</script>

<template>
  <section class="section">
    <h2>How the groups lie</h2>
    <ul class="rows">
      <li v-for="p in patterns" :key="p.pattern" :data-pattern="p.pattern">
        <b>{{ names[p.pattern] }}</b> <span class="soft">{{ words(p) }}</span>
        <b v-if="p.chosen" class="taken">laid out</b>
        <v-btn v-else size="small" :aria-label="`Use ${names[p.pattern]}`" @click="edit(p.changes)"
          >Use</v-btn
        >
      </li>
    </ul>
    <JobProgress v-if="busy" :share="job?.done_share ?? 0" label="Share of the search done">
      <p class="go">
        trying, {{ plain((job?.done_share ?? 0) * 100, 0) }} %
        <v-btn size="small" @click="stop">Stop</v-btn>
      </p>
    </JobProgress>
    <p v-else class="go">
      <v-btn size="small" @click="search(false)">Search a better one</v-btn>
      <v-btn size="small" variant="text" @click="search(true)">Search longer</v-btn>
      <span class="soft">Locked cells stay.</span>
    </p>
    <ProblemList v-if="problem" :problem="problem" />
  </section>
</template>

<style scoped>
li .soft {
  flex: 1;
}

.taken {
  font-size: 13px;
  color: var(--copper-text);
}

.go {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
</style>
