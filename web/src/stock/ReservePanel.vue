<script setup lang="ts">
// The grouping reserved for a plan: the plan takes what was read on the cells, the stock that they are spoken for.
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { Grouped, PlanSummary, Problem } from '../api/types'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'

const props = defineProps<{ grouped: Grouped; plans: PlanSummary[]; outOfDate: boolean }>()
const planId = defineModel<string | null>({ required: true })
const emit = defineEmits<{ reserved: [] }>()

const router = useRouter()
const { changed } = useStock()

const reserved = ref('')
const problem = ref<Problem | null>(null)

async function reserve(): Promise<void> {
  if (!planId.value) return
  const opened = await api.plan(planId.value)
  if (!opened.ok) {
    problem.value = opened.problem
    return
  }
  const ids = props.grouped.ids
  const answer = await api.reserveCells({
    plan: planId.value,
    revision: opened.value.revision,
    edit: opened.value.edit,
    groups: props.grouped.grouping.groups.map((g) => g.cells.map((c) => ids[c.label]!)),
  })
  problem.value = answer.ok ? null : answer.problem
  if (!answer.ok) return
  reserved.value = planId.value
  await changed()
  emit('reserved')
}

watch(
  () => props.grouped,
  () => (reserved.value = ''),
)
</script>

<template>
  <section>
    <h2>Reserve them</h2>
    <div class="ask">
      <v-select
        v-model="planId"
        class="plan"
        label="For the plan"
        :items="plans.map((p) => ({ value: p.id, title: `${p.name}, ${p.counts}` }))"
      />
      <v-btn color="primary" variant="flat" :disabled="!planId || outOfDate" @click="reserve">Reserve</v-btn>
      <v-btn v-if="reserved" @click="router.push({ name: 'cells', params: { id: reserved } })">
        Open the plan
      </v-btn>
    </div>
    <p v-if="reserved" class="soft" data-testid="reserved">
      The plan keeps the readings of the cells; the stock marks them as reserved.
    </p>
    <ProblemList v-if="problem" :problem="problem" />
  </section>
</template>

<style scoped>
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: start;
  margin-top: 12px;
}

.plan {
  flex: 1 1 220px;
}

.ask > .v-btn {
  flex: none;
  height: 40px;
}
</style>
