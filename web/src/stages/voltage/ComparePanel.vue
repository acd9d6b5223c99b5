<script setup lang="ts">
// Up to four options side by side: on one scale of volts, and what each gives and takes.
import { computed } from 'vue'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { show } from '../../format/show'
import OptionBar from './OptionBar.vue'
import { optionTitle } from './optionOrder'
import { voltScale } from './voltScale'

const props = defineProps<{ options: VoltageOption[]; found: VoltageOptions }>()
const emit = defineEmits<{ drop: [option: VoltageOption]; choose: [option: VoltageOption] }>()

const scale = computed(() => {
  const volts = props.options.flatMap((o) => [o.empty_v, o.full_v, o.loaded_empty_v ?? o.empty_v])
  for (const v of [props.found.lowest_v, props.found.highest_v]) if (v != null) volts.push(v)
  return voltScale(volts)
})

const volts = (v: number | null | undefined) => (v == null ? '–' : show(v, 'v'))
const share = (v: number | null | undefined) => (v == null ? '–' : show(v, 'share'))
const change = (v: number | null | undefined) =>
  v == null ? '–' : Math.abs(v) < 0.0005 ? 'as before' : `${v > 0 ? '+' : '−'}${show(Math.abs(v), 'share')}`

const rows: { label: string; of: (o: VoltageOption) => string }[] = [
  { label: 'Full, at rest and loaded', of: (o) => `${volts(o.full_v)}, ${volts(o.loaded_full_v)}` },
  { label: 'Empty, at rest and loaded', of: (o) => `${volts(o.empty_v)}, ${volts(o.loaded_empty_v)}` },
  { label: 'Usable charge', of: (o) => share(o.usable_share) },
  { label: 'Efficiency', of: (o) => share(o.efficiency) },
  { label: 'Heat to get rid of', of: (o) => (o.heat_w == null ? 'none' : show(o.heat_w, 'w')) },
  {
    label: 'Empty by standby drain in',
    of: (o) => (o.standby_days == null ? '–' : show(o.standby_days, 'days')),
  },
  { label: 'Motor speed, stall current', of: (o) => change(o.speed_change) },
  { label: 'Current of a fan or pump', of: (o) => change(o.fan_current_change) },
  { label: 'Also needs', of: (o) => o.parts.join(', ') || 'nothing' },
  { label: 'Can be undone', of: (o) => (o.reversible ? 'yes' : 'no, unless the old bay stays') },
  { label: 'School', of: (o) => o.school },
  { label: 'Better when', of: (o) => o.better_when },
]
</script>

<template>
  <section v-if="scale" class="section" data-testid="compare">
    <h2>Side by side</h2>
    <div class="bars">
      <template v-for="o in options" :key="optionTitle(o)">
        <span>{{ optionTitle(o) }}</span>
        <OptionBar :option="o" :found="found" :scale="scale" />
      </template>
      <span class="ticks soft" aria-hidden="true">
        <i v-for="t in scale.ticks" :key="t" :style="{ left: scale.x(t) }">{{ t }}<small> V</small></i>
      </span>
    </div>
    <div class="wide">
      <table>
        <thead>
          <tr>
            <th scope="col"><span class="visually-hidden">Property</span></th>
            <th v-for="o in options" :key="optionTitle(o)" scope="col">
              {{ optionTitle(o) }}
              <span class="soft">
                <button
                  type="button"
                  class="textlink"
                  :aria-label="`Remove ${optionTitle(o)}`"
                  @click="emit('drop', o)"
                >
                  Remove
                </button>
                <template v-if="!o.chosen">
                  ·
                  <button
                    type="button"
                    class="textlink"
                    :aria-label="`Choose ${optionTitle(o)}`"
                    @click="emit('choose', o)"
                  >
                    Choose
                  </button>
                </template>
              </span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.label">
            <th scope="row">{{ row.label }}</th>
            <td v-for="o in options" :key="optionTitle(o)">{{ row.of(o) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.wide {
  overflow-x: auto;
}

table {
  width: 100%;
  min-width: 620px;
  border-collapse: collapse;
  table-layout: fixed;
  font-size: 14px;
}

th,
td {
  padding: 6px 10px 6px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
}

th[scope='row'] {
  width: 150px;
  color: var(--soft);
  font-weight: 400;
}

thead th {
  font-size: 15px;
}

thead .soft {
  display: block;
  font-size: 13px;
}

.bars {
  display: grid;
  grid-template-columns: minmax(90px, 190px) minmax(0, 1fr);
  gap: 0 44px;
  align-items: center;
  margin: 10px 44px 14px 0;
}

.ticks {
  position: relative;
  grid-column: 2;
  height: 20px;
}

.ticks i {
  position: absolute;
  transform: translateX(-50%);
  font-style: normal;
  white-space: nowrap;
}
</style>
