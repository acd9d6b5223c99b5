<script setup lang="ts">
// Every pack that could feed the device, drawn on one volt scale with the device's window.
import { computed, onMounted, ref, watch } from 'vue'
import { api } from '../../api/client'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { plain, show } from '../../format/show'
import FigureText from '../../ui/FigureText.vue'
import PartPicker from '../../ui/PartPicker.vue'
import PhraseText from '../../ui/PhraseText.vue'
import StageHead from '../../ui/StageHead.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { usePlan } from '../../state/plan'
import { openWorking } from '../../state/working'

const { plan, edit } = usePlan()

const found = ref<VoltageOptions | null>(null)
const all = ref(false)
let asked = 0

async function weigh(): Promise<void> {
  if (!plan.value) return
  const number = ++asked
  const answer = await api.voltageOptions(plan.value)
  if (number === asked && answer.ok) found.value = answer.value
}

onMounted(weigh)
watch(plan, weigh)

const FEW = 8
const options = computed(() => {
  const list = found.value?.options ?? []
  if (all.value) return list
  const few = list.slice(0, FEW)
  const chosen = list.find((o) => o.chosen)
  return chosen && !few.includes(chosen) ? [chosen, ...few.slice(0, FEW - 1)] : few
})
const more = computed(() => (found.value?.options.length ?? 0) - options.value.length)

/** One scale for all rows: from a little under the lowest to a little over the highest volts drawn. */
const scale = computed(() => {
  const volts = options.value.flatMap((o) => [o.empty_v, o.full_v])
  for (const v of [found.value?.lowest_v, found.value?.highest_v]) if (v != null) volts.push(v)
  if (!volts.length) return null
  const raw = Math.max(Math.max(...volts) - Math.min(...volts), 1)
  const step = [0.5, 1, 2, 5, 10, 20].find((s) => raw / s <= 8) ?? 50
  const low = Math.max(0, Math.floor((Math.min(...volts) - raw * 0.04) / step) * step)
  const high = Math.ceil((Math.max(...volts) + raw * 0.04) / step) * step
  const ticks = Array.from({ length: Math.round((high - low) / step) + 1 }, (_, i) => low + i * step)
  return { ticks, x: (v: number) => `${((Math.max(v, low) - low) / (high - low)) * 100}%`, span: high - low }
})

function width(from: number, to: number): string {
  return scale.value ? `${(Math.max(to - from, 0) / scale.value.span) * 100}%` : '0'
}

const title = (o: VoltageOption) => (o.output_v ? `${o.name} ${show(o.output_v, 'v')}` : o.name)

const fill = (o: VoltageOption) =>
  o.chosen ? 'var(--copper)' : o.worst === 'stop' ? 'var(--nickel)' : 'var(--copper-text)'

const regulated = computed(
  () => plan.value?.nodes.find((n) => n.kind === 'converter')?.part.state === 'chosen',
)
</script>

