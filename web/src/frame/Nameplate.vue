<script setup lang="ts">
// The riveted type plate: always in sight, live, old and new for a moment after an edit.
import { computed, ref } from 'vue'
import { money, show, showRange } from '../format/show'
import { usePlan } from '../state/plan'
import PlateFigure from './PlateFigure.vue'
import PlateVolts from './PlateVolts.vue'

const { assessment, figure, plan } = usePlan()
const unfolded = ref(false)

const plate = computed(() => assessment.value?.nameplate)

/** Window and pack as two bars on one scale. */
const bars = computed(() => {
  const value = (id: string) => figure(id)?.value
  const pack = [value('pack.empty_v'), value('pack.nominal_v'), value('pack.full_v')]
  const window = [value('device.lowest_v'), value('device.highest_v')]
  const all = [...pack, ...window].filter((v) => v !== undefined)
  if (all.length < 2) return null
  const [low, high] = [Math.min(...all), Math.max(...all)]
  const span = Math.max(high - low, 0.1)
  const x = (v: number) => 26 + ((v - low) / span) * 148
  return { pack, window, x }
})

const band = computed(() => {
  const run = figure('run.time_s')
  if (run?.low == null || run.high == null) return ''
  return showRange(run.low, run.high, 's')
})

const old = computed(() => figure('original.mass_g'))
const days = computed(() => figure('plate.days'))
const unpriced = computed(() => figure('plate.unpriced')?.value ?? 0)
const price = (value: number) => money(value, plan.value?.currency, 0)
</script>

<template>
  <section v-if="plate" class="plate" :class="{ unfolded }" aria-label="Nameplate">
    <i class="rivet" style="left: 5px; top: 5px" /><i class="rivet" style="right: 5px; top: 5px" />
    <i class="rivet" style="left: 5px; bottom: 5px" /><i class="rivet" style="right: 5px; bottom: 5px" />
    <button class="cell name" type="button" :aria-expanded="unfolded" @click="unfolded = !unfolded">
      <strong class="counts" data-testid="counts">{{ plate.counts }}</strong>
      <span class="soft" data-testid="plate-sub">{{
        plate.positions ?? plate.designation ?? plate.chemistry ?? 'no pack yet'
      }}</span>
    </button>
    <div class="cell bars">
      <svg
        v-if="bars"
        viewBox="0 0 200 58"
        width="200"
        height="58"
        role="group"
        aria-label="Voltage range and pack"
      >
        <template v-if="bars.window[0] !== undefined && bars.window[1] !== undefined">
          <rect
            :x="bars.x(bars.window[0])"
            y="14"
            :width="Math.max(bars.x(bars.window[1]) - bars.x(bars.window[0]), 1)"
            height="11"
            fill="var(--petrol-tint)"
            stroke="var(--petrol)"
          />
          <PlateVolts id="device.lowest_v" :x="bars.x(bars.window[0])" :y="11" />
          <PlateVolts id="device.highest_v" :x="bars.x(bars.window[1])" :y="11" />
        </template>
        <template v-if="bars.pack[0] !== undefined && bars.pack[2] !== undefined">
          <rect
            :x="bars.x(bars.pack[0])"
            y="27"
            :width="bars.x(bars.pack[2]) - bars.x(bars.pack[0])"
            height="11"
            fill="var(--copper)"
          />
          <line
            v-if="bars.pack[1] !== undefined"
            :x1="bars.x(bars.pack[1])"
            :x2="bars.x(bars.pack[1])"
            y1="25"
            y2="40"
            stroke="var(--ink)"
            stroke-width="2"
          />
          <PlateVolts id="pack.empty_v" :x="bars.x(bars.pack[0])" :y="53" bold />
          <PlateVolts id="pack.full_v" :x="bars.x(bars.pack[2])" :y="53" bold />
        </template>
      </svg>
      <span v-else class="soft">voltage not known yet</span>
    </div>
    <div class="cell">
      <PlateFigure id="pack.ah" none="– Ah" />
      <PlateFigure id="pack.wh" none="energy" small />
    </div>
    <div class="cell">
      <PlateFigure id="plate.weakest_a" none="– A" />
      <router-link class="soft" :to="{ name: 'path' }">weakest link</router-link>
    </div>
    <div class="cell run">
      <PlateFigure id="run.time_s" none="– min" />
      <span class="soft">{{ band || 'run time' }}</span>
    </div>
    <div class="cell">
      <PlateFigure id="plate.mass_g" none="– g" />
      <span class="soft">{{ old ? `was ${show(old.value, 'g')}` : 'mass' }}</span>
    </div>
    <div class="cell last">
      <PlateFigure id="plate.cost" none="–" :write="price" />
      <span class="soft">
        <template v-if="unpriced">{{ unpriced }} without price</template>
        <template v-else>{{
          days ? (days.value === 0 ? 'at hand' : show(days.value, 'days')) : 'cost'
        }}</template>
      </span>
    </div>
  </section>
</template>

<style scoped>
.plate {
  position: relative;
  display: flex;
  align-items: center;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--sheet);
  padding: 6px 16px;
  min-height: 74px;
  overflow: hidden;
}

.rivet {
  position: absolute;
  width: 7px;
  height: 7px;
  border-radius: 50%;
  border: 1px solid var(--line-strong);
  background: var(--paper);
}

.cell {
  display: flex;
  flex-direction: column;
  justify-content: center;
  padding: 0 15px;
  border-right: 1px solid var(--line-strong);
  min-height: 50px;
  white-space: nowrap;
}

.cell.last {
  border-right: 0;
}

.name {
  padding-left: 0;
  font: inherit;
  background: none;
  border-width: 0 1px 0 0;
  color: inherit;
  text-align: left;
}

.counts {
  font-size: 31px;
  font-weight: 700;
  line-height: 1.1;
}

@media (max-width: 1240px) {
  .cell {
    padding: 0 10px;
  }
}

@media (max-width: 900px) {
  .plate {
    flex-wrap: wrap;
    min-height: 0;
    padding: 0 16px;
  }

  .cell {
    min-height: 36px;
    padding: 4px 10px 4px 0;
    border-right: 0;
    margin-right: 6px;
  }

  .counts {
    font-size: 22px;
  }

  .plate:not(.unfolded) .cell:not(.name, .run) {
    display: none;
  }

  .run {
    margin-left: auto;
    text-align: right;
  }
}
</style>
