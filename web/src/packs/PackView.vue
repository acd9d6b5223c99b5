<script setup lang="ts">
// A pack: what is due, what its log tells, what lies ahead; logging by two taps.
import { mdiCalendarOutline, mdiFire, mdiTrayArrowDown, mdiTrayArrowUp } from '@mdi/js'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, files } from '../api/client'
import type { Logged, Problem } from '../api/types'
import EmergencyCard from '../frame/EmergencyCard.vue'
import { show } from '../format/show'
import ProblemList from '../ui/ProblemList.vue'
import SheetDialog from '../ui/SheetDialog.vue'
import CardDialog from './CardDialog.vue'
import DueList from './DueList.vue'
import EntryDialog from './EntryDialog.vue'
import LogLines from './LogLines.vue'
import OnThePack from './OnThePack.vue'
import OutlookPanel from './OutlookPanel.vue'
import ShareChart from './ShareChart.vue'
import SpreadBars from './SpreadBars.vue'
import { usePack } from './usePack'
import { dayOf, kinds, stateName } from './words'

const route = useRoute()
const router = useRouter()
const id = computed(() => String(route.params.id))
const { pack, problem, load, keep, changeCard } = usePack(id)

/** As many kinds of entry have a button of their own. */
const FIRST = 5

const entering = ref(false)
const what = ref<Logged['what']>('note')
const carding = ref(false)
const emergency = ref(false)
const importing = ref(false)
const imported = ref<string | null>(null)
const refusal = ref<Problem | null>(null)
const otherKey = ref<string | null>(null)

const story = computed(() => pack.value?.story)
const other = computed(
  () => story.value?.forecast?.what_if.find((w) => w.key === otherKey.value)?.course ?? null,
)

const lead = computed(() => {
  if (!pack.value || !story.value) return ''
  const { habit, made_s, state } = story.value
  const said = [pack.value.counts, `made ${dayOf(made_s)}`, stateName(state).toLowerCase()]
  if (habit.charges) said.push(`${habit.charges} charges`)
  if (habit.through_ah != null) said.push(`${Math.round(habit.through_ah)} Ah charged in all`)
  if (habit.full_cycles != null) said.push(`${Math.round(habit.full_cycles)} full cycles`)
  if (habit.is_rest_known) said.push(`kept at ${show(Math.round(habit.rest_soc * 100) / 100, 'share')}`)
  return said.join(' · ')
})

function log(kind: Logged['what']): void {
  what.value = kind
  entering.value = true
}

const strike = (number: number, reason: string): Promise<Problem | null> =>
  keep({
    at: `${new Date().toISOString().slice(0, 19)}Z`,
    happened: { what: 'struck', number },
    words: reason,
  })

async function takeIn(text: string): Promise<void> {
  const answer = await api.importLog(id.value, text)
  refusal.value = answer.ok ? null : answer.problem
  if (!answer.ok) return
  const { taken, known, unused } = answer.value
  imported.value = `${taken} entries imported${known ? `, ${known} were there already` : ''}${
    unused.length ? `; columns not used: ${unused.join(', ')}` : ''
  }.`
  await load()
}

async function remove(): Promise<void> {
  const answer = await api.removePack(id.value)
  if (answer.ok) await router.push({ name: 'packs', query: { deleted: id.value } })
  else problem.value = answer.problem
}
</script>

