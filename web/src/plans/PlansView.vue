<script setup lang="ts">
// All plans: new, open, import, export, rename, copy, delete and take that back; the demo while there is nothing.
import {
  mdiBatteryHeartOutline,
  mdiBatteryOutline,
  mdiCogOutline,
  mdiPlus,
  mdiToolboxOutline,
  mdiTrayArrowUp,
} from '@mdi/js'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { PlanSummary } from '../api/types'
import EmergencyCard from '../frame/EmergencyCard.vue'
import PreferencesDialog from '../frame/PreferencesDialog.vue'
import DueStrip from '../packs/DueStrip.vue'
import BackupPanel from './BackupPanel.vue'
import NamingDialog from './NamingDialog.vue'
import PairedPanel from './PairedPanel.vue'
import PlanRow from './PlanRow.vue'
import { orders, PAGE, usePlanList } from './usePlanList'

const router = useRouter()
const naming = ref(false)
const renaming = ref<PlanSummary | null>(null)
const deleted = ref<PlanSummary | null>(null)
const emergency = ref(false)
const preferences = ref(false)
const chooser = ref<HTMLInputElement>()

const { plans, problem, order, search, more, long, load, refresh } = usePlanList()

function ask(plan: PlanSummary): void {
  renaming.value = plan
  naming.value = true
}

async function named(wanted: string): Promise<void> {
  if (renaming.value) {
    const opened = await api.plan(renaming.value.id)
    if (opened.ok) {
      const { id, revision, edit, plan } = opened.value
      const saved = await api.save(id, { revision, edit, plan: { ...plan, name: wanted } })
      if (!saved.ok) problem.value = saved.problem
    } else problem.value = opened.problem
    await refresh()
  }
  naming.value = false
}

async function remove(plan: PlanSummary): Promise<void> {
  const answer = await api.remove(plan.id)
  if (answer.ok) deleted.value = plan
  else problem.value = answer.problem
  await refresh()
}

async function copy(plan: PlanSummary): Promise<void> {
  const answer = await api.duplicate(plan.id)
  await refresh()
  if (!answer.ok) problem.value = answer.problem
}

async function importFile(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const answer = await api.importPlan(await file.text())
  input.value = ''
  if (answer.ok) await router.push({ name: 'path', params: { id: answer.value.id } })
  else problem.value = { ...answer.problem, title: `${file.name}: ${answer.problem.title}` }
}

async function takeBack(): Promise<void> {
  if (!deleted.value) return
  const answer = await api.restore(deleted.value.id)
  if (!answer.ok) problem.value = answer.problem
  deleted.value = null
  await refresh()
}

async function demo(): Promise<void> {
  const answer = await api.loadDemo()
  if (!answer.ok) problem.value = answer.problem
  await refresh()
}
</script>

<template>
  <main class="page">
    <header>
      <div>
        <h1>Dense Brick</h1>
        <p class="lead">
          Rebuild a device on a lithium pack: which pack, what it will do, what will go wrong.
        </p>
      </div>
      <div class="actions">
        <v-btn color="primary" variant="flat" :prepend-icon="mdiPlus" to="/new">New plan</v-btn>
        <v-btn :prepend-icon="mdiBatteryOutline" to="/stock">Cell stock</v-btn>
        <v-btn :prepend-icon="mdiBatteryHeartOutline" to="/packs">Packs</v-btn>
        <v-btn :prepend-icon="mdiToolboxOutline" to="/parts">Parts</v-btn>
        <v-btn :prepend-icon="mdiTrayArrowUp" @click="chooser?.click()">Import</v-btn>
        <input
          ref="chooser"
          class="visually-hidden"
          type="file"
          accept=".json,application/json"
          aria-label="Plan file to import"
          tabindex="-1"
          data-testid="import"
          @change="importFile"
        />
        <v-btn
          :icon="mdiCogOutline"
          variant="text"
          size="small"
          aria-label="Preferences"
          @click="preferences = true"
        />
        <v-btn color="error" @click="emergency = true">Smoke, heat, swelling</v-btn>
      </div>
    </header>

    <div v-if="problem" class="problem" role="alert">
      <b>{{ problem.title }}.</b> {{ problem.detail }}
    </div>

    <DueStrip v-if="plans?.length" />
    <section v-if="plans && !plans.length && !search" class="empty">
      <h2>No plan yet</h2>
      <p>
        A plan starts with the device: its battery, its voltage range, what it draws. Dense Brick then ranks
        the packs that suit it and says what is wrong with each choice. Look round in the demo, or start your
        own.
      </p>
      <div class="actions">
        <v-btn color="primary" variant="flat" to="/new">Start a plan</v-btn>
        <v-btn @click="demo">Load the demo plans and parts</v-btn>
      </div>
    </section>

    <div v-if="plans && (plans.length > 1 || search)" class="sorting">
      <v-text-field
        v-if="long"
        v-model="search"
        label="Search by name"
        density="compact"
        hide-details
        clearable
        @click:clear="search = ''"
      />
      <v-select
        v-model="order"
        class="order"
        label="Sort by"
        :items="orders"
        density="compact"
        hide-details
      />
    </div>
    <p v-if="plans && !plans.length && search" class="soft">No plan has “{{ search }}” in its name.</p>
    <ul v-if="plans?.length" class="plans">
      <PlanRow
        v-for="plan in plans"
        :key="plan.id"
        :plan="plan"
        @rename="ask(plan)"
        @copy="copy(plan)"
        @remove="remove(plan)"
      />
    </ul>
    <v-btn v-if="plans?.length && more" class="more" @click="load(plans.length + PAGE)"
      >Show more plans</v-btn
    >

    <BackupPanel v-if="plans" @restored="refresh" />
    <PairedPanel />

    <p class="soft care">
      Lithium cells burn. Dense Brick computes and warns; it does not replace care, local rules, or licensed
      practice: work over 60 V DC, on the mains, on road vehicles and aircraft.
    </p>

    <NamingDialog v-model="naming" :old="renaming?.name ?? null" @named="named" />
    <v-snackbar :model-value="!!deleted" :timeout="12000" @update:model-value="deleted = null">
      {{ deleted?.name }} is deleted.
      <template #actions><v-btn variant="text" @click="takeBack">Undo</v-btn></template>
    </v-snackbar>
    <PreferencesDialog v-model="preferences" />
    <EmergencyCard v-model="emergency" />
  </main>
</template>

<style scoped src="../ui/list-page.css"></style>

<style scoped>
.sorting {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  margin-bottom: 12px;
}

.sorting > :first-child:not(.order) {
  max-width: 320px;
}

.order {
  flex: 0 0 220px;
  margin-left: auto;
}

.more {
  margin-top: 12px;
}

.plans {
  list-style: none;
  padding: 0;
  margin: 0;
  border-top: 1px solid var(--line-strong);
}

.care {
  margin-top: 26px;
  max-width: 75ch;
}

@media (max-width: 760px) {
  .sorting > :first-child:not(.order),
  .order {
    flex: 1 1 100%;
    max-width: none;
  }
}
</style>
