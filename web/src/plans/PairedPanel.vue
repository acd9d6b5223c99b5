<script setup lang="ts">
// Browsers that were let in over the workshop's network since the start, and putting one out.
import { onMounted, ref } from 'vue'
import { api } from '../api/client'
import type { PairedBrowser } from '../api/types'
import { moment } from '../format/moment'

const browsers = ref<PairedBrowser[]>([])
const told = ref('')

async function refresh(): Promise<void> {
  const answer = await api.pairedBrowsers()
  if (answer.ok) browsers.value = answer.value
}

async function putOut(browser: PairedBrowser): Promise<void> {
  const answer = await api.putOut(browser.id)
  told.value = answer.ok
    ? `${browser.address} is removed; it needs the code to come back.`
    : `${answer.problem.title}. ${answer.problem.detail}`
  await refresh()
}

onMounted(refresh)
</script>

<template>
  <section v-if="browsers.length || told" class="section" data-testid="paired">
    <h2>Paired browsers</h2>
    <p class="soft">Admitted over the workshop’s network with the code, since Dense Brick was started.</p>
    <ul>
      <li v-for="browser in browsers" :key="browser.id">
        <span class="who">
          <b>{{ browser.address }}</b>
          <span class="soft">{{ browser.browser }}</span>
        </span>
        <span class="soft">last here {{ moment(browser.seen_at) }}</span>
        <v-btn size="small" :aria-label="`Remove ${browser.address}`" @click="putOut(browser)">Remove</v-btn>
      </li>
    </ul>
    <p v-if="told" role="status">{{ told }}</p>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 8px 0 0;
  border-top: 1px solid var(--line-strong);
}

li {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
  padding: 8px 14px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
}

.who {
  flex: 1 1 260px;
  display: flex;
  flex-direction: column;
  min-width: 0;
  overflow-wrap: anywhere;
}
</style>
