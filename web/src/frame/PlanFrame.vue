<script setup lang="ts">
// The house of an open plan: rail, nameplate, the stage, findings, and what stands in the way.
import { mdiDotsHorizontal, mdiFire } from '@mdi/js'
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute } from 'vue-router'
import { fetchStages } from '../router'
import { usePlan } from '../state/plan'
import { toNextField } from '../state/keys'
import { useWorking } from '../state/working'
import ConflictDialog from './ConflictDialog.vue'
import EmergencyCard from './EmergencyCard.vue'
import FindingsPanel from './FindingsPanel.vue'
import Nameplate from './Nameplate.vue'
import NextLine from './NextLine.vue'
import PlanTools from './PlanTools.vue'
import Rail from './Rail.vue'
import WorkingDrawer from './WorkingDrawer.vue'

const route = useRoute()
const { plan, problem, stale, away, revision, saving, open, refresh, save, changed } = usePlan()
const { close: closeWorking } = useWorking()

watch(
  () => route.params.id,
  (wanted) => typeof wanted === 'string' && void open(wanted),
  { immediate: true },
)

/** The tools are away where the room belongs to the bench; this one never is. */
const emergency = ref(false)
/** On a phone the tools are put away, so that the room belongs to the stage. */
const tooled = ref(false)

const savedWords = computed(() => {
  if (away.value && changed.value) return 'not saved: kept in this browser'
  if (saving.value) return 'saving…'
  return changed.value ? 'not saved yet' : `saved, revision ${revision.value}`
})

/** The finding that the next step is about: raised and unfolded. */
const asked = ref<string | null>(null)
const stageArea = ref<HTMLElement>()
watch(
  () => route.name,
  () => {
    asked.value = null
    if (stageArea.value) stageArea.value.scrollTop = 0
  },
  { flush: 'post' },
)

const seen = () => document.visibilityState === 'visible' && void refresh()

onMounted(() => {
  fetchStages()
  document.addEventListener('visibilitychange', seen)
})
onBeforeUnmount(() => {
  document.removeEventListener('visibilitychange', seen)
})

onBeforeRouteLeave(async () => {
  closeWorking()
  // What cannot be saved now stays in this browser and is saved when the plan is opened again.
  await save()
})
</script>

<template>
  <div class="house" :class="{ wide: route.meta.wide, bare: route.meta.bare }">
    <header class="title">
      <router-link to="/" class="soft home">All plans</router-link>
      <h1 data-testid="plan-name">{{ plan?.name ?? 'Opening…' }}</h1>
      <span class="soft saved" :class="{ away: away && changed }" data-testid="saved">{{ savedWords }}</span>
      <v-btn
        v-if="!route.meta.bare"
        class="fire"
        :icon="mdiDotsHorizontal"
        variant="text"
        size="small"
        aria-label="Plan tools"
        :aria-expanded="tooled"
        @click="tooled = !tooled"
      />
      <v-btn
        class="fire"
        :icon="mdiFire"
        variant="text"
        size="small"
        color="error"
        aria-label="Smoke, heat, swelling: do this now"
        @click="emergency = true"
      />
    </header>
    <div class="top" :class="{ tooled }">
      <Nameplate />
      <PlanTools />
    </div>
    <div class="next-area"><NextLine @finding="asked = $event" /></div>
    <div class="rail-area"><Rail /></div>
    <main ref="stageArea" class="stage-area" tabindex="-1" @keydown="toNextField">
      <div v-if="away" class="problem quiet" role="alert" data-testid="away">
        <b>{{ away.title }}.</b>
        <p>
          Go on working: the plan is kept in this browser and saved by itself when the connection is back.
        </p>
        <p v-if="stale">Figures and verdicts are from before your last change.</p>
      </div>
      <div v-if="problem" class="problem" role="alert">
        <b>{{ problem.title }}.</b>
        <template v-if="problem.errors.length">
          <p v-for="e in problem.errors" :key="e.field">
            {{ e.message }} <span class="mono soft">{{ e.field }}</span>
          </p>
        </template>
        <p v-else>{{ problem.detail }}</p>
        <p v-if="stale">Figures and verdicts are from before your last change.</p>
      </div>
      <router-view v-if="plan" />
      <p v-else-if="!problem" class="soft">Opening the plan…</p>
    </main>
    <div v-if="!route.meta.wide" class="findings-area"><FindingsPanel v-model:asked="asked" /></div>

    <WorkingDrawer />
    <ConflictDialog />
    <EmergencyCard v-model="emergency" />
  </div>
