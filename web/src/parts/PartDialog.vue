<script setup lang="ts">
// One part of the catalogue: as its seller states it; what is not stated stays empty.
import { computed, ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import type { Change, Item, PartKind, Problem } from '../api/types'
import { withChanges } from '../state/pointer'
import PartFields from '../ui/PartFields.vue'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { blankPart, fieldsOf, wanting, kindOf, partSheets } from '../ui/parts'
import { useRefusals } from '../ui/refusals'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ item: Item | null; draft: { part: Item['part']; note: string } | null }>()
const emit = defineEmits<{ kept: [] }>()

const refused = useRefusals()
const part = shallowRef<Item['part']>(blankPart('board'))
const atHand = ref<number | null>(null)
const note = ref('')
const problem = ref<Problem | null>(null)

watch(open, (now) => {
  if (!now) return
  const from = props.item?.part ?? props.draft?.part
  part.value = from ? withChanges(from, []) : blankPart('board')
  atHand.value = props.item?.at_hand ?? null
  note.value = props.item?.note ?? props.draft?.note ?? ''
  problem.value = null
})

const kind = computed({
  get: () => kindOf(part.value) ?? 'board',
  set: (now: PartKind) => (part.value = blankPart(now)),
})
const form = computed(() => fieldsOf(part.value))
/** Without the figures that decide it is no part yet. */
const missing = computed(() => wanting(part.value, form.value.at, form.value.fields))

function change(one: Change): void {
  part.value = withChanges(part.value, [one])
}

async function save(): Promise<void> {
  const entry = { part: part.value, at_hand: atHand.value, note: note.value }
  const answer = props.item ? await api.changePart(props.item.id, entry) : await api.addPart(entry)
  if (!answer.ok) {
    problem.value = answer.problem
    return
  }
  open.value = false
  emit('kept')
}
</script>

<template>
  <v-dialog v-model="open" max-width="760" scrollable aria-labelledby="part-title">
    <v-card class="panel part">
      <h2 id="part-title">{{ item ? 'Change the part' : 'A new part' }}</h2>
      <p class="lead">
        As its seller or its print states it. Leave empty what is not stated: empty is not zero.
      </p>
      <div class="fields after">
        <v-select v-if="!item" v-model="kind" label="What it is" :items="partSheets()" item-value="kind" />
        <QuantityField v-model="atHand" label="Pieces at hand" range="at_hand" />
        <v-text-field v-model="note" label="Where from" maxlength="2000" />
      </div>
      <PartFields class="after" :part="form.at" :fields="form.fields" :draft="part" @change="change" />
      <ProblemList v-if="problem" :problem="problem" />
      <p v-if="missing.length" class="soft after" data-testid="still-needed">
        Still missing: {{ missing.join(', ') }}.
      </p>
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="refused || !!missing.length" @click="save">
          {{ item ? 'Save the change' : 'Add it' }}
        </v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.part {
  overflow-y: auto;
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
