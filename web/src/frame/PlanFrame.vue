<script setup lang="ts">
// The house of an open plan: rail, nameplate, the stage, findings; undo, save, and what stands in the way.
import { mdiBrightness6, mdiContentSave, mdiFire, mdiRedo, mdiUndo } from '@mdi/js'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRoute } from 'vue-router'
import { theme } from '../state/preferences'
import { usePlan } from '../state/plan'
import EmergencyCard from './EmergencyCard.vue'
import FindingsPanel from './FindingsPanel.vue'
import Nameplate from './Nameplate.vue'
import Rail from './Rail.vue'
import WorkingDrawer from './WorkingDrawer.vue'

const route = useRoute()
const {
  plan,
  problem,
  conflict,
  revision,
  saving,
  open,
  save,
  resolve,
  undo,
  redo,
  canUndo,
  canRedo,
  changed,
} = usePlan()
const emergency = ref(false)
const leaving = ref(false)

watch(
  () => route.params.id,
  (id) => typeof id === 'string' && void open(id),
  { immediate: true },
)

function keys(event: KeyboardEvent): void {
  if (!event.ctrlKey && !event.metaKey) return
  const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement
  const key = event.key.toLowerCase()
  if (key === 's') {
    event.preventDefault()
    void save()
  } else if (!typing && key === 'z') {
    event.preventDefault()
    if (event.shiftKey) redo()
    else undo()
  } else if (!typing && key === 'y') {
    event.preventDefault()
    redo()
  }
}

function closing(event: BeforeUnloadEvent): void {
  if (changed.value) event.preventDefault()
}

onMounted(() => {
  addEventListener('keydown', keys)
  addEventListener('beforeunload', closing)
})
onBeforeUnmount(() => {
  removeEventListener('keydown', keys)
  removeEventListener('beforeunload', closing)
})

let goOn: ((leave: boolean) => void) | null = null
onBeforeRouteLeave(() => {
  if (!changed.value) return true
  leaving.value = true
  return new Promise<boolean>((decide) => (goOn = decide))
})

async function leave(how: 'save' | 'drop' | 'stay'): Promise<void> {
  leaving.value = false
  const done = how === 'save' ? await save() : how === 'drop'
  goOn?.(done)
}
</script>

<template>
  <div class="house">
    <header class="title">
      <router-link to="/" class="soft home">All plans</router-link>
      <h1 data-testid="plan-name">{{ plan?.name ?? 'Opening…' }}</h1>
      <span class="soft" data-testid="saved">{{
        saving ? 'saving…' : changed ? 'not saved yet' : `saved, revision ${revision}`
      }}</span>
    </header>
    <div class="top">
      <Nameplate />
      <div class="tools" role="toolbar" aria-label="Plan">
        <v-btn
          :icon="mdiUndo"
          variant="text"
          size="small"
          :disabled="!canUndo"
          aria-label="Undo"
          @click="undo"
        />
        <v-btn
          :icon="mdiRedo"
          variant="text"
          size="small"
          :disabled="!canRedo"
          aria-label="Redo"
          @click="redo"
        />
        <v-btn
          :icon="mdiBrightness6"
          variant="text"
          size="small"
          aria-label="Light or dark"
          @click="theme = theme === 'dark' ? 'light' : 'dark'"
        />
        <v-btn
          :icon="mdiFire"
          variant="text"
          size="small"
          color="error"
          aria-label="Smoke, heat, swelling: do this now"
          @click="emergency = true"
        />
        <v-btn
          class="save"
          size="small"
          :prepend-icon="mdiContentSave"
          :color="changed ? 'primary' : undefined"
          :variant="changed ? 'flat' : 'outlined'"
          :disabled="!changed || saving"
          @click="save"
        >
          Save
        </v-btn>
      </div>
    </div>
    <div class="rail-area"><Rail /></div>
    <main class="stage-area" tabindex="-1">
      <div v-if="problem" class="problem" role="alert">
        <b>{{ problem.title }}.</b>
        <template v-if="problem.errors.length">
          <p v-for="e in problem.errors" :key="e.field">
            {{ e.message }} <span class="mono soft">{{ e.field }}</span>
          </p>
        </template>
        <p v-else>{{ problem.detail }}</p>
      </div>
      <router-view v-if="plan" />
      <p v-else-if="!problem" class="soft">Opening the plan…</p>
    </main>
    <div class="findings-area"><FindingsPanel /></div>

    <WorkingDrawer />
    <EmergencyCard v-model="emergency" />
    <v-dialog :model-value="leaving" persistent aria-labelledby="leave-title">
      <v-card class="pa-5">
        <h2 id="leave-title">Save {{ plan?.name }} first?</h2>
        <p class="lead">It has changes that are not saved yet.</p>
        <div class="choices">
          <v-btn color="primary" variant="flat" @click="leave('save')">Save and leave</v-btn>
          <v-btn @click="leave('drop')">Leave without saving</v-btn>
          <v-btn variant="text" @click="leave('stay')">Stay</v-btn>
        </div>
      </v-card>
    </v-dialog>
    <v-dialog :model-value="!!conflict" persistent aria-labelledby="conflict-title">
      <v-card class="pa-5">
        <h2 id="conflict-title">This plan was saved elsewhere</h2>
        <p class="lead">
          It is stored as revision {{ conflict?.revision }} since you opened it, perhaps in another tab.
          Nothing was overwritten. Both stay in the history whichever you take.
        </p>
        <div class="choices">
          <v-btn @click="resolve(false)">Take what is stored</v-btn>
          <v-btn color="primary" variant="flat" @click="resolve(true)">Save mine on top</v-btn>
        </div>
      </v-card>
    </v-dialog>
  </div>
</template>

<style scoped>
.house {
  display: grid;
  grid-template: 'title top top' 92px 'rail stage findings' minmax(0, 1fr) / 208px minmax(0, 1fr) 296px;
  height: 100vh;
  height: 100dvh;
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

.tools {
  display: grid;
  grid-template-columns: repeat(4, 34px);
  gap: 4px 0;
}

.tools .v-btn--icon {
  width: 34px;
  height: 34px;
}

.save {
  grid-column: 1 / -1;
}

.rail-area {
  grid-area: rail;
  overflow-y: auto;
  background: var(--sheet);
  border-right: 1px solid var(--line-strong);
}

.stage-area {
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

.problem {
  margin-bottom: 14px;
  padding: 10px 12px;
  border: 1px solid var(--stop);
  border-left-width: 5px;
  border-radius: 4px;
  background: var(--stop-tint);
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}

@media (max-width: 900px) {
  .house {
    grid-template: 'title' auto 'top' auto 'stage' minmax(0, 1fr) 'findings' auto 'rail' auto / minmax(
        0,
        1fr
      );
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

  .tools {
    display: flex;
    justify-content: space-between;
  }

  .tools .v-btn--icon {
    width: 44px;
    height: 40px;
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
</style>
