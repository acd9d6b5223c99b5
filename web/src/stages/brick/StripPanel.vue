<script setup lang="ts">
// The strip of a series link: chosen, and what it carries and bears.
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
</script>

<template>
  <PartPicker
    place="strip"
    title="Strip"
    none="no strips: spring holders or soldered tabs"
    intro="Strips that bear the load first. One for each cell of a group, side by side, is usual."
  />
  <section class="section">
    <h2>One series link</h2>
    <FigureText id="load.continuous_a" label="Carries continuously" />
    <FigureText id="strip.limit_a" label="Bears continuously" />
    <FigureText id="load.peak_a" label="Carries in the peak" />
    <FigureText id="strip.peak_a" label="Bears for the peak" />
    <FigureText id="brick.crossings" />
    <FigureText id="strip.area_mm2" />
    <FigureText id="strip.ohm" />
    <FigureText id="strip.all_ohm" />
    <FigureText id="pack.short_a" />
  </section>
  <p class="soft section">
    Weld strips; heat from soldering on a bare cell end harms it in seconds. Insulating rings on the positive
    ends, and sheet between groups of different potential. Common practice, no source.
  </p>
</template>
