<script setup lang="ts">
// The groups as bars on one scale: every cell a piece as long as its capacity, coloured by the potential of its group.
import { mdiLockOpenVariantOutline, mdiLockOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import type { Grouping } from '../api/types'
import { plain, show } from '../format/show'

const props = defineProps<{ grouping: Grouping; isLocked: (label: string) => boolean }>()
const emit = defineEmits<{ lock: [label: string, group: number]; exclude: [label: string] }>()

const most = computed(() => Math.max(...props.grouping.groups.map((g) => g.capacity_ah)))
const weakest = computed(() =>
  props.grouping.groups.findIndex((g) => g.capacity_ah <= props.grouping.weakest_ah),
)
/** The cell whose menu is open. */
const at = ref('')

/** The ramp of potentials, from pack minus to pack plus. */
const ramp = [
  [38, 36, 74],
  [24, 100, 112],
  [116, 160, 84],
  [232, 206, 104],
]
function colour(i: number): string {
  const n = props.grouping.groups.length
  const x = (n > 1 ? i / (n - 1) : 0) * (ramp.length - 1)
  const k = Math.min(Math.floor(x), ramp.length - 2)
  const [a, b] = [ramp[k]!, ramp[k + 1]!]
  return `rgb(${a.map((v, c) => Math.round(v + (b[c]! - v) * (x - k))).join(' ')})`
}
const dark = (i: number) => i / Math.max(props.grouping.groups.length - 1, 1) < 0.5
</script>

<template>
  <ol class="groups">
    <li v-for="(g, i) in grouping.groups" :key="i" :class="{ weakest: i === weakest }">
      <span class="name"
        ><b>{{ i + 1 }}</b
        >&#32;<span class="soft">{{
          i === 0 ? 'at minus' : i === grouping.groups.length - 1 ? 'at plus' : ''
        }}</span></span
      >
      <span class="bar">
        <span
          v-for="c in g.cells"
          :key="c.label"
          class="piece"
          :style="{ flexBasis: `${(c.capacity_ah / most) * 100}%` }"
        >
          <button
            type="button"
            :class="{ dark: dark(i) }"
            :style="{ background: colour(i) }"
            :title="`${c.label}: ${show(c.capacity_ah, 'ah')}${c.resistance_ohm ? `, ${show(c.resistance_ohm, 'ohm')}` : ''}`"
            :aria-label="`${c.label}, ${show(c.capacity_ah, 'ah')}${isLocked(c.label) ? ', held here' : ''}`"
            @click="at = at === c.label ? '' : c.label"
          >
            <v-icon v-if="isLocked(c.label)" :icon="mdiLockOutline" size="13" />{{ c.label }}
          </button>
        </span>
      </span>
      <span class="figures">
        <b>{{ show(g.capacity_ah, 'ah') }}</b>
        <span v-if="g.over_weakest_ah > 0" class="soft">+{{ plain(g.over_weakest_ah * 1000, 1) }} mAh</span>
        <span v-if="g.resistance_ohm" class="soft">{{ show(g.resistance_ohm, 'ohm') }}</span>
        <span v-if="g.joining" class="soft" :class="{ hot: g.joining.over_limit }"
          >{{ plain(g.joining.apart_v * 1000, 0) }} mV apart, {{ show(g.joining.largest_a, 'a') }} at
          first</span
        >
        <span v-if="i === weakest" class="ends">ends the run</span>
      </span>
      <span v-if="g.cells.some((c) => c.label === at)" class="menu">
        {{ at }}:
        <button type="button" class="textlink" @click="emit('lock', at, i + 1)">
          <v-icon :icon="isLocked(at) ? mdiLockOpenVariantOutline : mdiLockOutline" size="15" />
          {{ isLocked(at) ? 'let it go' : `hold it in group ${i + 1}` }}
        </button>
        <button type="button" class="textlink" @click="emit('exclude', at)">leave it out</button>
        <span class="soft">then solve again</span>
      </span>
    </li>
  </ol>
</template>

<style scoped>
.groups {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr) 250px;
  gap: 4px 14px;
  align-items: center;
  padding: 4px 0;
}

.name b {
  font-size: 17px;
}

.bar {
  display: flex;
  background: linear-gradient(var(--line), var(--line)) center / 100% 1px no-repeat;
}

.piece {
  flex: 0 0 auto;
  min-width: 0;
  padding-right: 2px;
}

.piece button {
  width: 100%;
  height: 34px;
  padding: 0 2px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  border: 0;
  border-radius: 2px;
  font: inherit;
  font-size: 13px;
  color: #1e2422;
  cursor: pointer;
}

.piece button.dark {
  color: #fbfaf5;
}

.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  align-items: baseline;
}

.ends {
  color: var(--copper-text);
  font-weight: 600;
  font-size: 13px;
}

.hot {
  color: var(--stop);
  font-weight: 700;
}

.menu {
  grid-column: 2 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  font-size: 14px;
}

@media (max-width: 900px) {
  li {
    grid-template-columns: 30px minmax(0, 1fr);
  }

  .name .soft {
    display: none;
  }

  .figures,
  .menu {
    grid-column: 2;
  }
}
</style>