</template>

<style scoped>
.house {
  display: grid;
  grid-template:
    'title top top' 92px 'rail next next' auto
    'rail stage findings' minmax(0, 1fr) / 208px minmax(0, 1fr) 296px;
  height: 100vh;
  height: 100dvh;
}

/* A drawing that wants the room of the findings. */
.house.wide {
  grid-template-columns: 208px minmax(0, 1fr) 0;
}

.title {
  grid-area: title;
  padding: 8px 14px 0 16px;
  background: var(--sheet);
  border: solid var(--line-strong);
  border-width: 0 1px 1px 0;
  overflow: hidden;
}

.title h1 {
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}

.top {
  grid-area: top;
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 14px;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
}

.top > :first-child {
  flex: 1;
  min-width: 0;
}

.saved.away {
  color: var(--caution);
  font-weight: 700;
}

.fire {
  display: none;
}

.next-area {
  grid-area: next;
  min-width: 0;
}

/* The steps of a build are steps themselves. */
.house.bare .next-area {
  display: none;
}

.rail-area {
  grid-area: rail;
  overflow-y: auto;
  background: var(--sheet);
  border-right: 1px solid var(--line-strong);
}

/* Hidden inputs and words hang on it, not on the page, which would scroll for them. */
.stage-area {
  position: relative;
  grid-area: stage;
  overflow-y: auto;
  padding: 16px 20px 40px;
  outline: none;
}

.findings-area {
  grid-area: findings;
  overflow-y: auto;
  padding: 16px 14px;
  background: var(--sheet);
  border-left: 1px solid var(--line-strong);
}

.problem.quiet {
  border-color: var(--caution);
  background: var(--caution-tint);
}

@media (max-width: 900px) {
  .house {
    grid-template:
      'title' auto 'top' auto 'stage' minmax(0, 1fr) 'findings' auto
      'next' auto 'rail' auto / minmax(0, 1fr);
  }

  .house.wide {
    grid-template-columns: minmax(0, 1fr);
  }

  .title {
    display: flex;
    gap: 10px;
    align-items: baseline;
    padding: 6px 12px;
    border-width: 0;
  }

  .title h1 {
    font-size: 16px;
    flex: 1;
  }

  .top {
    flex-direction: column;
    align-items: stretch;
    gap: 4px;
    padding: 2px 12px 6px;
  }

  .top:not(.tooled) > :last-child {
    display: none;
  }

  /* That it is saved is worth its room only where it is not. */
  .title .saved:not(.away) {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }

  /* At the bench the room belongs to the step. */
  .house.bare .top {
    display: none;
  }

  .fire {
    display: inline-grid;
    align-self: center;
  }

  .stage-area {
    padding: 12px 12px 28px;
  }

  .findings-area {
    padding: 0;
    border-left: 0;
  }

  .rail-area {
    border-right: 0;
    border-top: 1px solid var(--line);
  }
}

/* A phone on its side has little height: it belongs to the stage. */
@media (max-width: 900px) and (max-height: 480px) {
  .house {
    grid-template:
      'title title' auto 'stage stage' minmax(0, 1fr) 'findings findings' auto
      'next rail' auto / minmax(0, 1fr) auto;
  }

  .house .top:not(.tooled) {
    display: none;
  }

  .title {
    padding-block: 0;
  }
}
</style>