<template>
  <StageHead
    stage="voltage"
    title="Which voltage?"
    lead="Empty to full on one scale, nominal marked, dashed = under the usual load in the cold. The device lives between the petrol lines."
  />
  <p v-if="found?.missing" class="missing">
    {{ found.missing }} <router-link :to="{ name: 'device' }">Survey the device</router-link>
  </p>
  <template v-else-if="found && scale">
    <div class="head" aria-hidden="true">
      <span class="window">
        <b v-if="found.lowest_v != null" :style="{ left: scale.x(found.lowest_v) }">
          {{ plain(found.lowest_v, 2) }} lowest{{ found.lowest_assumed ? ', assumed' : '' }}
        </b>
        <b v-if="found.highest_v != null" class="right" :style="{ left: scale.x(found.highest_v) }">
          {{ plain(found.highest_v, 2) }} highest{{ found.highest_assumed ? ', assumed' : '' }}
        </b>
      </span>
      <span class="soft usable">usable</span>
    </div>
    <ul class="options" data-at="/packs/0/chemistry">
      <li v-for="o in options" :key="title(o)" :class="{ chosen: o.chosen }" :data-option="title(o)">
        <VerdictMark :verdict="o.worst ?? 'fine'" />
        <div class="words">
          <b>{{ title(o) }}</b>
          <span class="soft">
            <template v-for="(reason, i) in o.reasons" :key="i"
              ><template v-if="i"> · </template><PhraseText :phrase="reason" plain
            /></template>
          </span>
        </div>
        <svg
          class="bar"
          height="48"
          width="100%"
          role="img"
          :aria-label="`${show(o.empty_v, 'v')} empty, ${show(o.nominal_v, 'v')} nominal, ${show(o.full_v, 'v')} full`"
        >
          <rect
            v-if="found.lowest_v != null && found.highest_v != null"
            :x="scale.x(found.lowest_v)"
            y="0"
            :width="width(found.lowest_v, found.highest_v)"
            height="48"
            fill="var(--window)"
          />
          <line
            v-for="v in [found.lowest_v, found.highest_v].filter((v) => v != null)"
            :key="v"
            :x1="scale.x(v)"
            :x2="scale.x(v)"
            y1="0"
            y2="48"
            stroke="var(--petrol)"
            stroke-width="2"
          />
          <rect
            v-if="o.loaded_empty_v != null"
            :x="scale.x(o.loaded_empty_v)"
            y="15"
            :width="width(o.loaded_empty_v, o.empty_v)"
            height="18"
            fill="none"
            :stroke="fill(o)"
            stroke-dasharray="3 3"
          />
          <rect
            :x="scale.x(o.empty_v)"
            y="13"
            :width="width(o.empty_v, o.full_v)"
            height="22"
            :fill="fill(o)"
          />
          <line
            :x1="scale.x(o.nominal_v)"
            :x2="scale.x(o.nominal_v)"
            y1="9"
            y2="39"
            stroke="var(--ink)"
            stroke-width="2"
          />
          <text :x="scale.x(o.loaded_empty_v ?? o.empty_v)" y="28" dx="-5" text-anchor="end" class="in">
            {{ plain(o.empty_v, 2) }}
          </text>
          <text :x="scale.x(o.full_v)" y="28" dx="5" class="in">{{ plain(o.full_v, 2) }}</text>
        </svg>
        <button
          v-if="o.worst !== 'stop' && o.usable_share != null"
          type="button"
          class="usable"
          :aria-label="`Usable ${plain(o.usable_share * 100, 0)} %, show the working`"
          @click="openWorking('run.usable_share', o.chosen ? [] : o.changes)"
        >
          {{ plain(o.usable_share * 100, 0) }} %
        </button>
        <b v-else class="usable">–</b>
        <span v-if="o.chosen" class="take taken">chosen</span>
        <v-btn v-else size="small" class="take" :aria-label="`Choose ${title(o)}`" @click="edit(o.changes)"
          >Choose</v-btn
        >
      </li>
    </ul>
    <div class="axis" aria-hidden="true">
      <span class="ticks soft">
        <i v-for="t in scale.ticks" :key="t" :style="{ left: scale.x(t) }">{{ t }}<small> V</small></i>
      </span>
    </div>
    <v-btn v-if="more > 0 || all" size="small" @click="all = !all">
      {{ all ? 'Show fewer' : `Show ${more} more` }}
    </v-btn>
  </template>
  <section v-if="regulated" class="section">
    <h2>The converter</h2>
    <PartPicker place="converter" title="Converter" none="direct, no converter" />
    <FigureText id="converter.needs_v" />
    <FigureText id="load.continuous_a" label="Draws from the battery at its lowest" />
    <FigureText id="converter.heat_w" />
    <FigureText id="pack.standby_a" />
  </section>
  <section class="section">
    <h2>Against the old battery</h2>
    <FigureText id="original.nominal_v" />
    <FigureText id="pack.nominal_v" />
    <FigureText id="pack.cutoff_v" />
    <FigureText id="device.speed_change" />
    <FigureText id="device.power_change" />
  </section>
</template>

<style scoped>
.options {
  list-style: none;
  margin: 0;
  padding: 0;
}

li,
.head,
.axis {
  display: grid;
  grid-template-columns: 18px minmax(150px, 218px) minmax(0, 1fr) 48px 78px;
  gap: 0 9px;
  align-items: center;
}

li {
  height: 50px;
  padding: 0 6px;
  border: 2px solid transparent;
  border-radius: 4px;
}

li.chosen {
  border-color: var(--copper);
  background: var(--sheet);
}

.words {
  line-height: 1.25;
  min-width: 0;
}

.words .soft {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  font-size: 12.5px;
}

.words b {
  display: block;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.bar {
  display: block;
  overflow: visible;
}

.in {
  font-size: 12.5px;
  fill: var(--ink);
  font-weight: 600;
}

.head,
.axis {
  padding: 0 8px;
  height: 22px;
}

.window,
.ticks {
  position: relative;
  grid-column: 3;
  height: 20px;
}

.window b {
  position: absolute;
  font-size: 12.5px;
  color: var(--petrol);
  transform: translateX(calc(-100% + 2px));
  white-space: nowrap;
}

.window b.right {
  transform: translateX(-2px);
}

.ticks i {
  position: absolute;
  transform: translateX(-50%);
  font-style: normal;
  white-space: nowrap;
}

.usable {
  grid-column: 4;
  text-align: right;
  font: inherit;
  font-weight: 700;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 0;
}

button.usable {
  cursor: pointer;
}

button.usable:hover {
  text-decoration: underline dotted;
}

li .usable {
  font-size: 15px;
}

.take {
  grid-column: 5;
}

.taken {
  color: var(--copper-text);
  font-weight: 700;
  text-align: center;
}

.missing {
  padding: 16px;
  border: 1px dashed var(--line-strong);
}

@media (max-width: 900px) {
  li {
    grid-template-columns: 18px minmax(0, 1fr) 48px 78px;
    height: auto;
    padding: 8px 4px;
  }

  li .bar {
    grid-column: 1 / -1;
    grid-row: 2;
    height: 48px;
  }

  li .usable {
    grid-column: 3;
  }

  li .take {
    grid-column: 4;
  }

  .head,
  .axis {
    grid-template-columns: minmax(0, 1fr);
  }

  .head .usable {
    display: none;
  }

  .window,
  .ticks {
    grid-column: 1;
  }
}
</style>
