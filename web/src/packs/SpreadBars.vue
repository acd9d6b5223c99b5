<script setup lang="ts">
// The spread of the groups at rest, a bar a reading, and what it comes to.
import { computed } from 'vue'
import type { SpreadStory } from '../api/types'
import { dayOf } from './words'

const props = defineProps<{ spread: SpreadStory }>()

/** As many as fit a phone. */
const MOST = 14
const MV = 1000
const shown = computed(() => props.spread.points.slice(-MOST))
const most = computed(() => Math.max(0.02, ...shown.value.map((p) => p.spread_v)))
</script>

<template>
  <div class="spread">
    <div class="bars" role="img" :aria-label="`Spread at rest, the last ${shown.length} readings`">
      <span
        v-for="point in shown"
        :key="point.number"
        class="bar"
        :class="{ wide: point.spread_v > 0.03, plateau: !point.charge }"
        :style="{ height: `${4 + (40 * point.spread_v) / most}px` }"
        :title="`${dayOf(point.at_s)}: ${Math.round(point.spread_v * MV)} mV`"
      />
    </div>
    <p :class="{ suspect: spread.suspect }">{{ spread.says }}</p>
  </div>
</template>

<style scoped>
.spread {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 8px 18px;
}

.bars {
  display: flex;
  align-items: flex-end;
  gap: 8px;
  height: 46px;
}

.bar {
  width: 12px;
  background: var(--nickel);
}

.bar.wide {
  background: var(--caution);
}

.bar.plateau {
  background: none;
  border: 1px dashed var(--nickel);
}

p {
  flex: 1 1 260px;
}

.suspect {
  font-weight: 600;
}
</style>
