<script setup lang="ts">
// Wires, plug and switch of the line: limit, resistance, drop.
import { computed } from 'vue'
import InTurn from '../../ui/InTurn.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import QuantityField from '../../ui/QuantityField.vue'
import StageHead from '../../ui/StageHead.vue'
import WiringWork from './WiringWork.vue'
import { usePlan } from '../../state/plan'

const { plan, set, figure } = usePlan()

/** Figures that only some wires have: what the load draws flows in those of the line. */
const shown = (ids: string[]) => ids.filter((id) => figure(id))

/** Runs that have, or may get, a wire; those joined on the spot are listed below. */
const wired = computed(() =>
  (plan.value?.runs ?? [])
    .map((run, index) => ({ run, index }))
    .filter(({ run }) => run.wire.state !== 'none'),
)
const joined = computed(() =>
  (plan.value?.runs ?? [])
    .map((run, index) => ({ run, index }))
    .filter(({ run }) => run.wire.state === 'none' && present(run.from) && present(run.to)),
)

function present(id: string): boolean {
  const node = plan.value?.nodes.find((n) => n.id === id)
  return node?.kind === 'pack' || node?.kind === 'device' || node?.part.state !== 'none'
}

const names: Record<string, string> = { plug: 'plug', cutoff: 'cut-off' }
const end = (id: string) => names[id] ?? id
</script>

<template>
  <StageHead
    stage="wiring"
    title="Wires, plug and switch"
    lead="Every wire carries the load and heats up; both directions count for the drop. At least as thick as the wire it replaces."
  />
  <div v-for="{ run, index } in wired" :key="run.id" class="run">
    <PartPicker :place="run.id" :title="`${end(run.from)} to ${end(run.to)}`" none="joined directly" />
    <div class="fields">
      <QuantityField
        label="Length, one way"
        range="run_length"
        :data-at="`/runs/${index}/length_mm`"
        :model-value="run.length_mm"
        @update:model-value="set(`/runs/${index}/length_mm`, $event)"
      />
    </div>
    <InTurn>
      <FigureText :id="`wire.limit_a@${run.id}`" />
      <FigureText :id="`wire.ohm@${run.id}`" />
      <FigureText
        v-for="id in shown([
          `wire.drop_usual_v@${run.id}`,
          `wire.drop_peak_v@${run.id}`,
          `wire.heat_w@${run.id}`,
        ])"
        :id="id"
        :key="id"
      />
    </InTurn>
  </div>
  <p v-if="!wired.length" class="soft">
    No wire yet: every part is connected directly. Add a wire where there is one.
  </p>
  <section class="section">
    <h2>Plug and switch</h2>
    <InTurn>
      <PartPicker place="plug" title="Plug" none="no plug" />
      <PartPicker place="switch" title="Switch" none="no switch" />
    </InTurn>
  </section>
  <section class="section">
    <h2>The whole path</h2>
    <FigureText id="wire.drop_v" />
    <FigureText id="wire.drop_share" />
    <FigureText id="path.ohm" />
  </section>
  <InTurn><WiringWork /></InTurn>
  <details class="section">
    <summary>Connected directly, without a wire: {{ joined.length }}</summary>
    <ul>
      <li v-for="{ run, index } in joined" :key="run.id">
        {{ end(run.from) }} to {{ end(run.to) }}
        <v-btn size="small" variant="text" @click="set(`/runs/${index}/wire`, { state: 'open' })"
          >Add a wire</v-btn
        >
      </li>
    </ul>
  </details>
</template>

<style scoped>
.run .fields {
  grid-template-columns: minmax(140px, 220px);
  margin: 4px 0 8px;
}

summary {
  cursor: pointer;
}
</style>
