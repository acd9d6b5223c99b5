<script setup lang="ts">
// Build and prove: the steps in their order, one open at a time, and gates that stay shut until what was read is right.
import { mdiFormatListChecks, mdiPrinterOutline, mdiTrayArrowDown } from '@mdi/js'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { files } from '../api/client'
import type { Change, What } from '../api/types'
import { beginWith, readingsOf } from '../odd/evidence'
import { usePlan } from '../state/plan'
import ProblemList from '../ui/ProblemList.vue'
import PaperSheet from './PaperSheet.vue'
import { isPresumedOpen } from './presumed'
import StepCard from './StepCard.vue'
import StepList from './StepList.vue'
import { useBuild } from './useBuild'

const { id, edit, save, assessment } = usePlan()
const { builds, build, problem, refused, away, unsent, waiting, begin, open, again, happen, followNewest } =
  useBuild(id)

const router = useRouter()
const at = ref('')
const listed = ref(false)
const steps = computed(() => build.value?.sheet.steps ?? [])
const index = computed(() => steps.value.findIndex((step) => step.key === at.value))
const step = computed(() => steps.value[index.value])
const state = computed(() => {
  const kept = build.value?.progress.steps[index.value]
  if (!kept || kept.stands !== 'shut' || !isPresumedOpen(build.value!, unsent.value, kept.key)) return kept
  return { ...kept, stands: 'open' as const, says: [] }
})
const stops = computed(() => assessment.value?.findings.filter((f) => f.severity === 'stop').length ?? 0)

// Where the work stands, when the sheet is opened; a step that the plan has no longer leads there too.
watch(
  build,
  (now) => {
    if (now && !steps.value.some((s) => s.key === at.value))
      at.value = now.progress.next ?? steps.value[0]?.key ?? ''
  },
  { immediate: true },
)

// What was refused leads back to its step: the page had gone on before the answer came.
watch(refused, (step) => step && (at.value = step))

/** The build follows the plan as it is saved: what was typed last is saved first. */
async function start(): Promise<void> {
  await save()
  await begin()
}

async function follow(): Promise<void> {
  await save()
  await followNewest()
}

/** The plan counts on what was read, in the place of what was stated. */
async function countOn(change: Change): Promise<void> {
  edit([change])
  await save()
  await again()
}

/** What was read in this step is the beginning of a diagnosis. */
function askWhy(): void {
  if (!step.value || !state.value) return
  beginWith(id.value, readingsOf(step.value, state.value, waiting.value), step.value.key)
  void router.push({ name: 'odd' })
}

const go = (by: number): void => {
  const to = steps.value[index.value + by]
  if (to) at.value = to.key
}

function happened(what: What): void {
  happen(at.value, what)
}

/** The space bar, or a foot switch that types it, goes on where nothing is typed. */
function keys(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (event.key !== ' ' || target.closest('input, textarea, button, a, [role="dialog"]')) return
  event.preventDefault()
  if (state.value?.stands === 'open' && state.value.asks.every((a) => a.found !== 'open'))
    happened({ what: 'done' })
  go(1)
}
/** The screen stays on while hands are full, where the browser can do that: on a page that came encrypted. */
let lock: WakeLockSentinel | undefined
async function stayAwake(): Promise<void> {
  if (document.visibilityState !== 'visible') return
  try {
    lock = await navigator.wakeLock?.request('screen')
  } catch {
    // A low battery forbids it: the screen then goes dark as always.
  }
}

onMounted(() => {
  addEventListener('keydown', keys)
  document.addEventListener('visibilitychange', stayAwake)
  void stayAwake()
})
onBeforeUnmount(() => {
  removeEventListener('keydown', keys)
  document.removeEventListener('visibilitychange', stayAwake)
  void lock?.release()
})

function print(): void {
  window.print()
}

const begun = (at: string) => at.slice(0, 10)
</script>

