<script setup lang="ts">
// The riveted type plate: always in sight, live, old and new for a moment after an edit.
import { computed, ref, watch } from 'vue'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import { openWorking } from '../state/working'

const { assessment, figure, before, plan } = usePlan()
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

const recent = ref(false)
let timer = 0
watch(before, () => {
  recent.value = true
  clearTimeout(timer)
  timer = window.setTimeout(() => (recent.value = false), 4000)
})

/** The value before the last edit, while it is fresh and different. */
function was(id: string): string {
  const old = before.value.get(id)
  const now = figure(id)
  if (!recent.value || old === undefined || !now) return ''
  const text = show(old, now.unit)
  return text === show(now.value, now.unit) ? '' : text
}

const band = computed(() => {
  const run = figure('run.time_s')
  if (run?.low == null || run.high == null) return ''
  return `${show(run.low, 's')} to ${show(run.high, 's')}`
})
</script>

<template>
  <section v-if="plate" class="plate" :class="{ unfolded }" aria-label="Nameplate">
    <i class="rivet" style="left: 5px; top: 5px" /><i class="rivet" style="right: 5px; top: 5px" />
    <i class="rivet" style="left: 5px; bottom: 5px" /><i class="rivet" style="right: 5px; bottom: 5px" />
    <button class="cell name" type="button" :aria-expanded="unfolded" @click="unfolded = !unfolded">
      <strong class="counts" data-testid="counts">{{ plate.counts }}</strong>
      <span class="soft">{{ plate.designation ?? plate.chemistry ?? 'no pack yet' }}</span>
    </button>
    <div class="cell bars">
      <svg
        v-if="bars"
        viewBox="0 0 200 58"
        width="200"
        height="58"
        role="img"
        aria-label="Window and pack in volts"
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
          <text :x="bars.x(bars.window[0])" y="11" text-anchor="middle">
            {{ +bars.window[0].toFixed(1) }}
          </text>
          <text :x="bars.x(bars.window[1])" y="11" text-anchor="middle">
            {{ +bars.window[1].toFixed(1) }}
          </text>
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
          <text :x="bars.x(bars.pack[0])" y="53" text-anchor="middle" class="bold">
            {{ +bars.pack[0].toFixed(1) }}
          </text>
          <text :x="bars.x(bars.pack[2])" y="53" text-anchor="middle" class="bold">
            {{ +bars.pack[2].toFixed(1) }}
          </text>
        </template>
      </svg>
      <span v-else class="soft">volts not known yet</span>
    </div>
    <div class="cell">
      <button v-if="figure('pack.ah')" type="button" class="key" @click="openWorking('pack.ah')">
        {{ show(figure('pack.ah')!.value, 'ah') }}
      </button>
      <span v-else class="key none">– Ah</span>
      <span class="soft">
        <template v-if="was('pack.wh')">{{ was('pack.wh') }} → </template>
        {{ figure('pack.wh') ? show(figure('pack.wh')!.value, 'wh') : 'energy' }}
      </span>
    </div>
    <div class="cell">
      <router-link class="key" :to="{ name: 'path' }">
        {{ plate.weakest_a != null ? show(plate.weakest_a, 'a') : '– A' }}
      </router-link>
      <span class="soft">weakest link</span>
    </div>
    <div class="cell run">
      <button v-if="figure('run.time_s')" type="button" class="key" @click="openWorking('run.time_s')">
        <template v-if="was('run.time_s')">{{ was('run.time_s') }} → </template
        >{{ show(figure('run.time_s')!.value, 's') }}
      </button>
      <span v-else class="key none">– min</span>
      <span class="soft">{{ band || 'run time' }}</span>
    </div>
    <div class="cell">
      <span class="key">{{ plate.mass_g != null ? show(plate.mass_g, 'g') : '– g' }}</span>
      <span class="soft">{{ plate.old_mass_g != null ? `was ${show(plate.old_mass_g, 'g')}` : 'mass' }}</span>
    </div>
    <div class="cell last">
      <span class="key">{{ plate.cost != null ? `${plan?.currency} ${plate.cost.toFixed(0)}` : '–' }}</span>
      <span class="soft">{{ plate.days != null ? `${plate.days} days` : 'cost' }}</span>
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

.key {
  font: inherit;
  font-size: 19px;
  font-weight: 700;
  line-height: 1.3;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 0;
  text-align: left;
  text-decoration: none;
}

button.key,
a.key {
  cursor: pointer;
}

button.key:hover,
a.key:hover {
  text-decoration: underline dotted;
}

.key.none {
  color: var(--soft);
}

text {
  font-size: 12px;
  fill: var(--ink);
}

.bold {
  font-weight: 700;
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
    padding: 4px 16px;
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
