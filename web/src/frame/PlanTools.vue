<script setup lang="ts">
// What can be done with a plan as a whole, by button and by key: undo, redo, history, its file, preferences, the fire card.
import { mdiCogOutline, mdiFire, mdiHistory, mdiRedo, mdiTrayArrowDown, mdiUndo } from '@mdi/js'
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { files } from '../api/client'
import { usePlan } from '../state/plan'
import EmergencyCard from './EmergencyCard.vue'
import HistoryDialog from './HistoryDialog.vue'
import KeysDialog from './KeysDialog.vue'
import PreferencesDialog from './PreferencesDialog.vue'

const { id, save, undo, redo, canUndo, canRedo } = usePlan()
const emergency = ref(false)
const history = ref(false)
const preferences = ref(false)
const listing = ref(false)

function keys(event: KeyboardEvent): void {
  const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement
  if (event.key === '?' && !typing) listing.value = true
  if (!event.ctrlKey && !event.metaKey) return
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

onMounted(() => addEventListener('keydown', keys))
onBeforeUnmount(() => removeEventListener('keydown', keys))

async function download(): Promise<void> {
  await save()
  location.assign(files.plan(id.value))
}
</script>

<template>
  <div class="tools" role="toolbar" aria-label="Plan">
    <v-btn :icon="mdiUndo" variant="text" size="small" :disabled="!canUndo" aria-label="Undo" @click="undo" />
    <v-btn :icon="mdiRedo" variant="text" size="small" :disabled="!canRedo" aria-label="Redo" @click="redo" />
    <v-btn :icon="mdiHistory" variant="text" size="small" aria-label="History" @click="history = true" />
    <v-btn
      :icon="mdiTrayArrowDown"
      variant="text"
      size="small"
      aria-label="Export as a file"
      @click="download"
    />
    <v-btn
      :icon="mdiCogOutline"
      variant="text"
      size="small"
      aria-label="Preferences"
      @click="preferences = true"
    />
    <v-btn
      :icon="mdiFire"
      variant="text"
      size="small"
      color="error"
      aria-label="Smoke, heat, swelling: do this now"
      @click="emergency = true"
    />
  </div>
  <EmergencyCard v-model="emergency" />
  <HistoryDialog v-model="history" />
  <PreferencesDialog v-model="preferences" />
  <KeysDialog v-model="listing" />
</template>

<style scoped>
.tools {
  display: grid;
  grid-template-columns: repeat(3, 34px);
  gap: 4px 0;
}

.tools .v-btn--icon {
  width: 34px;
  height: 34px;
}

@media (max-width: 900px) {
  .tools {
    display: flex;
    justify-content: space-between;
  }

  .tools .v-btn--icon {
    width: 44px;
    height: 40px;
  }
}
</style>
