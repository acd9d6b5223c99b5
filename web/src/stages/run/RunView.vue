<script setup lang="ts">
// What the plan will do: the answers, what would change them, the course, a map.
import { computed, defineAsyncComponent } from 'vue'
import { show } from '../../format/show'
import FigureText from '../../ui/FigureText.vue'
import StageHead from '../../ui/StageHead.vue'
import RecordedLoad from './RecordedLoad.vue'
import RunAnswers from './RunAnswers.vue'
import RunMap from './RunMap.vue'
import RunSliders from './RunSliders.vue'
import { useRun } from './useRun'

const OwnCell = defineAsyncComponent(() => import('./OwnCell.vue'))
const RunCourse = defineAsyncComponent(() => import('./RunCourse.vue'))

const run = useRun()
const { report, starts, recorded, refused, what, kept } = run
const runs = computed(() => report.value?.runs ?? [])
</script>

<template>
  <StageHead
    stage="run"
    title="What will it do?"
    lead="Simulated cell by cell or group by group: voltage, heat and charge under your load, until something ends it."
  />
  <p v-if="refused" class="refused" role="alert">{{ refused }}</p>
  <p v-if="report?.missing" class="missing">
    {{ report.missing }}
    <router-link :to="{ name: 'device' }">Survey the device</router-link>,
    <router-link :to="{ name: 'voltage' }">choose the voltage</router-link>,
    <router-link :to="{ name: 'cells' }">choose a cell</router-link>.
  </p>
  <template v-else-if="report && runs.length">
    <RunAnswers :runs="runs" :kept="kept.length" :original="report.original ?? null" @drop="run.drop" />
    <p v-if="report.assumed" class="soft after">
      No published curve for this chemistry: a line through common figures, its charge good to a tenth at
      best.
    </p>
    <RunSliders
      :sliders="report.sliders"
      :value-of="run.valueOf"
      :is-turned="run.isTurned.value"
      :may-keep="run.mayKeep.value"
      @turn="run.turn"
      @reset="run.reset"
      @keep="run.keep"
    />
    <div class="after begins">
      <label v-if="report.can_start_as_read" data-testid="starts">
        <input v-model="starts" type="checkbox" true-value="as_read" false-value="full" />
        Start from the group voltages that were read, not from full
      </label>
      <RecordedLoad v-model="recorded" />
    </div>
    <p v-if="report.start_says" class="soft after" data-testid="start-says">{{ report.start_says }}</p>
    <section v-if="report.by_count.length" class="section" data-testid="by-count">
      <h2>With fewer cells fitted</h2>
      <table class="values">
        <thead>
          <tr>
            <th>Cells</th>
            <th class="n">Runs</th>
            <th class="n">Current per cell</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="c in report.by_count" :key="c.cells">
            <td>{{ c.cells }}</td>
            <td class="n">{{ c.time_s == null ? 'not at all' : show(c.time_s, 's') }}</td>
            <td class="n">{{ c.each_a == null ? 'not known' : show(c.each_a, 'a') }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section v-if="report.by_position.length" class="section" data-testid="by-position">
      <h2>In each position</h2>
      <table class="values">
        <thead>
          <tr>
            <th>Packs</th>
            <th class="n">Runs</th>
            <th class="n">Energy to the device</th>
            <th class="n">Lowest voltage</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in report.by_position" :key="p.position">
            <td>{{ p.position }}</td>
            <template v-if="p.run">
              <td class="n">{{ show(p.run.time_s, 's') }}</td>
              <td class="n">{{ show(p.run.feed_wh, 'wh') }}</td>
              <td class="n">{{ show(p.run.least_v, 'v') }}</td>
            </template>
            <td v-else colspan="3">not at all, or not known</td>
          </tr>
        </tbody>
      </table>
    </section>
    <RunCourse :runs="runs" :original="report.original ?? null" />
    <RunMap :sliders="report.sliders" :what="what" :recorded="recorded" />
    <OwnCell />
  </template>
  <section class="section halves">
    <div>
      <h2>Quick calculation</h2>
      <p class="lead">
        One resistance, no diffusion, from coldest to 25 °C: used on the nameplate and in the findings.
      </p>
      <FigureText id="run.time_s" />
      <FigureText id="device.wanted_run_s" />
      <FigureText id="original.run_s" />
      <FigureText id="run.mean_a" />
    </div>
    <div>
      <h2>How much</h2>
      <FigureText id="run.usable_share" />
      <FigureText id="run.usable_ah" />
      <FigureText id="run.usable_wh" />
      <FigureText id="pack.cutoff_v" />
      <FigureText id="run.peak_v" />
    </div>
  </section>
</template>

<style scoped>
.missing {
  padding: 16px;
  border: 1px dashed var(--line-strong);
}

.refused {
  color: var(--stop);
}

.begins {
  display: flex;
  gap: 8px 28px;
  flex-wrap: wrap;
  align-items: center;
}
</style>
