<script setup lang="ts">
// A pack in the list: what it is, what is left of it, what is due.
import { computed } from 'vue'
import type { PackRow } from '../api/types'
import { show } from '../format/show'
import VerdictMark from '../ui/VerdictMark.vue'
import { dueIn, isDue, loudness, stateName } from './words'

const props = defineProps<{ pack: PackRow }>()

const next = computed(() => {
  const { due } = props.pack.summary
  return due.find((d) => d.severity === 'stop') ?? due[0] ?? null
})
const verdict = computed(() =>
  next.value && (isDue(next.value) || next.value.severity === 'stop') ? loudness(next.value) : 'fine',
)
const MV = 1000
</script>

<template>
  <router-link class="pack" :to="{ name: 'pack', params: { id: pack.id } }">
    <VerdictMark :verdict="verdict" :size="22" />
    <span class="what">
      <b>{{ pack.number }}. {{ pack.name }}</b>
      <span class="soft">{{ pack.what }}, {{ stateName(pack.summary.state).toLowerCase() }}</span>
    </span>
    <span class="figures">
      <b>{{
        pack.summary.left_share == null ? '–' : show(Math.round(pack.summary.left_share * 100) / 100, 'share')
      }}</b>
      <span class="soft">{{
        pack.summary.spread_v == null ? 'never read' : `${Math.round(pack.summary.spread_v * MV)} mV apart`
      }}</span>
    </span>
    <span class="due">
      <template v-if="next">
        <b>{{ next.title }}</b>
        <span class="soft">{{ dueIn(next.on_s) }}</span>
      </template>
      <span v-else class="soft">nothing due</span>
    </span>
  </router-link>
</template>

<style scoped>
.pack {
  display: grid;
  grid-template-columns: 26px minmax(0, 4fr) minmax(110px, 1.4fr) minmax(0, 3fr);
  gap: 12px;
  align-items: center;
  min-height: 73px;
  padding: 8px 4px;
  color: inherit;
  text-decoration: none;
  border-bottom: 1px solid var(--line);
}

.pack:hover {
  background: var(--sheet);
}

.pack > span {
  display: grid;
}

@media (max-width: 760px) {
  .pack {
    grid-template-columns: 26px minmax(0, 1fr) auto;
    gap: 2px 10px;
  }

  .due {
    grid-column: 2 / 4;
  }
}
</style>
