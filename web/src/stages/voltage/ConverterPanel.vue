<script setup lang="ts">
// The converter: chosen, at work, and set up on a bench supply before it is wired in.
import { computed } from 'vue'
import { useAnswer } from '../../state/answer'
import AnswerNote from '../../ui/AnswerNote.vue'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import PhraseText from '../../ui/PhraseText.vue'

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
    <FigureText id="load.continuous_a" label="Draws from the battery at its lowest" />
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
      <h3 class="after">Set it up before it is wired in</h3>
      <p class="lead">
        A current-limited supply, one meter at its input and one at its output, in this order.
      </p>
      <table data-testid="set-up">
        <thead>
          <tr>
            <th scope="col">Do</th>
            <th scope="col">Then it shows</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(step, i) in steps" :key="i">
            <td>{{ i + 1 }}. <PhraseText :phrase="step.act" plain /></td>
            <td><PhraseText :phrase="step.reads" plain /></td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  margin-top: 6px;
  border-collapse: collapse;
}

th,
td {
  width: 50%;
  padding: 6px 12px 6px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
}
</style>
