<script setup lang="ts">
// Every pack that could feed the device, drawn on one volt scale with the device's window.
import { computed, ref } from 'vue'
import type { VoltageOption } from '../../api/types'
import { plain } from '../../format/show'
import AnswerNote from '../../ui/AnswerNote.vue'
import FigureText from '../../ui/FigureText.vue'
import PhraseText from '../../ui/PhraseText.vue'
import StageHead from '../../ui/StageHead.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import { openWorking } from '../../state/working'
import ComparePanel from './ComparePanel.vue'
import ConverterPanel from './ConverterPanel.vue'
import FeedPanel from './FeedPanel.vue'
import OptionBar from './OptionBar.vue'
import { feedSheets } from './feedFields'
import { type Order, optionTitle, ordered, orders } from './optionOrder'
import { voltScale } from './voltScale'

const { plan, edit } = usePlan()

const { answer: found, stale, problem } = useAnswer(() => ({ about: 'voltage_options' }))
const all = ref(false)
const order = ref<Order>('best')

const FEW = 8
const options = computed(() => {
  const list = ordered(found.value?.options ?? [], order.value)
  if (all.value) return list
  const few = list.slice(0, FEW)
  const chosen = list.find((o) => o.chosen)
  return chosen && !few.includes(chosen) ? [chosen, ...few.slice(0, FEW - 1)] : few
})
const more = computed(() => (found.value?.options.length ?? 0) - options.value.length)

const scale = computed(() => {
  const volts = options.value.flatMap((o) => [o.empty_v, o.full_v])
  for (const v of [found.value?.lowest_v, found.value?.highest_v]) if (v != null) volts.push(v)
  return voltScale(volts)
})

/** Names of the options laid side by side: they are weighed anew with every edit. */
const beside = ref<string[]>([])
const MOST_BESIDE = 4
const compared = computed(() =>
  beside.value.flatMap((name) => found.value?.options.find((o) => optionTitle(o) === name) ?? []),
)

function lay(o: VoltageOption, wanted: boolean): void {
  const others = beside.value.filter((name) => name !== optionTitle(o))
  beside.value = wanted ? [...others, optionTitle(o)] : others
}

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
  <AnswerNote :stale="stale" :problem="problem" />
  <p v-if="found?.missing" class="missing">
    {{ found.missing }} <router-link :to="{ name: 'device' }">Survey the device</router-link>
  </p>
  <template v-else-if="found && scale">
    <div class="tools">
      <v-select v-model="order" class="order" label="Order" :items="orders" />
      <p class="soft">Tick up to four to lay them side by side.</p>
    </div>
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
      <li
        v-for="o in options"
        :key="optionTitle(o)"
        :class="{ chosen: o.chosen }"
        :data-option="optionTitle(o)"
      >
        <VerdictMark :verdict="o.worst ?? 'fine'" />
        <input
          type="checkbox"
          :checked="beside.includes(optionTitle(o))"
          :disabled="!beside.includes(optionTitle(o)) && beside.length >= MOST_BESIDE"
          :aria-label="`Lay ${optionTitle(o)} beside others`"
          @change="lay(o, ($event.target as HTMLInputElement).checked)"
        />
        <div class="words">
          <b>{{ optionTitle(o) }}</b>
          <span class="soft">
            <template v-for="(reason, i) in o.reasons" :key="i"
              ><template v-if="i"> · </template><PhraseText :phrase="reason" plain
            /></template>
          </span>
        </div>
        <OptionBar class="bar" :option="o" :found="found" :scale="scale" />
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
        <v-btn
          v-else
          size="small"
          class="take"
          :aria-label="`Choose ${optionTitle(o)}`"
          @click="edit(o.changes)"
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
  <ComparePanel
    v-if="found && compared.length > 1"
    :options="compared"
    :found="found"
    @drop="lay($event, false)"
    @choose="edit($event.changes)"
  />
  <ConverterPanel v-if="regulated" />
  <FeedPanel v-for="sheet in feedSheets" :key="sheet.place" :sheet="sheet" />
  <section class="section">
    <h2>Against the old battery</h2>
    <FigureText id="original.nominal_v" />
    <FigureText id="pack.nominal_v" />
    <FigureText id="pack.cutoff_v" />
    <FigureText id="device.speed_change" />
    <FigureText id="device.current_change" />
    <FigureText id="device.power_change" />
  </section>
  <section class="section">
    <h2>To be typed into a cut-off or alarm</h2>
    <FigureText id="cutoff.set_v" />
    <FigureText id="cutoff.rearm_set_v" />
    <FigureText id="gauge.set_low_v" />
    <FigureText id="gauge.set_empty_v" />
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
  grid-template-columns: 18px 18px minmax(150px, 210px) minmax(0, 1fr) 48px 78px;
  gap: 0 9px;
  align-items: center;
}

li {
  min-height: 50px;
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
}

input[type='checkbox'] {
  width: 18px;
  height: 18px;
  margin: 0;
  accent-color: var(--petrol);
}

.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  margin-bottom: 8px;
}

.order {
  flex: 0 0 240px;
}

.head,
.axis {
  padding: 0 8px;
  height: 22px;
}

.window,
.ticks {
  position: relative;
  grid-column: 4;
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

/* The label of the highest volts may reach over this column: its head stands a line higher. */
.head {
  height: 40px;
  align-items: end;
}

.head .usable {
  align-self: start;
}

.usable {
  grid-column: 5;
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
  grid-column: 6;
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
    grid-template-columns: 18px 22px minmax(0, 1fr) 48px 78px;
    height: auto;
    padding: 8px 4px;
  }

  li .bar {
    grid-column: 1 / -1;
    grid-row: 2;
    height: 48px;
  }

  li .usable {
    grid-column: 4;
  }

  li .take {
    grid-column: 5;
  }

  .head,
  .axis {
    grid-template-columns: minmax(0, 1fr);
  }

  .head {
    height: 22px;
  }

  .head .usable {
    display: none;
  }

  .window,
  .ticks {
    grid-column: 1;
  }

  .window b:not(.right) {
    transform: translateX(-50%);
  }

  /* The screen ends soon behind it. */
  .window b.right {
    transform: translateX(-100%);
  }
}
</style>
