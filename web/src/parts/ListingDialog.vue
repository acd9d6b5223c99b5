<script setup lang="ts">
// A seller's text: what can be read from it, what contradicts what, what is not stated, and the test that settles each.
import { ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import type { Item, Listing, PartKind, Problem } from '../api/types'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { blankPart } from '../ui/parts'
import { vFirstField } from '../ui/firstField'

const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ take: [part: Item['part'], note: string] }>()

const text = ref('')
const sold = ref<PartKind | null>(null)
const listing = shallowRef<Listing | null>(null)
const problem = ref<Problem | null>(null)

const kinds: { value: PartKind | null; title: string }[] = [
  { value: null, title: 'what its words say' },
  { value: 'board', title: 'a protection board' },
  { value: 'cut_off', title: 'a cut-off board' },
  { value: 'charger', title: 'a charger or charge module' },
  { value: 'converter', title: 'a converter' },
  { value: 'fuse', title: 'a fuse' },
  { value: 'wire', title: 'a wire' },
  { value: 'connector', title: 'a plug or jack' },
]

watch(open, (now) => {
  if (!now) return
  text.value = ''
  sold.value = null
  listing.value = null
  problem.value = null
})
watch([text, sold], () => (listing.value = null))

async function read(): Promise<void> {
  const answer = await api.listing(text.value, sold.value)
  listing.value = answer.ok ? answer.value : null
  problem.value = answer.ok ? null : answer.problem
}

function take(): void {
  const read = listing.value
  if (!read) return
  const doubtful = read.doubts.map((d) => d.about.toLowerCase())
  const note = `from a seller’s text${doubtful.length ? `; doubtful: ${[...new Set(doubtful)].join(', ')}` : ''}`
  emit('take', read.part ?? blankPart(read.sold), note)
}
</script>

<template>
  <v-dialog v-model="open" max-width="760" scrollable aria-labelledby="listing-title">
    <v-card class="panel listing">
      <h2 id="listing-title">Paste a seller’s text</h2>
      <p class="lead">Title and description, as they are. Seller's figures are checked, not trusted.</p>
      <v-textarea
        v-model="text"
        v-first-field
        class="after"
        label="The text"
        rows="5"
        no-resize
        maxlength="20000"
      />
      <div class="row after">
        <v-select v-model="sold" label="It is" :items="kinds" />
        <v-btn
          color="primary"
          :variant="listing ? 'outlined' : 'flat'"
          :disabled="!text.trim()"
          @click="read"
        >
          Read it
        </v-btn>
      </div>
      <ProblemList v-if="problem" :problem="problem" />
      <template v-if="listing">
        <section data-testid="proposed">
          <h3>It says {{ kinds.find((k) => k.value === listing?.sold)?.title }}</h3>
          <p v-if="!listing.proposed.length" class="soft">No figure found in it.</p>
          <table v-else class="values">
            <tbody>
              <tr v-for="p in listing.proposed" :key="p.at" :data-proposed="p.at">
                <th scope="row">{{ p.label }}</th>
                <td class="n">
                  <b>{{ p.shown }}</b>
                </td>
                <td class="soft">{{ p.sure ? '' : 'perhaps:' }} “{{ p.from }}”</td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="listing.doubts.length" data-testid="doubts">
          <h3>It contradicts itself, or can be read in two ways</h3>
          <ul class="rows">
            <li v-for="(d, i) in listing.doubts" :key="i">
              <VerdictMark verdict="caution" />
              <span
                ><b>{{ d.about }}.</b> {{ d.why }} <span class="test">{{ d.test }}</span></span
              >
            </li>
          </ul>
        </section>
        <section v-if="listing.unstated.length" data-testid="unstated">
          <h3>Not stated</h3>
          <ul class="rows">
            <li v-for="u in listing.unstated" :key="u.label">
              <VerdictMark verdict="note" />
              <span
                ><b>{{ u.label }}.</b> <span class="test">{{ u.test }}</span></span
              >
            </li>
          </ul>
        </section>
        <p v-if="!listing.part" class="soft after">
          A figure that such a part needs is missing: type it next.
        </p>
      </template>
      <div class="buttons">
        <v-btn v-if="listing" color="primary" variant="flat" @click="take">Make a part of it</v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.listing {
  overflow-y: auto;
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 280px) auto;
  gap: 12px;
  align-items: start;
  justify-content: start;
}

section {
  margin-top: 14px;
}

.rows > li {
  flex-wrap: nowrap;
  align-items: flex-start;
}

.values th {
  font-weight: 400;
}

.test {
  color: var(--copper-text);
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
