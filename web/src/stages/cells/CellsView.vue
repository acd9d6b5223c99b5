<script setup lang="ts">
// Which cell, how many in parallel, and what the pack then is.
import { computed, ref } from 'vue'
import InTurn from '../../ui/InTurn.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import QuantityField from '../../ui/QuantityField.vue'
import StageHead from '../../ui/StageHead.vue'
import { usePlan } from '../../state/plan'
import FeedPanel from '../voltage/FeedPanel.vue'
import { holderSheet } from '../voltage/feedFields'
import StockCells from './StockCells.vue'

const { plan, assessment, set, figure } = usePlan()

const pack = computed(() => plan.value?.packs[0])
const taken = computed(() => pack.value?.ready?.state === 'chosen')
/** Jobs that usually take a pack as it comes. */
const usual = ['charging_added', 'ready_pack']
const asked = ref<boolean | null>(null)
const whole = computed(() => taken.value || (asked.value ?? usual.includes(plan.value?.device.job ?? '')))
const ways = [
  { whole: false, title: 'built of cells', says: 'You choose, group and join them.' },
  {
    whole: true,
    title: 'ready pack',
    says: 'A hobby, tool or replacement pack, or the device’s own that stays.',
  },
]

function choose(to: boolean): void {
  asked.value = to
  if (!to && taken.value) set('/packs/0/ready', { state: 'open' })
}
const proposed = computed(() => figure('cells.proposed')?.value)
const parallel = computed({
  get: () => pack.value?.parallel ?? null,
  set: (now: number | null) => set('/packs/0/parallel', now),
})
const series = computed({
  get: () => pack.value?.series ?? null,
  set: (now: number | null) => set('/packs/0/series', now),
})
</script>

<template>
  <StageHead
    stage="cells"
    :title="whole ? 'Which pack?' : 'Which cells, and how many?'"
    :lead="
      whole
        ? 'A ready pack: its label says what it holds, a test says what is true.'
        : 'The parallel count follows from the run time you want and the current per cell; the larger decides.'
    "
  />
  <fieldset class="ways" data-testid="pack-ways">
    <legend class="soft">The pack is</legend>
    <label v-for="w in ways" :key="w.title">
      <input type="radio" name="pack-way" :checked="whole === w.whole" @change="choose(w.whole)" />
      <span
        ><b>{{ w.title }}</b> <span class="soft">{{ w.says }}</span></span
      >
    </label>
  </fieldset>
  <PartPicker
    v-if="whole"
    place="ready"
    title="Pack"
    intro="As its label says. No cells, strips or welding needed."
  />
  <PartPicker
    v-else
    place="cell"
    title="Cell"
    intro="Cells of the pack's chemistry, each with the count it needs."
  />
  <section v-if="!whole" class="section counts">
    <h2>Counts</h2>
    <div class="fields">
      <QuantityField v-model="series" label="In series" range="series" data-at="/packs/0/series" />
      <QuantityField v-model="parallel" label="In parallel" range="parallel" data-at="/packs/0/parallel" />
    </div>
    <p v-if="proposed" class="proposal" data-testid="proposal">
      Proposed: <b>{{ proposed }} in parallel</b>, {{ assessment?.parallel_why }}.
      <v-btn v-if="proposed !== parallel" size="small" class="ml-2" @click="parallel = proposed">
        Use {{ proposed }}
      </v-btn>
    </p>
  </section>
  <InTurn v-if="!whole"><StockCells /></InTurn>
  <InTurn v-if="!whole"><FeedPanel :sheet="holderSheet" /></InTurn>
  <section class="section halves">
    <div>
      <h2>The pack</h2>
      <FigureText id="pack.ah" />
      <FigureText id="pack.wh" />
      <FigureText id="pack.mass_g" :label="whole ? 'Mass of the pack' : undefined" />
      <FigureText id="pack.cost" :label="whole ? 'Price of the pack' : undefined" />
      <FigureText v-if="!whole" id="cell.wh_per_l" />
    </div>
    <div>
      <h2>Under load</h2>
      <FigureText id="cells.limit_a" :label="whole ? 'Continuous current of the pack' : undefined" />
      <FigureText id="cells.peak_limit_a" :label="whole ? 'Peak current rating of the pack' : undefined" />
      <FigureText v-if="!whole" id="cell.continuous_a" />
      <FigureText id="pack.ohm" :label="whole ? 'Resistance of the pack' : undefined" />
      <FigureText id="pack.sag_usual_v" />
      <FigureText id="pack.sag_peak_v" />
      <FigureText id="run.time_s" />
    </div>
  </section>
</template>

<style scoped>
.ways {
  border: 0;
  padding: 4px 0 12px;
  display: grid;
  gap: 4px;
}

.ways legend {
  padding: 0;
  font-size: 14px;
}

.ways label {
  display: flex;
  gap: 10px;
  align-items: baseline;
  font-size: 14px;
  cursor: pointer;
}

.ways input {
  accent-color: var(--petrol);
}

.counts .fields {
  grid-template-columns: repeat(2, minmax(120px, 180px));
}

.proposal {
  margin-top: 10px;
}
</style>
