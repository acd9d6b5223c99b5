<script setup lang="ts">
// The converter: chosen, at work, and set up on a bench supply before it is wired in.
import { computed } from 'vue'
import { useAnswer } from '../../state/answer'
import AnswerNote from '../../ui/AnswerNote.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import SetUpTable from '../../ui/SetUpTable.vue'

const { answer, stale, problem } = useAnswer(() => ({ about: 'set_up' }))
const steps = computed(() => answer.value ?? [])
</script>

<template>
  <section class="section">
    <h2>The converter</h2>
    <PartPicker place="converter" title="Converter" none="direct, no converter" />
    <FigureText id="converter.needs_v" />
    <FigureText id="converter.headroom_v" />
    <FigureText id="converter.duty" />
    <FigureText id="converter.efficiency" />
    <FigureText id="load.continuous_a" label="Draws from the battery at its lowest voltage" />
    <FigureText id="converter.heat_w" />
    <FigureText id="converter.rise_k" />
    <FigureText id="pack.standby_a" />
    <FigureText id="adjuster.series_ohm" />
    <FigureText id="adjuster.across_ohm" />
    <FigureText id="adjuster.least_v" />
    <FigureText id="adjuster.most_v" />
    <FigureText id="adjuster.open_v" />
    <AnswerNote :stale="stale" :problem="problem" />
    <template v-if="steps.length">
      <h3 class="after">Set it up before you wire it in</h3>
      <p class="lead">
        A current-limited supply, one meter at its input and one at its output, in this order.
      </p>
      <SetUpTable :steps="steps" data-testid="set-up" />
    </template>
  </section>
</template>
