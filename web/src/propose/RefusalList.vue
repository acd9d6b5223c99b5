<script setup lang="ts">
// What cannot be, each with its deciding reason; where a part is missing, the figures to look for.
import { defineAsyncComponent, ref } from 'vue'
import { api } from '../api/client'
import type { Item, Problem, Refused } from '../api/types'
import PhraseText from '../ui/PhraseText.vue'
import ProblemList from '../ui/ProblemList.vue'

const ListingDialog = defineAsyncComponent(() => import('../parts/ListingDialog.vue'))

defineProps<{ refusals: Refused[] }>()
const emit = defineEmits<{ found: [] }>()

const pasting = ref(false)
const problem = ref<Problem | null>(null)
const copied = ref<string | null>(null)

async function copy(text: string): Promise<void> {
  // Over plain http the clipboard is closed; the text stands there to be marked.
  await navigator.clipboard?.writeText(text).catch(() => undefined)
  copied.value = text
}

/** A part that was found goes among the parts, and the search runs again. */
async function keep(part: Item['part'], note: string): Promise<void> {
  const answer = await api.addPart({ part, at_hand: null, note })
  problem.value = answer.ok ? null : answer.problem
  pasting.value = false
  if (answer.ok) emit('found')
}
</script>

<template>
  <section v-if="refusals.length" class="section" data-testid="refusals">
    <h2>Not possible</h2>
    <ul>
      <li v-for="r in refusals" :key="r.name" :data-refused="r.name">
        <b>{{ r.name }}</b>: {{ r.title.text }}.
        <span v-if="r.why" class="soft"><PhraseText :phrase="r.why" plain /></span>
        <p v-if="r.look_for" class="look">
          Look for: <span class="mono">{{ r.look_for }}</span>
          <button type="button" class="textlink" @click="copy(r.look_for)">
            {{ copied === r.look_for ? 'Copied' : 'Copy' }}
          </button>
          <button type="button" class="textlink" @click="pasting = true">Add what I found</button>
        </p>
      </li>
    </ul>
    <ProblemList v-if="problem" :problem="problem" />
    <ListingDialog v-if="pasting" v-model="pasting" @take="keep" />
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}

li {
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
}

.look {
  margin: 4px 0 0;
}

.look button {
  margin-left: 10px;
}
</style>
