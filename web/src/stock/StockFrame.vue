<script setup lang="ts">
// The cell bench: lots on the left, the work in the middle, the open cell on the right.
import { mdiFire } from '@mdi/js'
import { onMounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api } from '../api/client'
import type { LotSummary } from '../api/types'
import EmergencyCard from '../frame/EmergencyCard.vue'
import { useStock } from '../state/stock'
import CellPanel from './CellPanel.vue'
import LotDialog from './LotDialog.vue'
import LotsRail from './LotsRail.vue'

const route = useRoute()
const router = useRouter()
const { lots, lotId, cellId, problem, refresh, changed } = useStock()

const emergency = ref(false)
const editing = ref(false)
/** Shallow, so that the dialog can make a copy of its own. */
const edited = shallowRef<LotSummary | null>(null)
const deleted = ref<LotSummary | null>(null)

watch(
  () => route.query.lot,
  (lot) => {
    lotId.value = typeof lot === 'string' ? lot : null
    cellId.value = null
  },
  { immediate: true },
)
onMounted(refresh)

function ask(lot: LotSummary | null): void {
  edited.value = lot
  editing.value = true
}

function look(id: string | null): void {
  void router.push({ query: { ...route.query, lot: id ?? undefined } })
}

async function made(lot: LotSummary): Promise<void> {
  await changed()
  look(lot.id)
}

async function remove(lot: LotSummary): Promise<void> {
  editing.value = false
  const answer = await api.removeLot(lot.id)
  if (answer.ok) {
    deleted.value = lot
    look(null)
  } else problem.value = answer.problem
  await changed()
}

async function takeBack(): Promise<void> {
  if (!deleted.value) return
  const answer = await api.restoreLot(deleted.value.id)
  if (!answer.ok) problem.value = answer.problem
  deleted.value = null
  await changed()
}

const tabs = [
  { name: 'stock', title: 'Cells and readings' },
  { name: 'inspect', title: 'Inspection' },
  { name: 'group', title: 'Grouping' },
]
</script>

<template>
  <div class="bench" :class="{ open: cellId }">
    <header class="top">
      <div class="title">
        <router-link to="/" class="soft">All plans</router-link>
        <h1>Cell stock</h1>
      </div>
      <nav class="tabs" aria-label="Cell stock">
        <router-link
          v-for="tab in tabs"
          :key="tab.name"
          :to="{ name: tab.name, query: $route.query }"
          :class="{ here: tab.name === $route.name }"
          :aria-current="tab.name === $route.name ? 'page' : undefined"
        >
          {{ tab.title }}
        </router-link>
      </nav>
      <v-btn
        :icon="mdiFire"
        variant="text"
        size="small"
        color="error"
        aria-label="Smoke, heat, swelling: do this now"
        @click="emergency = true"
      />
    </header>
    <LotsRail class="lots" @look="look" @ask="ask" />
    <main class="stage-area" tabindex="-1">
      <div v-if="problem" class="problem" role="alert">
        <b>{{ problem.title }}.</b> {{ problem.detail }}
        <button type="button" class="textlink" @click="problem = null">Close</button>
      </div>
      <section v-if="lots && !lots.length" class="empty">
        <h2>No cells yet</h2>
        <p>
          A lot is what came together: a box of new cells, the inside of an old pack. Name it, enter what is
          claimed for its cells, and write labels on them. Then read each one, or import readings from a file.
        </p>
        <v-btn color="primary" variant="flat" @click="ask(null)">Make the first lot</v-btn>
      </section>
      <router-view v-else-if="lots" />
    </main>
    <aside v-if="cellId" class="cell-area" aria-label="Cell">
      <CellPanel :id="cellId" @close="cellId = null" />
    </aside>
    <LotDialog v-model="editing" :lot="edited" @made="made" @remove="remove" />
    <EmergencyCard v-model="emergency" />
    <v-snackbar :model-value="!!deleted" :timeout="12000" @update:model-value="deleted = null">
      “{{ deleted?.lot.name }}” was deleted.
      <template #actions><v-btn variant="text" @click="takeBack">Undo</v-btn></template>
    </v-snackbar>
  </div>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template: 'top top' auto 'lots stage' minmax(0, 1fr) / 208px minmax(0, 1fr);
  height: 100vh;
  height: 100dvh;
}

.bench.open {
  grid-template: 'top top top' auto 'lots stage cell' minmax(0, 1fr) / 208px minmax(0, 1fr) 340px;
}

.top {
  grid-area: top;
  display: flex;
  align-items: center;
  gap: 28px;
  padding: 8px 14px 8px 16px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
}

.title {
  display: flex;
  flex-direction: column;
  width: 180px;
}

.tabs {
  flex: 1;
  display: flex;
  gap: 4px;
  align-self: stretch;
}

.tabs a {
  display: flex;
  align-items: center;
  padding: 0 14px;
  color: var(--ink);
  text-decoration: none;
  font-weight: 600;
  border-bottom: 4px solid transparent;
  margin-bottom: -8px;
}

.tabs a.here {
  border-bottom-color: var(--petrol);
}

.lots {
  grid-area: lots;
  overflow-y: auto;
  background: var(--sheet);
  border-right: 1px solid var(--line-strong);
  padding-bottom: 16px;
}

.stage-area {
  position: relative;
  grid-area: stage;
  overflow-y: auto;
  padding: 16px 20px 24px;
  outline: none;
}

.cell-area {
  grid-area: cell;
  overflow-y: auto;
  padding: 16px 14px;
  background: var(--sheet);
  border-left: 1px solid var(--line-strong);
}

.empty p {
  max-width: 60ch;
  margin: 8px 0 16px;
}

@media (max-width: 900px) {
  .bench,
  .bench.open {
    display: block;
    height: auto;
    min-height: 100vh;
  }

  .top {
    flex-wrap: wrap;
    gap: 8px;
    padding: 6px 12px;
  }

  .title {
    flex: 1;
    width: auto;
  }

  .tabs {
    order: 3;
    flex-basis: 100%;
  }

  .tabs a {
    padding: 8px;
    font-size: 14px;
    margin-bottom: -6px;
  }

  .lots {
    display: flex;
    gap: 4px;
    overflow-x: auto;
    padding: 4px 8px;
    border-right: 0;
    border-bottom: 1px solid var(--line-strong);
  }

  .stage-area {
    padding: 12px;
  }

  .cell-area {
    position: fixed;
    inset: auto 0 0;
    max-height: 80vh;
    z-index: 5;
    border-top: 2px solid var(--petrol);
    border-left: 0;
  }
}

@media print {
  .top,
  .lots,
  .cell-area {
    display: none;
  }

  .bench {
    display: block;
    height: auto;
  }
}
</style>
