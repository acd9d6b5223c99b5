<script setup lang="ts">
// One entry of a log: when, what, words, a photograph. It stays open until the program has it.
import { mdiCameraOutline } from '@mdi/js'
import { computed, ref, useId, watch } from 'vue'
import { api, files } from '../api/client'
import type { Logged, PackEntry, Problem } from '../api/types'
import { useRefusals } from '../ui/refusals'
import ProblemList from '../ui/ProblemList.vue'
import EntryFields from './EntryFields.vue'
import { blank, kinds } from './words'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  what: Logged['what']
  groups: number
  keep: (entry: PackEntry) => Promise<Problem | null>
}>()

const titleId = useId()
/** A field that is refused, or not read yet, is not what would be kept. */
const refused = useRefusals()
const happened = ref<Logged>({ what: 'note' })
const words = ref('')
const photo = ref<string | null>(null)
const at = ref('')
const problem = ref<Problem | null>(null)
const busy = ref(false)
const camera = ref<HTMLInputElement>()

const title = computed(() => kinds.find((k) => k.what === props.what)?.title ?? '')
/** Where choosing keeps it, no button besides is needed. */
const chosen = computed(() => ['charge', 'run', 'event', 'looked', 'state'].includes(props.what))

/** Now, as the field for a day and a time wants it. */
function now(): string {
  const here = new Date()
  return new Date(here.getTime() - here.getTimezoneOffset() * 60_000).toISOString().slice(0, 16)
}

watch(open, (is) => {
  if (!is) return
  happened.value = blank(props.what, props.groups)
  words.value = ''
  photo.value = null
  problem.value = null
  at.value = now()
})

/** A field that is empty where a figure is needed, before anything is sent. */
function missing(of: Logged): string | null {
  if (of.what === 'rest' && of.groups_v.some(Number.isNaN)) return 'Type the voltage of every group'
  if (of.what === 'capacity' && Number.isNaN(of.charge_ah)) return 'Capacity: a figure is needed'
  if (of.what === 'resistance' && Number.isNaN(of.resistance_ohm)) return 'Resistance: a figure is needed'
  if (of.what === 'storage' && Number.isNaN(of.cell_v)) return 'Voltage per cell: a figure is needed'
  return null
}

async function take(of: Logged): Promise<void> {
  if (busy.value) return
  const said = missing(of)
  if (said) {
    problem.value = { status: 422, title: 'Not saved yet', detail: said, errors: [] }
    return
  }
  busy.value = true
  const time = new Date(at.value)
  const entry: PackEntry = {
    at: Number.isNaN(time.getTime()) ? at.value : time.toISOString().slice(0, 19) + 'Z',
    happened: of,
    words: words.value.trim(),
    photo: photo.value,
  }
  problem.value = await props.keep(entry)
  busy.value = false
  if (!problem.value) open.value = false
}

async function photographed(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const kept = await api.keepPhoto(file)
  input.value = ''
  problem.value = kept.ok ? null : kept.problem
  if (kept.ok) photo.value = kept.value.sha256
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" scrollable :aria-labelledby="titleId">
    <v-card class="panel" data-testid="entry">
      <h2 :id="titleId">{{ title }}</h2>
      <div class="when">
        <label class="soft"
          >When
          <input v-model="at" type="datetime-local" aria-label="When it happened" />
        </label>
        <v-btn variant="text" size="small" :prepend-icon="mdiCameraOutline" @click="camera?.click()">{{
          photo ? 'Another photo' : 'Photo'
        }}</v-btn>
        <input
          ref="camera"
          class="visually-hidden"
          type="file"
          accept="image/*"
          capture="environment"
          aria-label="Photograph of the pack"
          tabindex="-1"
          @change="photographed"
        />
      </div>
      <img v-if="photo" class="photo" :src="files.photo(photo)" alt="Photograph of the pack" />
      <v-text-field v-if="what !== 'rest'" v-model="words" label="Note" maxlength="2000" hide-details />
      <EntryFields v-model="happened" class="after" :groups="groups" :waiting="refused" @keep="take" />
      <ProblemList v-if="problem" class="after" :problem="problem" />
      <div class="end">
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
        <v-btn
          v-if="!chosen"
          color="primary"
          variant="flat"
          :disabled="refused"
          :loading="busy"
          @click="take(happened)"
          >Save it</v-btn
        >
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.when {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
  margin: 8px 0 12px;
}

.when input {
  margin-left: 8px;
  padding: 6px 8px;
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}

.photo {
  max-height: 120px;
  margin-bottom: 10px;
  border-radius: 4px;
}

.end {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
  margin-top: 16px;
}

.end .v-btn {
  min-height: 44px;
}
</style>
