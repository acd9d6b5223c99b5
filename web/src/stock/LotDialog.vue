<script setup lang="ts">
// A lot: where it came from, what is claimed of its cells, and the labels written on them.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import type { ClaimedCell, Lot, LotSummary, Method, Problem } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { useRefusals } from '../ui/refusals'
import { partSheets } from '../ui/parts'
import { methods } from './words'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ lot: LotSummary | null }>()
const emit = defineEmits<{ made: [lot: LotSummary]; remove: [lot: LotSummary] }>()

const wordsOf = (at: string) =>
  partSheets()
    .find((sheet) => sheet.kind === 'cell')
    ?.fields.find((field) => field.at === at)?.words ?? []
const chemistries = computed(() => wordsOf('/chemistry'))
const origins = computed(() => wordsOf('/origin'))

const blank = (): Lot => ({
  name: '',
  source: '',
  bought_on: null,
  notes: '',
  stated_ohm_by: null,
  cell: {
    offer: { name: 'cell' },
    chemistry: 'li_ion',
    size: { shape: 'cylindrical', diameter_mm: 18.3, length_mm: 65.2 },
    origin: 'salvaged',
    tested: false,
    rated_ah: 2.5,
    dcir_ohm: null,
  } as ClaimedCell,
})

const refused = useRefusals()
const draft = ref<Lot>(blank())
const labels = ref('')
const problem = ref<Problem | null>(null)

watch(open, (now) => {
  if (!now) return
  draft.value = props.lot ? structuredClone(props.lot.lot) : blank()
  labels.value = ''
  problem.value = null
})

/** The usual sizes of cans, and any other typed by hand. */
const sizes = [
  { title: '18650', size: [18.3, 65.2] },
  { title: '21700', size: [21.2, 70.2] },
  { title: '14500', size: [14.2, 50] },
  { title: '26650', size: [26.2, 65.3] },
] as const

const cell = computed(() => draft.value.cell)
const shape = computed({
  get: () => cell.value.size.shape,
  set: (now) => {
    cell.value.size =
      now === 'cylindrical'
        ? { shape: now, diameter_mm: 18.3, length_mm: 65.2 }
        : { shape: now, thickness_mm: 8, width_mm: 34, length_mm: 100 }
  },
})
const newOhm = computed({
  get: () => cell.value.dcir_ohm?.value ?? null,
  set: (now: number | null) => {
    cell.value.dcir_ohm = now === null ? null : { value: now, how: 'stated', error: null, meter: null }
  },
})
const stated = methods as unknown as { value: Method | null; title: string }[]

async function save(): Promise<void> {
  const given = { ...draft.value, bought_on: draft.value.bought_on || null }
  given.cell = { ...given.cell, offer: { ...given.cell.offer, name: given.name.trim() || 'cell' } }
  const answer = props.lot
    ? await api.changeLot(props.lot.id, given, labels.value)
    : await api.newLot(given, labels.value)
  if (!answer.ok) {
    problem.value = answer.problem
    return
  }
  open.value = false
  emit('made', answer.value)
}
</script>

<template>
  <v-dialog v-model="open" max-width="720" scrollable aria-labelledby="lot-title">
    <v-card class="panel lot-dialog">
      <h2 id="lot-title">{{ props.lot ? 'Change the lot' : 'A new lot' }}</h2>
      <p class="lead">
        Cells that came together are judged together: against the claim and against each other.
      </p>
      <div class="fields after">
        <v-text-field v-model="draft.name" label="Name" maxlength="120" />
        <v-text-field v-model="draft.source" label="Where from" />
        <v-text-field
          v-model="draft.bought_on"
          label="Came on"
          placeholder="2026-11-25"
          persistent-placeholder
        />
        <v-select v-model="cell.origin" label="Origin" :items="origins" />
        <v-select v-model="cell.chemistry" label="Chemistry" :items="chemistries" />
        <v-select
          v-model="shape"
          label="Shape"
          :items="[
            { value: 'cylindrical', title: 'can' },
            { value: 'pouch', title: 'pouch' },
            { value: 'prismatic', title: 'prismatic' },
          ]"
        />
        <template v-if="cell.size.shape === 'cylindrical'">
          <QuantityField v-model="cell.size.diameter_mm" label="Diameter" range="size" required />
          <QuantityField v-model="cell.size.length_mm" label="Length" range="size" required />
        </template>
        <template v-else>
          <QuantityField v-model="cell.size.thickness_mm" label="Thickness" range="size" required />
          <QuantityField v-model="cell.size.width_mm" label="Width" range="size" required />
          <QuantityField v-model="cell.size.length_mm" label="Length" range="size" required />
        </template>
      </div>
      <p v-if="cell.size.shape === 'cylindrical'" class="sizes soft">
        <button
          v-for="s in sizes"
          :key="s.title"
          type="button"
          class="textlink"
          @click="cell.size = { shape: 'cylindrical', diameter_mm: s.size[0], length_mm: s.size[1] }"
        >
          {{ s.title }}
        </button>
      </p>
      <h3 class="section">Claimed for one cell</h3>
      <div class="fields after">
        <QuantityField v-model="cell.rated_ah" label="Capacity" range="cell_ah" required />
        <QuantityField v-model="newOhm" label="Resistance when new" range="dcir" />
        <v-select v-model="draft.stated_ohm_by" label="Stated by" :items="stated" />
        <QuantityField v-model="cell.discharge_a" label="Continuous rating" range="current" />
        <QuantityField v-model="cell.charge_a" label="Highest charge current" range="current" />
        <QuantityField v-model="cell.offer.price" label="Price of one" range="price" />
        <QuantityField v-model="cell.offer.arrives_days" label="Arrives in" range="arrival" />
        <QuantityField v-model="cell.offer.mass_g" label="Mass of one" range="mass" />
      </div>
      <h3 class="section">Labels</h3>
      <v-text-field
        v-model="labels"
        class="after"
        :label="props.lot ? 'Labels of more cells' : 'Labels on the cells'"
        placeholder="A01-A40, B3"
        persistent-placeholder
        hint="Ranges and single labels. Leave it empty when a file brings the cells."
        persistent-hint
      />
      <ProblemList v-if="problem" :problem="problem" />
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="refused" @click="save">{{
          props.lot ? 'Save' : 'Make the lot'
        }}</v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
        <v-btn
          v-if="props.lot"
          class="remove"
          color="error"
          variant="text"
          @click="emit('remove', props.lot)"
        >
          Delete the lot
        </v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.lot-dialog {
  overflow-y: auto;
}

.fields {
  grid-template-columns: repeat(auto-fill, minmax(180px, 1fr));
}

.sizes {
  display: flex;
  gap: 14px;
  margin-top: 6px;
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 18px;
}

.remove {
  margin-left: auto;
}
</style>
