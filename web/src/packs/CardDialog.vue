<script setup lang="ts">
// The card of a pack: entered as it was found, or put right.
import { computed, ref, useId, watch } from 'vue'
import type { PackCard, Problem } from '../api/types'
import { useReference } from '../state/reference'
import { useRefusals } from '../ui/refusals'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { vFirstField } from '../ui/firstField'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  /** The card that is put right; a new one without. */
  old: PackCard | null
  keep: (card: PackCard) => Promise<Problem | null>
}>()

const titleId = useId()
const refused = useRefusals()
const { reference } = useReference()
const problem = ref<Problem | null>(null)
const busy = ref(false)
const usual_s = ref<number | null>(null)
/** How far a run differs from the usual one where only that is known. Common practice, no source. */
const RUN_SPREAD = 0.1

const blank = (): PackCard => ({ name: '', chemistry: 'li_ion', series: 4, wiring: '', notes: '', cells: [] })
const card = ref<PackCard>(blank())

const chemistries = computed(() =>
  (reference.value?.chemistries ?? [])
    .filter((c) => c.rechargeable_lithium)
    .map((c) => ({ value: c.chemistry, title: c.name })),
)

watch(open, (is) => {
  if (!is) return
  card.value = props.old ? { ...props.old } : blank()
  usual_s.value = card.value.run?.usual_s ?? null
  problem.value = null
})

function runOf(usual: number | null | undefined): PackCard['run'] {
  if (usual == null) return null
  if (usual === card.value.run?.usual_s) return card.value.run
  return { least_s: usual * (1 - RUN_SPREAD), usual_s: usual, most_s: usual * (1 + RUN_SPREAD) }
}

async function take(): Promise<void> {
  busy.value = true
  problem.value = await props.keep({
    ...card.value,
    name: card.value.name.trim(),
    made_on: card.value.made_on || null,
    run: runOf(usual_s.value),
  })
  busy.value = false
  if (!problem.value) open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="640" scrollable :aria-labelledby="titleId">
    <v-card class="panel" data-testid="card">
      <h2 :id="titleId">{{ props.old ? 'Card of the pack' : 'Add a pack' }}</h2>
      <p v-if="!props.old" class="soft after">
        From its label or your own measurements. Leave empty what you do not know.
      </p>
      <v-text-field v-model="card.name" v-first-field class="after" label="Name" maxlength="120" />
      <div class="two">
        <v-select v-model="card.chemistry" label="Chemistry" :items="chemistries" />
        <v-text-field v-model="card.made_on" label="Made, or came, on" type="date" />
        <QuantityField v-model="card.series" label="Groups in series" range="series" required />
        <QuantityField v-model="card.parallel" label="Cells in parallel" range="parallel" />
        <QuantityField v-model="card.rated_ah" label="Capacity when new" range="pack_ah" />
        <QuantityField v-model="card.rated_ohm" label="Resistance when new" range="pack_ohm" />
        <QuantityField
          v-model="card.charged_to_v"
          label="Charged to, per cell"
          range="cell_volts"
          placeholder="full"
        />
        <QuantityField v-model="card.fuse_a" label="Fuse" range="current" />
        <QuantityField v-model="usual_s" label="Usual run when new" range="run_time" />
        <QuantityField
          v-model="card.kept_c"
          label="Where it is kept"
          range="temperature"
          placeholder="20 °C assumed"
        />
      </div>
      <v-textarea v-model="card.wiring" label="Wiring, for the next owner" rows="2" maxlength="2000" />
      <v-textarea v-model="card.notes" label="Notes" rows="2" maxlength="2000" />
      <ProblemList v-if="problem" :problem="problem" />
      <div class="end">
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
        <v-btn color="primary" variant="flat" :disabled="refused" :loading="busy" @click="take"
          >Save it</v-btn
        >
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 4px 14px;
}

.end {
  display: flex;
  justify-content: flex-end;
  gap: 10px;
  margin-top: 12px;
}
</style>