<template>
  <main class="page">
    <header class="top">
      <div>
        <router-link to="/packs" class="soft">All packs</router-link>
        <h1 v-if="pack">Pack {{ pack.number }}, {{ pack.card.name }}</h1>
        <p v-if="pack" class="soft">
          {{ lead }}
          <router-link v-if="pack.plan_id" :to="{ name: 'path', params: { id: pack.plan_id } }"
            >· open its plan</router-link
          >
        </p>
      </div>
      <v-btn
        :icon="mdiFire"
        variant="text"
        size="small"
        color="error"
        aria-label="Smoke, heat, swelling: do this now"
        @click="emergency = true"
      />
    </header>
    <ProblemList v-if="problem" :problem="problem" />
    <div v-if="pack && story" class="columns">
      <div class="left">
        <nav class="taps" aria-label="Log what happened">
          <v-btn v-for="kind in kinds.slice(0, FIRST)" :key="kind.what" @click="log(kind.what)">{{
            kind.title
          }}</v-btn>
          <v-menu>
            <template #activator="{ props: menu }"
              ><v-btn variant="text" v-bind="menu">More…</v-btn></template
            >
            <v-list>
              <v-list-item v-for="kind in kinds.slice(FIRST)" :key="kind.what" @click="log(kind.what)">
                <v-list-item-title>{{ kind.title }}</v-list-item-title>
              </v-list-item>
            </v-list>
          </v-menu>
        </nav>
        <section>
          <h2>Capacity of the weakest group</h2>
          <ShareChart v-if="story.forecast || story.measured.capacity.length" :story="story" :other="other" />
          <OutlookPanel v-model="otherKey" :story="story" />
        </section>
        <section>
          <h2>Voltage spread at rest</h2>
          <SpreadBars :spread="story.spread" />
        </section>
        <section>
          <h2>Log</h2>
          <p v-if="!story.lines.length" class="soft">
            Nothing yet. Begin with the groups at rest and a capacity test: what comes later is compared with
            them.
          </p>
          <LogLines :lines="story.lines" :strike="strike" />
          <p class="files">
            <v-btn variant="text" size="small" :prepend-icon="mdiTrayArrowUp" @click="importing = true"
              >Import a table</v-btn
            >
            <v-btn variant="text" size="small" :prepend-icon="mdiTrayArrowDown" :href="files.packLog(id)"
              >Log as CSV</v-btn
            >
            <v-btn variant="text" size="small" :prepend-icon="mdiTrayArrowDown" :href="files.pack(id)"
              >Everything in one file</v-btn
            >
          </p>
        </section>
      </div>
      <aside class="right">
        <DueList class="due-list" :due="story.due" @log="log" />
        <v-btn size="small" :prepend-icon="mdiCalendarOutline" :href="files.packCalendar(id)"
          >Calendar file</v-btn
        >
        <OnThePack
          class="card"
          :pack="pack"
          @card="carding = true"
          @remove="remove"
          @problem="problem = $event"
        />
      </aside>
    </div>
    <EntryDialog v-if="pack" v-model="entering" :what="what" :groups="pack.card.series" :keep="keep" />
    <CardDialog v-if="pack" v-model="carding" :old="pack.card" :keep="changeCard" />
    <SheetDialog
      v-model="importing"
      title="Import a log"
      chooser-label="File of a log"
      file-test-id="log-file"
      :problem="refusal"
      :done="!!imported"
      :busy="false"
      @take="takeIn"
      @forget="((refusal = null), (imported = null))"
    >
      <template #lead>
        One line per entry: <code>at</code>, <code>what</code> (rest, charge, run, capacity …) and its
        figures. The file “Log as CSV” has all columns.
      </template>
      <p v-if="imported">{{ imported }}</p>
    </SheetDialog>
    <EmergencyCard v-model="emergency" />
  </main>
</template>

<style scoped>
.page {
  max-width: 1240px;
  width: 100%;
  margin: 0 auto;
  padding: 22px 20px 40px;
}

.top {
  display: flex;
  justify-content: space-between;
  align-items: flex-start;
  gap: 12px;
  margin-bottom: 14px;
}

h1 {
  font-size: 24px;
}

.columns {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 28px;
  align-items: start;
}

.taps {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.taps .v-btn {
  min-height: 44px;
}

section {
  margin-top: 20px;
}

.right > section:first-child {
  margin-top: 0;
}

.files {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  margin-top: 8px;
}

@media (max-width: 900px) {
  .page {
    padding: 14px 12px 40px;
  }

  /* One column, what is due right under the buttons. */
  .columns {
    display: flex;
    flex-direction: column;
    gap: 0;
    align-items: stretch;
  }

  .left,
  .right {
    display: contents;
  }

  .left > section {
    order: 2;
  }

  .right > .card {
    order: 3;
  }

  .right > section:first-child {
    margin-top: 20px;
  }

  .right > .v-btn {
    align-self: flex-start;
  }
}

@media print {
  .top,
  .left,
  .right > .v-btn,
  .due-list {
    display: none;
  }

  .columns {
    display: block;
  }
}
</style>
