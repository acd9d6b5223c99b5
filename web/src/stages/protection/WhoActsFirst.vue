<script setup lang="ts">
// Who acts first in overload, stall and dead short, in words, on the chart, and in figures.
import { saveCsv } from '../../format/csv'
import { show } from '../../format/show'
import { useAnswer } from '../../state/answer'
import AnswerNote from '../../ui/AnswerNote.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import CoordinationChart from './CoordinationChart.vue'

const { answer: chart, stale, problem } = useAnswer(() => ({ about: 'coordination' }))

/** Every value of the chart, in the units of the file formats. */
function save(): void {
  const rows = (chart.value?.curves ?? []).flatMap((c) =>
    c.points.map((p) => [c.label, c.kind, p.current_a, p.least_s, p.most_s ?? '']),
  )
  saveCsv('time-current', ['link', 'kind', 'current_a', 'least_s', 'most_s'], rows)
}
</script>

<template>
  <section v-if="chart || problem" class="section" data-testid="who-acts">
    <h2>What opens first <span v-if="stale && !problem" class="stale">out of date, calculating…</span></h2>
    <AnswerNote :stale="stale" :problem="problem" />
    <p v-if="chart?.missing" class="soft">{{ chart.missing }}</p>
    <template v-else-if="chart">
      <ul class="rows">
        <li v-for="c in chart.cases" :key="c.name" :data-case="c.name">
          <VerdictMark :verdict="c.verdict ?? 'fine'" />
          <b>{{ c.name }}</b>
          <span>{{ c.words }}</span>
        </li>
      </ul>
      <CoordinationChart :chart="chart" />
      <details>
        <summary>Every value</summary>
        <p><v-btn size="small" @click="save">Save as CSV</v-btn></p>
        <div class="sideways" tabindex="0" role="region" aria-label="Values of the chart">
          <table class="values">
            <thead>
              <tr>
                <th>Link</th>
                <th class="n">Continuous</th>
                <th class="n">At the dead short</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="c in chart.curves" :key="c.id">
                <td>{{ c.label }}, {{ c.kind === 'acts' ? 'opens' : 'damaged' }}</td>
                <td class="n">{{ show(c.holds_a, 'a') }}</td>
                <td class="n">
                  <template v-if="c.points.length"
                    >{{ show(c.points[c.points.length - 1]?.least_s ?? 0, 's') }} at
                    {{ show(c.points[c.points.length - 1]?.current_a ?? 0, 'a') }}</template
                  >
                  <template v-else>nothing stated</template>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </details>
      <p class="soft">
        Blade fuses after ISO 8820-3, glass after IEC 60127-2, wires after IEC 60364-4-43, all from memory; a
        board’s delay as stated, else typical. Between a short pulse and the continuous limit one time
        constant is assumed.
      </p>
    </template>
  </section>
</template>

<style scoped>
.stale {
  font-size: 13px;
  font-weight: 400;
  color: var(--copper-text);
}

.rows {
  margin-bottom: 12px;
}

.rows li {
  flex-wrap: nowrap;
  align-items: flex-start;
}

.rows b {
  flex: 0 0 150px;
}

@media (max-width: 700px) {
  .rows li {
    flex-wrap: wrap;
  }
}
</style>
