<script setup lang="ts">
// Board, fuse, cut-off, alarm: what guards the cells, and what acts when.
import { usePlan } from '../../state/plan'
import InTurn from '../../ui/InTurn.vue'
import ArrivalTests from '../../ui/ArrivalTests.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import StageHead from '../../ui/StageHead.vue'
import BoardPlaces from './BoardPlaces.vue'
import MoreCurrent from './MoreCurrent.vue'
import WhoActsFirst from './WhoActsFirst.vue'

const { figure } = usePlan()
</script>

<template>
  <StageHead
    stage="protection"
    title="What protects the pack?"
    lead="A board for the cells, a fuse for the wires. Best first; each unsuitable one says why."
  />
  <PartPicker
    place="board"
    title="Board"
    none="no board"
    intro="For the series count and chemistry, rated for the load, tripping before the cells are damaged."
  />
  <BoardPlaces />
  <PartPicker
    place="fuse"
    title="Fuse"
    none="no fuse"
    intro="At pack plus. Carries the load continuously, blows before wire, strip or plug is damaged, rated for DC."
  />
  <InTurn>
    <PartPicker place="cutoff" title="Cut-off board" none="no cut-off board" />
    <PartPicker place="alarm" title="Alarm" none="no alarm" />
  </InTurn>
  <InTurn><WhoActsFirst /></InTurn>
  <section class="section halves">
    <div>
      <h2>Board</h2>
      <FigureText id="load.continuous_a" label="Load at the battery, continuous" />
      <FigureText id="board.continuous_a" label="Board rated for" />
      <FigureText id="board.trip_a" label="Board trips" />
      <FigureText id="board.trip_delay_s" label="after" />
      <template v-if="figure('board.trip_cold_a')">
        <FigureText id="board.trip_cold_a" label="Calculated, cold" />
        <FigureText id="board.trip_warm_a" label="Calculated, warm" />
        <FigureText id="board.pairs_needed" label="MOSFET pairs for the largest current" />
      </template>
      <FigureText id="board.over_discharge_v" />
      <FigureText id="board.over_charge_v" />
      <FigureText id="board.bleed_a" />
      <template v-if="figure('cutoff.rebound_v')">
        <FigureText id="cutoff.set_v" />
        <FigureText id="cutoff.rearm_set_v" />
        <FigureText id="cutoff.rebound_v" label="Voltage rebound when it opens" />
      </template>
    </div>
    <div>
      <h2>Fuse and standby drain</h2>
      <FigureText id="fuse.needed_a" />
      <FigureText id="fuse.carries_a" />
      <FigureText id="fuse.warm_share" label="Share of its rating left when warm" />
      <FigureText id="fuse.unguarded_mm" />
      <FigureText id="fuse.peak_a" />
      <FigureText id="pack.short_a" />
      <FigureText id="fuse.breaking_a" />
      <FigureText id="pack.standby_a" />
      <FigureText id="pack.after_cutoff_a" />
      <FigureText id="pack.reserve_days" />
    </div>
  </section>
  <InTurn>
    <ArrivalTests
      :kinds="['board', 'cut_off', 'fuse', 'switch']"
      lead="Before you solder anything: a row of resistors stands for the cells, a current limit for the fuse. No cell on the bench; wear goggles when a fuse is blown."
    />
    <MoreCurrent />
  </InTurn>
</template>
