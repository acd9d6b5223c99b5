<script setup lang="ts">
// What flows in the strips and how warm the cells become, for each load level.
import { computed } from 'vue'
import type { NetworkReport } from '../../api/types'
import { plain, show } from '../../format/show'
import FigureText from '../../ui/FigureText.vue'
import { usePlan } from '../../state/plan'
import QuantityField from '../../ui/QuantityField.vue'

const props = defineProps<{ network: NetworkReport; stale: boolean }>()
const after = defineModel<number | null>('after', { required: true })

const { figure } = usePlan()
const weakest = computed(() =>
  props.network.weakest == null ? null : props.network.segments[props.network.weakest],
)
const hottest = computed(() =>
  props.network.hottest == null ? null : props.network.cells[props.network.hottest],
)
const endless = computed(() => props.network.levels.some((l) => l.current_a > 0))
</script>

<template>
  <section class="section flow" data-testid="flow">
    <h2>What flows <span v-if="stale" class="stale">out of date, calculating…</span></h2>
    <p v-if="network.missing" class="soft">{{ network.missing }}</p>
    <template v-else>
      <div class="pair">
        <div>
          <FigureText id="strip.limit_a" label="Rating of the strips, as laid out" />
          <FigureText id="load.continuous_a" label="Continuous battery current" />
          <FigureText
            v-if="figure('load.peak_a')"
            id="strip.peak_a"
            label="Rating of the strips at the peak"
          />
          <FigureText id="strip.all_ohm" label="Strips and joints" />
          <p v-if="weakest" class="row">
            <span class="soft"
              >Weakest: {{ weakest.strip == null ? 'wire' : 'strip' }} {{ weakest.joins }}, B{{
                weakest.node
              }}</span
            >
            <b :class="{ over: (weakest.used ?? 0) > 1 }"
              >{{ show(weakest.current_a, 'a')
              }}<template v-if="weakest.limit_a != null"> of {{ show(weakest.limit_a, 'a') }}</template></b
            >
          </p>
        </div>
        <div>
          <FigureText id="brick.most_share" label="Most loaded cell, of an even share" />
          <FigureText id="brick.hottest_c" label="Hottest cell, end of a run" />
          <p v-if="hottest" class="row">
            <span class="soft">The hottest is</span><b>{{ hottest.label }}</b>
          </p>
          <FigureText id="brick.strips_g" />
          <FigureText id="brick.welds" label="Welding pulses" />
        </div>
      </div>
      <div v-if="network.levels.length" class="sideways" tabindex="0" role="region" aria-label="Load levels">
        <table class="values">
          <thead>
            <tr>
              <th>Level</th>
              <th class="n">Current</th>
              <th class="n">Lost in strips</th>
              <th class="n">Heat</th>
              <th class="n">After</th>
              <th class="n">Hottest cell</th>
              <th class="n">Continuous</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in network.levels" :key="l.load" :data-level="l.load">
              <td>{{ l.name }}</td>
              <td class="n">{{ show(l.current_a, 'a') }}</td>
              <td class="n">{{ show(l.drop_v, 'v') }}</td>
              <td class="n">{{ show(l.heat_w, 'w') }}</td>
              <td class="n">{{ show(l.after_s, 's') }}</td>
              <td class="n">{{ l.after_c == null ? '–' : `${plain(l.after_c, 0)} °C` }}</td>
              <td class="n">
                {{
                  l.steady_c == null ? '–' : l.steady_c > 150 ? 'over 150 °C' : `${plain(l.steady_c, 0)} °C`
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="endless" class="after">
        <QuantityField
          v-model="after"
          label="Show a continuous level after"
          range="run_time"
          placeholder="the run time"
        />
      </div>
      <p class="soft">
        Each cell is one lump, at the hottest use; heat goes to its neighbours, along the strips, and through
        wrap and foam to the wall. The rise is good to a fifth: measure it on the first run.
      </p>
      <details>
        <summary>Every strip from weld to weld</summary>
        <div class="sideways" tabindex="0" role="region" aria-label="Every strip from weld to weld">
          <table class="values" data-testid="segments">
            <thead>
              <tr>
                <th>From – to</th>
                <th>Node</th>
                <th class="n">Current</th>
                <th class="n">Rated for</th>
                <th class="n">Resistance</th>
                <th class="n">Drop</th>
                <th class="n">Heat</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(s, i) in network.segments" :key="i" :class="{ over: (s.used ?? 0) > 1 }">
                <td>{{ s.joins }}{{ s.strip == null ? ', wire' : '' }}</td>
                <td>B{{ s.node }}</td>
                <td class="n">{{ show(s.current_a, 'a') }}</td>
                <td class="n">{{ s.limit_a == null ? '–' : show(s.limit_a, 'a') }}</td>
                <td class="n">{{ show(s.resistance_ohm, 'ohm') }}</td>
                <td class="n">{{ show(s.drop_v, 'v') }}</td>
                <td class="n">{{ show(s.heat_w, 'w') }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </details>
    </template>
  </section>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0 28px;
}

.row {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 5px 0;
  margin: 0;
  border-bottom: 1px solid var(--line);
}

.over {
  color: var(--stop);
}

.stale {
  font-size: 13px;
  font-weight: 400;
  color: var(--copper-text);
}

.after {
  max-width: 320px;
  margin: 12px 0 6px;
}

summary {
  cursor: pointer;
  margin-top: 8px;
}

@media (max-width: 700px) {
  .pair {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
