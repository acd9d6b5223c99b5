<script setup lang="ts">
// Without an ammeter: what a run drew, from what the recharge after it put back.
import { computed, ref, watch } from 'vue'
import { api } from '../../api/client'
import type { MeanDraw, Problem, PutBack } from '../../api/types'
import { plain, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import ProblemList from '../../ui/ProblemList.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { turns } from '../../state/turns'

const open = defineModel<boolean>({ required: true })

const { plan, set } = usePlan()

const as = ref<PutBack['as']>('charge')
const amount = ref<number | null>(null)
const run = ref<number | null>(plan.value?.device.original.run_s?.value ?? null)
const error = ref<number | null>(null)
const drew = ref<MeanDraw | null>(null)
const problem = ref<Problem | null>(null)

const readings: { value: PutBack['as']; title: string }[] = [
  { value: 'charge', title: 'ampere-hours at the battery' },
  { value: 'energy', title: 'watt-hours at the battery' },
  { value: 'supply_energy', title: 'watt-hours at the charger’s plug' },
]

watch(as, () => {
  amount.value = null
})

const { take: turn } = turns()
watch([as, amount, run, error], async () => {
  const isLast = turn()
  if (amount.value === null || run.value === null) {
    drew.value = null
    problem.value = null
    return
  }
  const put_back: PutBack =
    as.value === 'charge'
      ? { as: 'charge', charge_ah: amount.value }
      : { as: as.value, energy_wh: amount.value }
  const chemistry = plan.value?.device.original.chemistry ?? null
  const answer = await api.recharge({ put_back, run_s: run.value, chemistry, error_share: error.value })
  if (!isLast()) return
  drew.value = answer.ok ? answer.value : null
  problem.value = answer.ok ? null : answer.problem
})

const words = computed(() => {
  const draw = drew.value?.level.draw
  if (draw?.as === 'current') return show(draw.value_a.value, 'a')
  return draw?.as === 'power' ? show(draw.value_w.value, 'w') : ''
})

/** The level takes the place of an earlier one of the same kind; others stay. */
function take(): void {
  const level = drew.value?.level
  if (!level) return
  set('/device/loads', [...(plan.value?.device.loads ?? []).filter((l) => l.id !== level.id), level])
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" aria-labelledby="recharge-title">
    <v-card class="panel">
      <h2 id="recharge-title">From a recharge</h2>
      <p class="lead">
        Run it for a known time from full, then charge it full again and read what went in. The run took that,
        or a little less.
      </p>
      <div class="fields after">
        <v-select v-model="as" label="What was read" :items="readings" />
        <QuantityField
          :key="as"
          v-model="amount"
          label="Recharged"
          :range="as === 'charge' ? 'battery_ah' : 'energy'"
        />
        <QuantityField v-model="run" label="It had run for" range="run_time" />
        <QuantityField v-model="error" label="Error of the counter" range="tolerance" />
      </div>
      <ProblemList v-if="problem" :problem="problem" data-testid="recharge-problem" />
      <p v-if="drew" class="after" data-testid="recharge-drew">
        It drew <strong>{{ words }}</strong> on average, good to {{ plain(drew.error_share * 100, 0) }} %: the
        run took about {{ plain(drew.returned_share * 100, 0) }} % of what was recharged.
      </p>
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="!drew" @click="take">Use it as a level</v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
