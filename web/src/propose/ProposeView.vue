<script setup lang="ts">
// Whole plans from the survey: each checked from cell to plug, on shared scales; below, what cannot be and why.
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { Proposal, Wishes } from '../api/types'
import { show } from '../format/show'
import { useJob } from '../state/jobs'
import { usePlan } from '../state/plan'
import JobProgress from '../ui/JobProgress.vue'
import ProblemList from '../ui/ProblemList.vue'
import CompareProposals from './CompareProposals.vue'
import ProposalCard from './ProposalCard.vue'
import RefusalList from './RefusalList.vue'
import WishBar from './WishBar.vue'

const router = useRouter()
const { id, plan, edit } = usePlan()
const { job, problem, start, stop } = useJob()

const wishes = ref<Wishes>({
  first: null,
  weights: [],
  afresh: false,
  no_welding: false,
  reversible: false,
  usb: false,
})
/** Names of the proposals that are laid side by side. */
const beside = ref<number[]>([])

const working = computed(() => job.value?.stage === 'working')
/** All that was found; while it is searched, the first. */
const found = computed(() => (working.value || job.value?.stage === 'done' ? job.value?.proposals : null))
const proposals = computed(() => found.value?.proposals ?? [])

const most = computed(() => {
  const top = (of: (p: Proposal) => number | null | undefined) =>
    Math.max(0, ...proposals.value.map((p) => of(p) ?? 0))
  return {
    run_s: top((p) => p.merits.run_s),
    mass_g: top((p) => p.merits.mass_g),
    price: top((p) => p.merits.price),
  }
})

const head = computed(() => {
  if (working.value || !found.value) return 'Whole plans'
  const words = ['No way', 'One way', 'Two ways', 'Three ways', 'Four ways', 'Five ways', 'Six ways']
  return `${words[proposals.value.length] ?? 'Ways'} to convert it`
})

async function search(): Promise<void> {
  if (!plan.value) return
  beside.value = []
  await start(api.propose(plan.value, id.value, wishes.value))
}

async function use(proposal: Proposal): Promise<void> {
  edit(proposal.changes)
  await router.push({ name: 'path' })
}

function lay(i: number, wanted: boolean): void {
  beside.value = wanted ? [...beside.value, i].slice(-2) : beside.value.filter((b) => b !== i)
}

onMounted(search)
watch(wishes, search, { deep: true })
</script>

<template>
  <header>
    <h2>{{ head }}</h2>
    <p class="lead">
      Each is complete from cell to charger and has no stop. What you chose already is kept; “Use this” is one
      change, which Undo takes back.
    </p>
  </header>
  <WishBar v-model="wishes" />
  <JobProgress v-if="working" :share="job!.done_share" label="Putting plans together">
    <p class="soft">
      {{
        found ? 'Here is the first; looking for better ones…' : 'Putting plans together and checking each…'
      }}
      <button type="button" class="textlink" @click="stop">Stop</button>
    </p>
  </JobProgress>
  <ProblemList v-if="problem" :problem="problem" />
  <p v-if="job?.stage === 'stopped'" class="soft">
    Stopped. <button type="button" class="textlink" @click="search">Search again</button>
  </p>
  <template v-if="found">
    <p v-if="found.missing" class="missing" data-testid="missing">
      {{ found.missing }} <router-link :to="{ name: 'device' }">About the device</router-link>
    </p>
    <ul v-if="found.assumed.length" class="assumed soft" data-testid="assumed">
      <li v-for="said in found.assumed" :key="said">{{ said }}</li>
    </ul>
    <div v-if="proposals.length" class="scales soft" aria-hidden="true">
      <span class="scale"
        >runs <i>{{ show(most.run_s, 's') }}</i></span
      >
      <span class="scale"
        >weighs <i>{{ show(most.mass_g, 'g') }}</i></span
      >
      <span class="scale"
        >costs <i>{{ most.price ? `${plan?.currency} ${Math.round(most.price)}` : 'not known' }}</i></span
      >
    </div>
    <ol class="proposals" data-testid="proposals">
      <ProposalCard
        v-for="(p, i) in proposals"
        :key="p.title + p.name + p.made_of"
        :proposal="p"
        :letter="'ABCDEF'[i]!"
        :most="most"
        :currency="plan?.currency"
        :first="i === 0"
        :beside="beside.includes(i)"
        :comparable="proposals.length > 1"
        @use="use(p)"
        @lay="lay(i, $event)"
      />
    </ol>
    <CompareProposals
      v-if="beside.length === 2"
      :pair="beside.map((i) => proposals[i]!)"
      :currency="plan?.currency"
    />
    <RefusalList v-if="!working" :refusals="found.refusals" @found="search" />
  </template>
</template>

<style scoped>
.missing {
  padding: 10px 12px;
  border-left: 3px solid var(--petrol);
  background: var(--petrol-tint);
}

.assumed {
  margin: 8px 0 0;
  padding-left: 18px;
}

.proposals {
  margin: 0;
  padding: 0;
  list-style: none;
}

.scales {
  display: grid;
  grid-template-columns: minmax(0, 1fr) repeat(3, 130px) 132px;
  gap: 0 20px;
  margin-top: 12px;
  padding: 0 14px;
  font-size: 13px;
}

.scale {
  display: flex;
  justify-content: space-between;
  border-bottom: 1px solid var(--line-strong);
}

.scale:first-child {
  grid-column: 2;
}

.scale i {
  font-style: normal;
}

@media (width < 1100px) {
  .scales {
    display: none;
  }
}
</style>
