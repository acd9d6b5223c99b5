<script setup lang="ts">
// What is due at a pack, the soonest first; a tap begins the entry that it ends with.
import { ref, computed } from 'vue'
import type { Due, DueAction, Logged } from '../api/types'
import VerdictMark from '../ui/VerdictMark.vue'
import { dueIn, isDue, loudness } from './words'

const props = defineProps<{ due: Due[] }>()
const emit = defineEmits<{ log: [what: Logged['what']] }>()

/** As many as are shown beside what is due. */
const AHEAD = 2
const all = ref(false)
const now = computed(() => props.due.filter((d) => isDue(d) || d.severity !== 'note'))
const ahead = computed(() => props.due.filter((d) => !now.value.includes(d)))
const shown = computed(() => [...now.value, ...(all.value ? ahead.value : ahead.value.slice(0, AHEAD))])

const entryOf: Record<DueAction, { what: Logged['what']; title: string }> = {
  rest: { what: 'rest', title: 'Enter voltages' },
  charge: { what: 'charge', title: 'Log the charge' },
  storage: { what: 'storage', title: 'Log the voltage' },
  capacity: { what: 'capacity', title: 'Log the test' },
  look: { what: 'looked', title: 'Log the inspection' },
  state: { what: 'state', title: 'Change its state' },
}
</script>

<template>
  <section aria-label="Due">
    <h2>Due</h2>
    <p v-if="!due.length" class="soft">Nothing: it is no longer in use.</p>
    <article v-for="entry in shown" :key="entry.key" class="due" :class="loudness(entry)">
      <h3><VerdictMark :verdict="loudness(entry)" /> {{ entry.title }}</h3>
      <p>
        <b>{{ dueIn(entry.on_s) }}</b>. {{ entry.says }}
      </p>
      <v-btn size="small" @click="emit('log', entryOf[entry.action].what)">{{
        entryOf[entry.action].title
      }}</v-btn>
    </article>
    <button v-if="ahead.length > AHEAD && !all" type="button" class="textlink" @click="all = true">
      {{ ahead.length - AHEAD }} more later
    </button>
  </section>
</template>

<style scoped>
.due {
  margin: 10px 0;
  padding: 10px 12px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 5px solid var(--note);
  border-radius: 4px;
}

.due.caution {
  background: var(--caution-tint);
  border-left-color: var(--caution);
}

.due.stop {
  background: var(--stop-tint);
  border-left-color: var(--stop);
}

h3 {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 15px;
}

.due p {
  margin: 4px 0 8px;
}
</style>
