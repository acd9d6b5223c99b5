<script setup lang="ts">
// Every pack: what it is, where it stands, what is due; the overdue ones first.
import { mdiCalendarOutline, mdiPlus, mdiTrayArrowUp } from '@mdi/js'
import { computed, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, files } from '../api/client'
import type { PackCard, PackRow as Row, PackState, Problem } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'
import CardDialog from './CardDialog.vue'
import PackRow from './PackRow.vue'
import { isDue, stateName, states } from './words'

const route = useRoute()
const router = useRouter()
const packs = ref<Row[] | null>(null)
const problem = ref<Problem | null>(null)
const carding = ref(false)
const chooser = ref<HTMLInputElement>()
const search = ref('')
const state = ref<PackState | 'due' | 'all'>('all')
const deleted = ref<string | null>(null)

const filters = [{ value: 'all', title: 'All' }, { value: 'due', title: 'Something is due' }, ...states]

async function load(): Promise<void> {
  const answer = await api.packs()
  if (answer.ok) packs.value = answer.value
  else problem.value = answer.problem
}

const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  const all = (packs.value ?? []).filter(
    (p) =>
      (!wanted || `${p.number} ${p.name} ${p.what}`.toLowerCase().includes(wanted)) &&
      (state.value === 'all' ||
        (state.value === 'due' ? p.summary.due.some((d) => isDue(d)) : p.summary.state === state.value)),
  )
  // What is overdue comes first, then by number.
  const first = (p: Row) => (p.summary.due.some((d) => isDue(d)) ? 0 : 1)
  return all.sort((a, b) => first(a) - first(b) || a.number - b.number)
})

async function create(card: PackCard): Promise<Problem | null> {
  const answer = await api.newPack(card)
  if (!answer.ok) return answer.problem
  await router.push({ name: 'pack', params: { id: answer.value.id } })
  return null
}

async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const answer = await api.importPack(await file.text())
  input.value = ''
  if (answer.ok) await router.push({ name: 'pack', params: { id: answer.value.id } })
  else problem.value = { ...answer.problem, title: `${file.name}: ${answer.problem.title}` }
}

async function takeBack(): Promise<void> {
  if (!deleted.value) return
  const answer = await api.restorePack(deleted.value)
  if (!answer.ok) problem.value = answer.problem
  deleted.value = null
  await load()
}

onMounted(async () => {
  const gone = route.query.deleted
  if (typeof gone === 'string') {
    deleted.value = gone
    await router.replace({ name: 'packs' })
  }
  await load()
})
</script>

<template>
  <main class="page">
    <header>
      <div>
        <router-link to="/" class="soft">All plans</router-link>
        <h1>Packs</h1>
      </div>
      <div class="actions">
        <v-btn color="primary" variant="flat" :prepend-icon="mdiPlus" @click="carding = true"
          >Add a pack</v-btn
        >
        <v-btn :prepend-icon="mdiTrayArrowUp" @click="chooser?.click()">Import</v-btn>
        <v-btn :prepend-icon="mdiCalendarOutline" :href="files.calendar">Calendar of what is due</v-btn>
        <input
          ref="chooser"
          class="visually-hidden"
          type="file"
          accept=".json,application/json"
          aria-label="Pack file to import"
          tabindex="-1"
          data-testid="import-pack"
          @change="importFile"
        />
      </div>
    </header>
    <ProblemList v-if="problem" :problem="problem" />
    <section v-if="packs && !packs.length" class="empty">
      <h2>No pack yet</h2>
      <p>
        A pack comes from a build (its last step), or you add one: bought, inherited, built elsewhere. Give it
        a number, stick its label on, and log what happens to it. The log shows which group loses charge, how
        fast the pack ages and what is due.
      </p>
      <v-btn color="primary" variant="flat" @click="carding = true">Add the first pack</v-btn>
    </section>
    <div v-if="packs && packs.length > 1" class="sorting">
      <v-text-field
        v-model="search"
        label="Search by name or number"
        density="compact"
        hide-details
        clearable
        @click:clear="search = ''"
      />
      <v-select v-model="state" label="Show" :items="filters" density="compact" hide-details />
    </div>
    <p v-if="packs?.length && !shown.length" class="soft">No pack matches.</p>
    <v-virtual-scroll v-if="shown.length > 60" class="rows many" :items="shown" :item-height="74">
      <template #default="{ item }"><PackRow :pack="item" /></template>
    </v-virtual-scroll>
    <div v-else class="rows"><PackRow v-for="pack in shown" :key="pack.id" :pack="pack" /></div>
    <CardDialog v-model="carding" :old="null" :keep="create" />
    <v-snackbar :model-value="!!deleted" :timeout="12000" @update:model-value="deleted = null">
      The pack is deleted.
      <template #actions><v-btn variant="text" @click="takeBack">Undo</v-btn></template>
    </v-snackbar>
    <p v-if="packs?.length" class="soft">
      {{ packs.length }} {{ packs.length === 1 ? 'pack' : 'packs'
      }}<template v-if="state !== 'all' && state !== 'due'"
        >, {{ shown.length }} {{ stateName(state).toLowerCase() }}</template
      >.
    </p>
  </main>
</template>

<style scoped src="../ui/list-page.css"></style>

<style scoped>
.sorting {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-bottom: 12px;
}

.sorting > * {
  flex: 1 1 200px;
  max-width: 320px;
}

.rows {
  margin-bottom: 10px;
  border-top: 1px solid var(--line-strong);
}

.many {
  height: calc(100vh - 260px);
}
</style>
