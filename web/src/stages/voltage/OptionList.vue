<script setup lang="ts">
// The ways to match the voltage, each drawn on one volt scale with the device's window: ordered, chosen, laid side by side.
import { computed, ref } from 'vue'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { alongList } from '../../state/keys'
import { plain } from '../../format/show'
import OptionLine from './OptionLine.vue'
import { type Order, groupOf, groups, optionTitle, ordered, orders } from './optionOrder'
import { type VoltScale, voltScale } from './voltScale'

const props = defineProps<{ found: VoltageOptions }>()
/** Titles of the options that are laid side by side. */
const beside = defineModel<string[]>('beside', { required: true })

const all = ref(false)
const search = ref('')
const order = ref<Order>('best')

const MOST_BESIDE = 4

/** Each group with its options in the order that is wanted: the first few, all that are looked for, or all. */
const shown = computed(() => {
  const words = (search.value ?? '').trim().toLowerCase()
  const list = ordered(props.found.options, order.value).filter((o) =>
    optionTitle(o).toLowerCase().includes(words),
  )
  return groups
    .map((group) => {
      const own = list.filter((o) => groupOf(o) === group.key)
      const few = all.value || words ? own : own.slice(0, group.few)
      const chosen = own.find((o) => o.chosen)
      const options = chosen && !few.includes(chosen) ? [chosen, ...few.slice(0, -1)] : few
      return { ...group, options, count: own.length }
    })
    .filter((group) => group.count)
})
const options = computed(() => shown.value.flatMap((group) => group.options))

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
      <v-text-field v-model="search" class="find" label="Find, as 4S or LiFePO4" clearable hide-details />
      <v-select v-model="order" class="order" label="Order" :items="orders" />
      <label class="soft all"><input v-model="all" type="checkbox" /> All {{ found.options.length }}</label>
      <p class="soft">Tick up to four to compare them.</p>
    </div>
    <div class="head" aria-hidden="true">
      <span class="window">
        <b v-if="found.lowest_v != null" :style="{ left: scale.x(found.lowest_v) }">
          {{ plain(found.lowest_v, 2) }} minimum{{ found.lowest_assumed ? ', assumed' : '' }}
        </b>
        <b v-if="found.highest_v != null" class="right" :style="{ left: scale.x(found.highest_v) }">
          {{ plain(found.highest_v, 2) }} maximum{{ found.highest_assumed ? ', assumed' : '' }}
        </b>
      </span>
      <span class="soft usable">usable</span>
    </div>
    <ul class="options" data-at="/packs/0/chemistry" @keydown="alongList">
      <template v-for="group in shown" :key="group.key">
        <li class="group" :data-group="group.key">
          <h3>{{ group.title }}</h3>
          <span class="soft">
            {{ group.options.length }} of {{ group.count }}. First {{ optionTitle(group.options[0]!) }}: good
            when {{ group.options[0]!.better_when }}.
          </span>
        </li>
        <OptionLine
          v-for="o in group.options"
          :key="optionTitle(o)"
          :option="o"
          :found="found"
          :scale="scale"
          :beside="beside.includes(optionTitle(o))"
          :full="beside.length >= MOST_BESIDE"
          @lay="lay(o, $event)"
        />
      </template>
    </ul>
    <p v-if="!shown.length" class="soft">No pack of that name.</p>
    <div class="axis" aria-hidden="true">
      <span class="ticks soft">
        <i v-for="t in scale.ticks" :key="t" :style="{ left: scale.x(t) }">{{ t }}<small> V</small></i>
      </span>
    </div>
  </template>
</template>

<style scoped>
.options {
  list-style: none;
  margin: 0;
  padding: 0;
}

.options > :deep(li:not(.group)),
.head,
.axis {
  display: grid;
  grid-template-columns: 18px 18px minmax(150px, 210px) minmax(0, 1fr) 48px 78px;
  gap: 0 9px;
  align-items: center;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 16px;
  margin-bottom: 8px;
}

.order {
  flex: 0 0 200px;
}

.find {
  flex: 0 0 220px;
}

.all {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 40px;
}

.group {
  padding: 10px 8px 4px;
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

@media (max-width: 900px) {
  .options > :deep(li:not(.group)) {
    grid-template-columns: 18px 22px minmax(0, 1fr) 48px 78px;
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