<template>
  <ProblemList v-if="problem" :problem="problem" data-testid="build-problem" />
  <div v-if="away" class="problem quiet" role="alert" data-testid="build-away">
    <b>Dense Brick does not answer.</b>
    Go on: {{ unsent.length }} {{ unsent.length === 1 ? 'entry waits' : 'entries wait' }} in this browser and
    {{ unsent.length === 1 ? 'is' : 'are' }} sent by itself.
  </div>
  <template v-if="build">
    <header class="head">
      <p data-testid="build-done">
        <b>{{ build.progress.done }} of {{ steps.length }} steps</b>
        <span class="soft"> · plan revision {{ build.revision }}, begun {{ begun(build.started_at) }}</span>
      </p>
      <div class="tools">
        <v-btn class="phone" size="small" :prepend-icon="mdiFormatListChecks" @click="listed = !listed"
          >Steps</v-btn
        >
        <v-select
          v-if="builds && builds.length > 1"
          class="which"
          label="Build"
          density="compact"
          hide-details
          :items="builds.map((b) => ({ value: b.id, title: `${begun(b.started_at)}, ${b.events} entries` }))"
          :model-value="build.id"
          @update:model-value="open($event)"
        />
        <v-btn size="small" :prepend-icon="mdiPrinterOutline" @click="print">Print</v-btn>
        <v-btn size="small" :prepend-icon="mdiTrayArrowDown" :href="files.build(build.id)"
          >Save as JSON</v-btn
        >
        <v-btn size="small" @click="start">Another build</v-btn>
      </div>
    </header>
    <div v-if="build.sheet.stops.length" class="problem" data-testid="build-stops">
      <b
        >The plan has {{ build.sheet.stops.length === 1 ? 'a stop' : `${build.sheet.stops.length} stops` }}:
        join nothing until it is cleared.</b
      >
      <p v-for="stop in build.sheet.stops" :key="stop">{{ stop }}</p>
    </div>
    <p v-if="build.sheet.undecided.length" class="soft">
      Still undecided, so without steps: {{ build.sheet.undecided.map((u) => u.what).join(', ') }}.
    </p>
    <div v-if="build.is_changed" class="problem quiet" data-testid="build-changed">
      <b>The plan has changed since this build started.</b>
      <template v-if="build.again.length">
        <p>Do again:</p>
        <ul>
          <li v-for="a in build.again" :key="a.key">{{ a.title }}: {{ a.why }}</li>
        </ul>
      </template>
      <p v-else>Nothing you have done is changed.</p>
      <v-btn size="small" @click="follow">Use the plan as it is now</v-btn>
    </div>
    <div class="bench">
      <StepList
        class="list"
        :class="{ listed }"
        :build="build"
        :at="at"
        @open="((at = $event), (listed = false))"
      />
      <StepCard
        v-if="step && state"
        class="card"
        :class="{ listed }"
        :build="build.id"
        :step="step"
        :state="state"
        :number="index + 1"
        :count="steps.length"
        :waiting="waiting"
        :charge="build.charge"
        @happen="happened"
        @next="go(1)"
        @count="countOn"
        @why="askWhy"
      />
    </div>
    <PaperSheet :build="build" />
  </template>
  <section v-else-if="builds" class="empty">
    <h1>Build and prove</h1>
    <p>
      The steps from the first screw to the label, in a safe order: what to do, what to read between which
      points, and what the meter should show. Every reading is kept with its time; a wrong one blocks the
      steps that depend on it.
    </p>
    <p v-if="stops" class="soft">
      The plan has {{ stops === 1 ? 'a stop' : `${stops} stops` }}: you can test parts and cells, but join
      nothing until it is cleared.
    </p>
    <v-btn color="primary" variant="flat" @click="start">Begin the build</v-btn>
  </section>
  <p v-else-if="!problem" class="soft">Opening the build…</p>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: center;
  gap: 8px 16px;
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}

.which {
  min-width: 200px;
}

.problem {
  margin: 10px 0;
}

.quiet {
  border-color: var(--caution);
  background: var(--caution-tint);
}

.bench {
  display: grid;
  grid-template-columns: 276px minmax(0, 1fr);
  gap: 22px;
  margin-top: 8px;
}

.list {
  padding-right: 12px;
  border-right: 1px solid var(--line-strong);
}

.card {
  position: sticky;
  top: 0;
  align-self: start;
}

.empty p {
  max-width: 62ch;
  margin: 8px 0 14px;
}

.phone {
  display: none;
}

@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }

  .phone {
    display: inline-flex;
  }

  .tools > :not(.phone, .which) {
    display: none;
  }

  .list {
    display: none;
    border-right: 0;
  }

  .list.listed {
    display: block;
  }

  .card.listed {
    display: none;
  }
}
</style>
