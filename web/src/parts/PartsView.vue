<script setup lang="ts">
// The parts catalogue of one's own: what is at hand and what is sold, as stated; from a sheet or a seller's text.
import { mdiClipboardTextOutline, mdiFire, mdiPlus, mdiTrayArrowDown, mdiTrayArrowUp } from '@mdi/js'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { api, files } from '../api/client'
import type { Item, PartKind, Problem } from '../api/types'
import EmergencyCard from '../frame/EmergencyCard.vue'
import { kindOf, partSheets } from '../ui/parts'
import { offerOf as offer } from './offer'
import ListingDialog from './ListingDialog.vue'
import PartDialog from './PartDialog.vue'
import PartRow from './PartRow.vue'
import PartsImport from './PartsImport.vue'

const items = shallowRef<Item[] | null>(null)
const problem = ref<Problem | null>(null)
const kind = ref<PartKind | null>(null)
const search = ref('')
const editing = ref(false)
/** Shallow, so that the dialog can make a copy of its own. */
const edited = shallowRef<Item | null>(null)
const draft = shallowRef<{ part: Item['part']; note: string } | null>(null)
const importing = ref(false)
const pasting = ref(false)
const emergency = ref(false)
const deleted = shallowRef<Item | null>(null)

async function refresh(): Promise<void> {
  const answer = await api.parts()
  if (answer.ok) items.value = answer.value
  problem.value = answer.ok ? null : answer.problem
}
onMounted(refresh)

const counts = computed(() => {
  const found = new Map<PartKind, number>()
  for (const item of items.value ?? []) {
    const k = kindOf(item.part)
    if (!k) continue
    found.set(k, (found.get(k) ?? 0) + 1)
  }
  return found
})
const shown = computed(() => {
  const words = search.value.trim().toLowerCase().split(/\s+/)
  const found = (items.value ?? []).filter((item) => {
    const text = `${offer(item).name} ${item.note}`.toLowerCase()
    return (!kind.value || kindOf(item.part) === kind.value) && words.every((w) => text.includes(w))
  })
  return found.sort((a, b) => place(a) - place(b) || byName.compare(offer(a).name, offer(b).name))
})

/** In the order of the work, what is at hand before what must be bought. */
function place(item: Item): number {
  const kind = partSheets().findIndex((k) => k.kind === kindOf(item.part))
  return 2 * kind + (item.at_hand ? 0 : 1)
}
const byName = new Intl.Collator('en', { numeric: true })

function ask(item: Item | null): void {
  edited.value = item
  draft.value = null
  editing.value = true
}

function fromListing(part: Item['part'], note: string): void {
  pasting.value = false
  edited.value = null
  draft.value = { part, note }
  editing.value = true
}

async function remove(item: Item): Promise<void> {
  const answer = await api.removePart(item.id)
  if (answer.ok) deleted.value = item
  await refresh()
  if (!answer.ok) problem.value = answer.problem
}

async function takeBack(): Promise<void> {
  if (!deleted.value) return
  const answer = await api.restorePart(deleted.value.id)
  deleted.value = null
  await refresh()
  if (!answer.ok) problem.value = answer.problem
}
</script>

<template>
  <main class="page">
    <header>
      <div>
        <router-link to="/" class="soft">All plans</router-link>
        <h1>Parts</h1>
        <p class="lead">
          What you have and what you can buy. A plan keeps its own copy: changing a part here changes no plan.
        </p>
      </div>
      <div class="actions">
        <v-btn color="primary" variant="flat" :prepend-icon="mdiPlus" @click="ask(null)">New part</v-btn>
        <v-btn :prepend-icon="mdiClipboardTextOutline" @click="pasting = true">Paste a seller’s text</v-btn>
        <v-btn :prepend-icon="mdiTrayArrowUp" @click="importing = true">Import a sheet</v-btn>
        <v-btn :prepend-icon="mdiTrayArrowDown" :href="files.parts">Save as CSV</v-btn>
        <v-btn
          :icon="mdiFire"
          variant="text"
          size="small"
          color="error"
          aria-label="Smoke, heat, swelling: do this now"
          @click="emergency = true"
        />
      </div>
    </header>
    <div v-if="problem" class="problem" role="alert">
      <b>{{ problem.title }}.</b> {{ problem.detail }}
    </div>
    <section v-if="items && !items.length" class="empty">
      <h2>No parts yet</h2>
      <p>
        Type a part, paste a seller's text, or import a sheet. The demo on the first page brings an invented
        catalogue.
      </p>
    </section>
    <template v-else-if="items">
      <div class="filter">
        <v-text-field v-model="search" label="Find" clearable @click:clear="search = ''" />
        <nav aria-label="Kinds of part">
          <button type="button" :aria-pressed="!kind" @click="kind = null">All {{ items.length }}</button>
          <button
            v-for="k in partSheets().filter((k) => counts.has(k.kind))"
            :key="k.kind"
            type="button"
            :aria-pressed="kind === k.kind"
            @click="kind = kind === k.kind ? null : k.kind"
          >
            {{ k.many }} {{ counts.get(k.kind) }}
          </button>
        </nav>
      </div>
      <ul class="parts" data-testid="parts">
        <PartRow v-for="item in shown" :key="item.id" :item="item" @open="ask(item)" @remove="remove(item)" />
        <li v-if="!shown.length" class="soft nothing">No part of that name or kind.</li>
      </ul>
    </template>
    <PartDialog v-model="editing" :item="edited" :draft="draft" @kept="refresh" />
    <PartsImport v-model="importing" @brought="refresh" />
    <ListingDialog v-model="pasting" @take="fromListing" />
    <EmergencyCard v-model="emergency" />
    <v-snackbar :model-value="!!deleted" :timeout="12000" @update:model-value="deleted = null">
      {{ deleted && offer(deleted).name }} is deleted.
      <template #actions><v-btn variant="text" @click="takeBack">Undo</v-btn></template>
    </v-snackbar>
  </main>
</template>

<style scoped src="../ui/list-page.css"></style>

<style scoped>
header .lead {
  max-width: 56ch;
}

.filter {
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 16px;
  align-items: start;
  margin-bottom: 14px;
}

nav {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

nav button {
  font: inherit;
  font-size: 14px;
  padding: 5px 10px;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  cursor: pointer;
}

nav button[aria-pressed='true'] {
  background: var(--petrol);
  border-color: var(--petrol);
  color: var(--sheet);
}

.parts {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--line-strong);
}

.nothing {
  padding: 14px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
}

@media (max-width: 600px) {
  .filter {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
