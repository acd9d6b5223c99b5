<script setup lang="ts">
// On the front page: packs at which something is due now.
import { computed, onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { PackRow } from '../api/types'
import VerdictMark from '../ui/VerdictMark.vue'
import { isDue } from './words'

/** As many as the front page has room for. */
const MOST = 4
const packs = ref<PackRow[]>([])
const due = computed(() =>
  packs.value.flatMap((pack) => {
    const now = pack.summary.due.filter((d) => isDue(d))
    const worst =
      now.find((d) => d.severity === 'stop') ?? now.find((d) => d.severity === 'caution') ?? now[0]
    return worst ? [{ pack, worst }] : []
  }),
)

onMounted(async () => {
  const answer = await api.packs()
  // Without an answer the list of plans says that the program is away.
  if (answer.ok) packs.value = answer.value
})
</script>

<template>
  <section v-if="due.length" class="due" aria-label="Packs that need something">
    <h2>Due for your packs</h2>
    <ul>
      <li v-for="{ pack, worst } in due.slice(0, MOST)" :key="pack.id">
        <VerdictMark :verdict="worst.severity" />
        <router-link :to="{ name: 'pack', params: { id: pack.id } }"
          >{{ pack.number }}. {{ pack.name }}: {{ worst.title }}</router-link
        >
      </li>
    </ul>
    <router-link v-if="due.length > MOST" to="/packs">{{ due.length - MOST }} more</router-link>
  </section>
</template>

<style scoped>
.due {
  margin-bottom: 20px;
  padding: 10px 14px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 5px solid var(--caution);
  border-radius: 4px;
}

h2 {
  font-size: 15px;
}

ul {
  margin: 6px 0 0;
  padding: 0;
  list-style: none;
}

li {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 3px 0;
}
</style>
