<script setup lang="ts">
// The ways to match the voltage, each drawn on one volt scale with the device's window: ordered, chosen, laid side by side.
import { computed, ref } from 'vue'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { plain } from '../../format/show'
import { usePlan } from '../../state/plan'
import { openWorking } from '../../state/working'
import PhraseText from '../../ui/PhraseText.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import OptionBar from './OptionBar.vue'
import { type Order, optionTitle, ordered, orders } from './optionOrder'
import { type VoltScale, voltScale } from './voltScale'

const props = defineProps<{ found: VoltageOptions }>()
/** Titles of the options that are laid side by side. */
const beside = defineModel<string[]>('beside', { required: true })

const { edit } = usePlan()
const all = ref(false)
const order = ref<Order>('best')

const FEW = 8
const MOST_BESIDE = 4
const options = computed(() => {
  const list = ordered(props.found.options, order.value)
  if (all.value) return list
  const few = list.slice(0, FEW)
  const chosen = list.find((o) => o.chosen)
  return chosen && !few.includes(chosen) ? [chosen, ...few.slice(0, FEW - 1)] : few
})
const more = computed(() => props.found.options.length - options.value.length)

const scale = computed<VoltScale | null>(() => {
  const volts = options.value.flatMap((o) => [o.empty_v, o.full_v])
  for (const v of [props.found.lowest_v, props.found.highest_v]) if (v != null) volts.push(v)
  return voltScale(volts)
})

function lay(o: VoltageOption, wanted: boolean): void {
  const others = beside.value.filter((name) => name !== optionTitle(o))
  beside.value = wanted ? [...others, optionTitle(o)] : others
}
</script>

<template>
  <template v-if="scale">
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
