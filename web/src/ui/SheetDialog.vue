<script setup lang="ts">
// A table to take in, from a file or pasted from a spreadsheet: all of it or, with every bad line told, nothing.
import { computed, ref, useId, watch } from 'vue'
import type { Problem } from '../api/types'
import ProblemList from './ProblemList.vue'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  title: string
  /** What the file chooser is called, for those who hear. */
  chooserLabel: string
  /** Name by which tests find the file chooser. */
  fileTestId: string
  problem: Problem | null
  /** Whether the last text was taken in. */
  done: boolean
  busy: boolean
}>()
const emit = defineEmits<{ take: [text: string]; opened: []; forget: [] }>()

const titleId = useId()
const text = ref('')
const chooser = ref<HTMLInputElement>()
const lines = computed(() => text.value.split('\n').filter((l) => l.trim()).length)

watch(open, (now) => {
  if (!now) return
  text.value = ''
  emit('forget')
  emit('opened')
})
watch(
  () => props.done,
  (now) => now && (text.value = ''),
)

async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  text.value = await file.text()
  input.value = ''
  emit('forget')
}
</script>

<template>
  <v-dialog v-model="open" max-width="680" scrollable :aria-labelledby="titleId">
    <v-card class="panel sheet">
      <h2 :id="titleId">{{ title }}</h2>
      <p class="lead"><slot name="lead" /></p>
      <slot />
      <v-textarea
        v-model="text"
        class="after mono"
        label="Paste from a spreadsheet"
        rows="6"
        no-resize
        :hint="lines ? `${lines} lines` : ''"
        persistent-hint
      />
      <p class="after">
        <v-btn size="small" @click="chooser?.click()">Open a file</v-btn>
        <input
          ref="chooser"
          class="visually-hidden"
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          :aria-label="chooserLabel"
          tabindex="-1"
          :data-testid="fileTestId"
          @change="choose"
        />
      </p>
      <template v-if="problem">
        <p class="after">
          <b>{{ problem.title }}.</b>
          {{ problem.errors.length > 1 ? `${problem.errors.length} lines cannot be imported:` : '' }}
        </p>
        <ProblemList class="lines" :problem="problem" data-testid="bad-lines" />
      </template>
      <p v-if="done" class="after brought" data-testid="brought"><slot name="brought" /></p>
      <div class="buttons">
        <v-btn
          color="primary"
          variant="flat"
          :disabled="!lines || busy"
          :loading="busy"
          @click="emit('take', text)"
        >
          Import
        </v-btn>
        <v-btn variant="text" @click="open = false">{{ done ? 'Close' : 'Cancel' }}</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.sheet {
  overflow-y: auto;
}

.lines {
  max-height: 180px;
  overflow-y: auto;
}

.brought {
  padding: 8px 10px;
  border-left: 5px solid var(--fine);
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
