<script setup lang="ts">
// Charger, supply, jack; volts, current, time.
import ArrivalTests from '../../ui/ArrivalTests.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import StageHead from '../../ui/StageHead.vue'
import BalancePanel from './BalancePanel.vue'
</script>

<template>
  <StageHead
    stage="charging"
    title="How is it charged?"
    lead="Constant current, then constant voltage at series × full volts. The guard must not be what ends the charge."
  />
  <PartPicker
    place="charger"
    title="Charger"
    intro="Made for this count and chemistry, within what cells, board and jack take."
  />
  <PartPicker place="supply" title="Supply" none="the charger plugs into the wall itself" />
  <PartPicker place="jack" title="Jack" none="no jack: the pack is taken out" />
  <section class="section two">
    <div>
      <h2>Volts and current</h2>
      <FigureText id="pack.full_v" />
      <FigureText id="charger.output_v" />
      <FigureText id="charge.per_cell_v" />
      <FigureText id="cell.never_above_v" />
      <FigureText id="charger.output_a" />
      <FigureText id="charge.limit_a" />
      <FigureText id="charge.c_rate" />
    </div>
    <div>
      <h2>Time and supply</h2>
      <FigureText id="charge.time_s" />
      <FigureText id="charge.cc_s" />
      <FigureText id="charge.reached" />
      <FigureText id="supply.needed_w" />
      <FigureText id="supply.needed_a" />
      <FigureText id="supply.output_a" />
    </div>
  </section>
  <ArrivalTests
    :kinds="['charger', 'supply']"
    lead="Before it sees a cell: a capacitor behind a resistor is a battery that cannot burn. Mind its stripe."
  />
  <BalancePanel />
  <p class="soft section">
    Charge between 10 and 45 °C, never below freezing, not unattended, on something that does not burn. Common
    practice, no source.
  </p>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(260px, 1fr));
  gap: 28px;
}
</style>
