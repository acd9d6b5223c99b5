<script setup lang="ts">
// Who charges, how full, how long, from what; what was read at jack and plug; balancing.
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import AnswerNote from '../../ui/AnswerNote.vue'
import ArrivalTests from '../../ui/ArrivalTests.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import SetUpTable from '../../ui/SetUpTable.vue'
import StageHead from '../../ui/StageHead.vue'
import BalancePanel from './BalancePanel.vue'
import ChargeFuse from './ChargeFuse.vue'
import ChargePlace from './ChargePlace.vue'
import ChargeWays from './ChargeWays.vue'
import ContactsPanel from './ContactsPanel.vue'
import CourseChart from './CourseChart.vue'
import EndVoltsTable from './EndVoltsTable.vue'
import FeedList from './FeedList.vue'
import FillPanel from './FillPanel.vue'

const { figure } = usePlan()
const { answer: charge, stale, problem } = useAnswer(() => ({ about: 'charge' }))

const volts = [
  'pack.full_v',
  'charger.output_v',
  'charge.per_cell_v',
  'charge.over_full',
  'cell.never_above_v',
]
const amps = ['charger.output_a', 'charge.limit_a', 'charge.c_rate', 'charge.empty_a']
const after = ['charge.ends_a', 'charge.rested_v', 'charge.restart_v', 'charge.back_days']
const feed = ['supply.needed_w', 'supply.needed_a', 'supply.output_a', 'supply.cable_ohm', 'supply.arrives_v']
const time = ['charge.time_s', 'charge.most_s', 'charge.reached']

/** Figures that always stand there, and those that only some plans have. */
const shown = (always: string[], some: string[]) => [...always, ...some.filter((id) => figure(id))]
</script>

<template>
  <StageHead
    stage="charging"
    title="How is it charged?"
    lead="Constant current, then constant voltage at series × full voltage. The charger must end the charge, not the board."
  />
  <PartPicker
    place="charger"
    title="Charger"
    intro="For this count and chemistry, within the limits of cells, board and jack."
  />
  <PartPicker place="supply" title="Supply" none="the charger plugs into the mains" />
  <AnswerNote :stale="stale" :problem="problem" />
  <FeedList v-if="charge" :feeds="charge.feeds" />
  <PartPicker place="jack" title="Jack" none="no jack: the pack is taken out" />
  <ChargeFuse v-if="charge" :add="charge.fuse_the_lead" />
  <ChargeWays v-if="charge" :ways="charge.ways" />
  <section class="section halves">
    <div>
      <h2>Voltage and current</h2>
      <FigureText v-for="id in shown(volts, [])" :id="id" :key="id" />
      <FigureText v-for="id in shown(amps, [])" :id="id" :key="id" />
    </div>
    <div>
      <h2>Time, supply, afterwards</h2>
      <FigureText v-for="id in shown(time, feed)" :id="id" :key="id" />
      <FigureText v-for="id in shown([], after)" :id="id" :key="id" />
    </div>
  </section>
  <section v-if="charge?.set_up.length" class="section" data-testid="charger-set-up">
    <h2>Set up the charger before you connect the pack</h2>
    <SetUpTable :steps="charge.set_up" />
  </section>
  <CourseChart v-if="charge?.course" :course="charge.course" />
  <EndVoltsTable v-if="charge" :ends="charge.ends" :assumed="charge.assumed" />
  <ChargePlace />
  <ContactsPanel v-if="charge" :read="charge.contacts" />
  <ArrivalTests
    :kinds="['charger', 'supply']"
    lead="Before it sees a cell: a capacitor behind a resistor is a battery that cannot burn. Mind the polarity stripe."
  />
  <BalancePanel />
  <FillPanel />
  <p class="soft section">
    Charge between 10 and 45 °C, never below freezing, never unattended, on a fireproof surface. Common
    practice, no source.
  </p>
</template>
