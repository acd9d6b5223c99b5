<script setup lang="ts">
// The strip of a series link: chosen, and what it carries and bears.
import { computed } from 'vue'
import { usePlan } from '../../state/plan'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'

const { plan, set, figure } = usePlan()
const joinedBy = computed(() => plan.value?.packs[0]?.brick?.joined_by ?? null)
const ways = [
  { value: null, title: 'not decided' },
  { value: 'welded', title: 'welded strips' },
  { value: 'soldered_to_tabs', title: 'soldered to welded tabs' },
  { value: 'soldered_to_cells', title: 'soldered to bare cell ends' },
  { value: 'springs', title: 'spring contacts' },
  { value: 'clamped', title: 'clamped by screws' },
]
/** Before the cells are laid out, one link is counted on as stated; after that the network says it all. */
const laid = computed(() => figure('strip.one_limit_a') !== undefined)
</script>

<template>
  <PartPicker
    place="strip"
    title="Strip"
    none="no strips: spring holders or soldered tabs"
    intro="Strips rated for the load come first. One per cell of a group, in parallel, is usual."
  />
  <section class="section">
    <h2>{{ laid ? 'One strip' : 'One series link' }}</h2>
    <template v-if="laid">
      <FigureText id="strip.one_limit_a" label="Rated for, continuous" />
      <FigureText id="strip.largest_share" />
      <FigureText id="strip.one_area_mm2" />
      <FigureText id="brick.crossings" />
    </template>
    <template v-else>
      <FigureText id="load.continuous_a" label="Carries, continuous" />
      <FigureText id="strip.limit_a" label="Rated for, continuous" />
      <FigureText id="load.peak_a" label="Carries at the peak" />
      <FigureText id="strip.peak_a" label="Rated for at the peak" />
      <FigureText id="strip.area_mm2" />
      <FigureText id="strip.ohm" />
      <FigureText id="strip.all_ohm" />
    </template>
    <FigureText id="pack.short_a" />
    <v-select
      class="joined"
      label="Cells are joined by"
      :items="ways"
      :model-value="joinedBy"
      @update:model-value="set('/packs/0/brick/joined_by', $event)"
    />
  </section>
  <p class="soft section">
    Weld strips; heat from soldering on a bare cell end damages it in seconds. Insulating rings on the
    positive ends, and insulation between groups of different potential. Common practice, no source.
  </p>
</template>

<style scoped>
.joined {
  max-width: 320px;
  margin-top: 12px;
}
</style>
