<script setup lang="ts">
// Which cells go together: chosen by core, looked at here, solved again round what the maker holds fast.
import { computed, reactive, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api } from '../api/client'
import type { Grouped, PlanSummary } from '../api/types'
import { plain } from '../format/show'
import { useJob } from '../state/jobs'
import { useStock } from '../state/stock'
import JobProgress from '../ui/JobProgress.vue'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { useRefusals } from '../ui/refusals'
import GroupBars from './GroupBars.vue'
import GroupChoices from './GroupChoices.vue'
import GroupNumbers from './GroupNumbers.vue'
import PickingList from './PickingList.vue'
import ReservePanel from './ReservePanel.vue'
import SchoolsPanel from './SchoolsPanel.vue'
import { newGroupForm } from './groupForm'

const route = useRoute()
const { lots, lotId, change } = useStock()
const { job, problem, start, stop } = useJob()

const refused = useRefusals()
const chosenLots = ref<string[]>([])
const form = reactive(newGroupForm())
const locked = ref<Record<string, number>>({})
const excluded = ref<Record<string, string>>({})
const grouped = ref<Grouped | null>(null)
/** Set when the stock changed under the grouping that is shown. */
const outOfDate = ref(false)

watch(
  [lots, lotId],
  () => {
    if (lotId.value) chosenLots.value = [lotId.value]
    else if (!chosenLots.value.length && lots.value?.[0]) chosenLots.value = [lots.value[0].id]
  },
  { immediate: true },
)
watch(change, () => (outOfDate.value = !!grouped.value))

// The plan that the cells are for.
const plans = ref<PlanSummary[]>([])
const planId = ref<string | null>(typeof route.query.plan === 'string' ? route.query.plan : null)
void api.plans({ count: 500 }).then((answer) => {
  if (!answer.ok) return
  plans.value = answer.value
  const counts = /^(\d+)S(\d+)P$/.exec(plans.value.find((p) => p.id === planId.value)?.counts ?? '')
  if (counts) {
    form.series = Number(counts[1])
    form.parallel = Number(counts[2])
  }
})

const busy = computed(() => job.value?.stage === 'working')

async function solve(): Promise<void> {
  if (form.series === null || form.parallel === null) return
  const ended = await start(
    api.groupCells({
      lots: chosenLots.value,
      series: form.series,
      parallel: form.parallel,
      weights: {
        capacity: form.capacity ?? 0,
        resistance: form.resistance ?? 0,
        self_discharge: form.selfDischarge ?? 0,
      },
      mix_lots: form.mixLots,
      with_watched: form.withWatched,
      locked: Object.entries(locked.value).map(([cell, group]) => ({ cell, group })),
      excluded: Object.keys(excluded.value),
      plan: planId.value,
      seed: form.seed,
      effort: form.effort,
    }),
  )
  if (ended?.grouped) {
    grouped.value = ended.grouped
    outOfDate.value = false
  }
}

function lock(label: string, group: number): void {
  const id = grouped.value?.ids[label]
  if (!id) return
  const next = { ...locked.value }
  if (next[id]) delete next[id]
  else next[id] = group
  locked.value = next
}

function exclude(label: string): void {
  const id = grouped.value?.ids[label]
  if (!id) return
  const next = { ...locked.value }
  delete next[id]
  locked.value = next
  excluded.value = { ...excluded.value, [id]: label }
}

function takeIn(id: string): void {
  const next = { ...excluded.value }
  delete next[id]
  excluded.value = next
}

const isLocked = (label: string) => !!locked.value[grouped.value?.ids[label] ?? '']
const result = computed(() => grouped.value?.grouping ?? null)

function print(): void {
  window.print()
}
</script>

<template>
  <div class="screen">
    <h2>Which cells go together?</h2>
    <p class="lead">
      The weakest group ends the run: it is made as strong as these cells allow. Among equally strong
      groupings the most even one wins.
    </p>
    <div class="ask">
      <v-select
        v-model="chosenLots"
        class="lots-field"
        label="Out of"
        multiple
        :items="(lots ?? []).map((l) => ({ value: l.id, title: l.lot.name }))"
      />
      <QuantityField v-model="form.series" label="In series" range="series" required />
      <QuantityField v-model="form.parallel" label="In parallel" range="parallel" required />
      <v-select
        v-model="form.effort"
        label="Search"
        :items="[
          { value: 'quick', title: 'quick' },
          { value: 'thorough', title: 'thorough' },
        ]"
      />
      <span class="go">
        <v-btn v-if="busy" @click="stop">Stop</v-btn>
        <v-btn v-else color="primary" variant="flat" :disabled="!chosenLots.length || refused" @click="solve">
          {{ result ? 'Solve again' : 'Find the groups' }}
        </v-btn>
      </span>
    </div>
    <GroupChoices v-model:form="form" class="more" :excluded="excluded" @take-in="takeIn" />
    <JobProgress v-if="busy" class="progress" :share="job?.done_share ?? 0" label="Share of the search done">
      <span class="soft">searching, {{ plain((job?.done_share ?? 0) * 100, 0) }} %</span>
    </JobProgress>
    <ProblemList v-if="problem" :problem="problem" data-testid="group-problem" />
  </div>

  <template v-if="result && grouped">
    <p v-if="outOfDate" class="stale screen" role="status">
      The stock has changed since: this grouping is out of date. Solve again.
    </p>
    <section class="section" data-testid="groups">
      <GroupBars :grouping="result" :is-locked="isLocked" @lock="lock" @exclude="exclude" />
    </section>
    <GroupNumbers class="section screen" :grouping="result" />
    <section class="section screen">
      <h2>Before you join them</h2>
      <p v-if="result.bring_first.length" data-testid="bring-first">
        Bring to the voltage of the others first: <b>{{ result.bring_first.join(', ') }}</b>. Charge or
        discharge each one singly; then read again.
      </p>
      <p v-else-if="result.groups.every((g) => g.joining)" class="soft">
        All are close enough at rest to be joined. Read them once more on the day: cells drift.
      </p>
      <p v-else class="soft">Not all voltages are known: read every cell before its group is joined.</p>
      <SchoolsPanel :schools="grouped.schools" />
    </section>
    <ReservePanel
      v-model="planId"
      class="section screen"
      :grouped="grouped"
      :plans="plans"
      :out-of-date="outOfDate"
      @reserved="outOfDate = false"
    />
    <section class="section">
      <PickingList :grouping="result" @print="print" />
    </section>
    <details class="section screen">
      <summary>{{ result.left_out.length }} cells left out</summary>
      <ul class="left">
        <li v-for="l in result.left_out" :key="l.label">
          <b>{{ l.label }}</b> <span class="soft">{{ l.why }}</span>
        </li>
      </ul>
    </details>
  </template>
</template>

<style scoped>
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: start;
  margin-top: 12px;
}

.ask > * {
  flex: 0 1 120px;
}

.ask > .lots-field {
  flex: 1 1 220px;
}

.ask > .v-btn,
.go {
  flex: none;
}

.go .v-btn,
.ask > .v-btn {
  height: 40px;
}

.more {
  margin-top: 10px;
}

details > summary {
  cursor: pointer;
}

.progress {
  margin-top: 12px;
}

.stale {
  margin-top: 12px;
  padding: 8px 10px;
  border-left: 5px solid var(--caution);
  background: var(--caution-tint);
}

.left {
  columns: 3 220px;
  padding-left: 18px;
  font-size: 14px;
}

@media print {
  .screen {
    display: none;
  }
}
</style>
