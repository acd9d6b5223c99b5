<script setup lang="ts">
// Every arrangement that goes in, the best first; the nearest misses with what is missing; ways out when none fits.
import { computed, ref } from 'vue'
import type { LayoutOffer, LayoutOffers } from '../../api/types'
import { plain, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import VerdictMark from '../../ui/VerdictMark.vue'

const props = defineProps<{ offers: LayoutOffers }>()
const { edit } = usePlan()

const FEW = 5
const all = ref(false)
const fitting = computed(() => props.offers.options.filter((o) => o.arrangement.fits))
const missing = computed(() => props.offers.options.filter((o) => !o.arrangement.fits))
const shown = computed(() => {
  if (all.value) return [...fitting.value, ...missing.value]
  const few = fitting.value.slice(0, FEW)
  const chosen = props.offers.options.find((o) => o.chosen)
  const head = chosen && !few.includes(chosen) ? [chosen, ...few.slice(0, FEW - 1)] : few
  return head.length < FEW
    ? [...head, ...missing.value.filter((o) => !o.chosen).slice(0, FEW - head.length)]
    : head
})
const more = computed(() => props.offers.options.length - shown.value.length)

const size = (o: LayoutOffer) => o.arrangement.fit.size_mm.map((mm) => plain(mm, 0)).join(' × ')
const along = ['length', 'width', 'depth']

function words(o: LayoutOffer): string {
  const a = o.arrangement
  if (a.fits) {
    const spare = a.spare_mm.map((mm) => plain(mm, 1)).join(' / ')
    const m = a.merit
    const joints = m
      ? ` · ${m.strips} strips${m.narrowest ? `, ${m.narrowest} across` : ''}${m.wires ? `, ${m.wires} by wire` : ''}`
      : ''
    return `${spare} mm spare${joints}`
  }
  const short = a.spare_mm.flatMap((mm, i) =>
    mm < -0.005 ? [`${show(-mm, 'mm')} too much ${along[i] ?? ''}`] : [],
  )
  const way = a.fit.in_the_way.map((name) => `runs into ${name}`)
  return [...short, ...way].join(', ') || 'sticks out at a wall'
}
</script>

<template>
  <p v-if="offers.missing" class="soft" data-testid="brick-missing">{{ offers.missing }}</p>
  <template v-else>
    <ul class="list">
      <li v-for="o in shown" :key="o.name" :class="{ chosen: o.chosen }" :data-arrangement="o.name">
        <VerdictMark :verdict="o.arrangement.fits ? 'fine' : 'stop'" />
        <span class="words">
          <span class="head"
            ><b>{{ o.name }}</b> <span class="size">{{ size(o) }}</span></span
          >
          <span class="soft">{{ words(o) }}</span>
        </span>
        <b v-if="o.chosen" class="taken">laid out</b>
        <v-btn
          v-else-if="o.arrangement.fits"
          size="small"
          :aria-label="`Lay out ${o.name}`"
          @click="edit(o.changes)"
          >Lay out</v-btn
        >
      </li>
    </ul>
    <v-btn v-if="more > 0 || all" size="small" @click="all = !all">
      {{ all ? 'Show fewer' : `Show ${more} more` }}
    </v-btn>
    <div v-if="offers.ways_out.length" class="out">
      <h3>None fits. What would help:</h3>
      <ul>
        <li v-for="w in offers.ways_out" :key="w.name">
          <v-btn v-if="w.changes.length" size="small" @click="edit(w.changes)">{{ w.name }}</v-btn>
          <span v-else>{{ w.name }}</span>
        </li>
      </ul>
    </div>
  </template>
</template>

<style scoped>
.list,
.out ul {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}

.list li {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}

.list li.chosen {
  border-left: 4px solid var(--copper);
  padding-left: 8px;
  background: var(--copper-tint);
}

.words {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  font-size: 14px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 0 10px;
}

.size {
  white-space: nowrap;
}

.taken {
  padding-right: 8px;
  font-size: 13px;
  color: var(--copper-text);
}

.out li {
  padding: 3px 0;
}
</style>
