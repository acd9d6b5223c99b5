<script setup lang="ts">
// Every pack that could feed the device; what is compared, what stands between them, and what hangs on the line.
import { computed, ref } from 'vue'
import type { VoltageOption } from '../../api/types'
import InTurn from '../../ui/InTurn.vue'
import AnswerNote from '../../ui/AnswerNote.vue'
import FigureText from '../../ui/FigureText.vue'
import PhraseText from '../../ui/PhraseText.vue'
import StageHead from '../../ui/StageHead.vue'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import ComparePanel from './ComparePanel.vue'
import ConverterPanel from './ConverterPanel.vue'
import FeedPanel from './FeedPanel.vue'
import OutputMap from './OutputMap.vue'
import OptionList from './OptionList.vue'
import { feedSheets } from './feedFields'
import { optionTitle } from './optionOrder'

const { plan, assessment, edit } = usePlan()

const { answer: found, stale, problem } = useAnswer(() => ({ about: 'voltage_options' }))

/** Names of the options laid side by side: they are weighed anew with every edit. */
const beside = ref<string[]>([])
const compared = computed(() =>
  beside.value.flatMap((name) => found.value?.options.find((o) => optionTitle(o) === name) ?? []),
)

function drop(o: VoltageOption): void {
  beside.value = beside.value.filter((name) => name !== optionTitle(o))
}

const regulated = computed(
  () => plan.value?.nodes.find((n) => n.kind === 'converter')?.part.state === 'chosen',
)
</script>

<template>
  <StageHead
    stage="voltage"
    title="Which voltage?"
    lead="Empty to full on one scale, nominal marked, dashed = under the usual load in the cold. The device works between the petrol lines."
  />
  <AnswerNote :stale="stale" :problem="problem" />
  <p class="whole">
    Not sure? <router-link :to="{ name: 'propose' }">Let whole plans be proposed</router-link>, each complete
    from cell to charger.
  </p>
  <p v-if="found?.missing" class="missing">
    {{ found.missing }} <router-link :to="{ name: 'device' }">Survey the device</router-link>
  </p>
  <InTurn v-else-if="found"><OptionList v-model:beside="beside" :found="found" /></InTurn>
  <ComparePanel
    v-if="found && compared.length > 1"
    :options="compared"
    :found="found"
    @drop="drop"
    @choose="edit($event.changes)"
  />
  <InTurn>
    <ConverterPanel v-if="regulated" />
    <OutputMap v-if="assessment?.outputs.length" :points="assessment.outputs" />
  </InTurn>
  <InTurn><FeedPanel v-for="sheet in feedSheets" :key="sheet.place" :sheet="sheet" /></InTurn>
  <section v-if="assessment?.mains.length" class="section" data-testid="mains">
    <h2>Mains in, out and returning</h2>
    <table class="values">
      <thead>
        <tr>
          <th>When</th>
          <th>The device gets</th>
          <th>The battery</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="state in assessment.mains" :key="state.when">
          <td>{{ state.when }}</td>
          <td><PhraseText :phrase="state.device" plain /></td>
          <td><PhraseText :phrase="state.battery" plain /></td>
        </tr>
      </tbody>
    </table>
  </section>
  <section class="section">
    <h2>Against the old battery</h2>
    <FigureText id="original.nominal_v" />
    <FigureText id="pack.nominal_v" />
    <FigureText id="pack.cutoff_v" />
    <FigureText id="device.speed_change" />
    <FigureText id="device.current_change" />
    <FigureText id="device.power_change" />
  </section>
  <section class="section">
    <h2>To enter in a cut-off or alarm</h2>
    <FigureText id="cutoff.set_v" />
    <FigureText id="cutoff.rearm_set_v" />
    <FigureText id="gauge.set_full_v" />
    <FigureText id="gauge.set_low_v" />
    <FigureText id="gauge.set_empty_v" />
  </section>
</template>

<style scoped>
.missing {
  padding: 16px;
  border: 1px dashed var(--line-strong);
}
</style>
