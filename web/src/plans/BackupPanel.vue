<script setup lang="ts">
// Everything in one file, out and in.
import { mdiTrayArrowDown, mdiTrayArrowUp } from '@mdi/js'
import { ref } from 'vue'
import { api, files } from '../api/client'

const emit = defineEmits<{ restored: [] }>()

const chooser = ref<HTMLInputElement>()
const chosen = ref<File | null>(null)
const busy = ref(false)
const told = ref('')
const failed = ref(false)

function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  chosen.value = input.files?.[0] ?? null
  input.value = ''
}

async function restore(): Promise<void> {
  if (!chosen.value) return
  busy.value = true
  const answer = await api.restoreBackup(chosen.value)
  busy.value = false
  failed.value = !answer.ok
  told.value = answer.ok
    ? `${answer.value.plans} plans are restored, deleted ones included.`
    : `${answer.problem.title}. ${answer.problem.detail}`
  chosen.value = null
  if (answer.ok) emit('restored')
}
</script>

<template>
  <section class="section">
    <h2>Backup</h2>
    <p class="soft">
      Every plan with its history, all parts, cells and packs, in one file. Restoring replaces everything
      here; a backup of what is here is kept first.
    </p>
    <div class="buttons">
      <v-btn size="small" :prepend-icon="mdiTrayArrowDown" :href="files.backup">Download a backup</v-btn>
      <v-btn size="small" :prepend-icon="mdiTrayArrowUp" :loading="busy" @click="chooser?.click()">
        Restore a backup…
      </v-btn>
      <input
        ref="chooser"
        class="visually-hidden"
        type="file"
        accept=".jsonl,.json,application/jsonl,application/json"
        aria-label="Backup to restore"
        tabindex="-1"
        data-testid="restore"
        @change="choose"
      />
    </div>
    <p v-if="told" :role="failed ? 'alert' : 'status'" :class="{ failed }" data-testid="restored">
      {{ told }}
    </p>
    <v-dialog
      :model-value="!!chosen"
      max-width="460"
      aria-labelledby="restore-title"
      @update:model-value="chosen = null"
    >
      <v-card class="panel">
        <h2 id="restore-title">Replace everything by {{ chosen?.name }}?</h2>
        <p class="lead">All plans and parts here are replaced by those of the file.</p>
        <div class="buttons after">
          <v-btn color="error" :loading="busy" @click="restore">Replace everything</v-btn>
          <v-btn variant="text" @click="chosen = null">Cancel</v-btn>
        </div>
      </v-card>
    </v-dialog>
  </section>
</template>

<style scoped>
.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 10px 0;
}

.failed {
  color: var(--stop);
}
</style>
