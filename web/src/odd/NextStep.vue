<script setup lang="ts">
// The one thing to do now: hold the probes somewhere, or answer a question. The other of the two is offered beside it.
import { computed, ref, watch } from 'vue'
import type { Diagnosis, OddReading } from '../api/types'
import AnyReading from './AnyReading.vue'
import ReadNext from './ReadNext.vue'

const props = defineProps<{ diagnosis: Diagnosis }>()
const emit = defineEmits<{ read: [reading: OddReading]; answer: [question: string, answer: string] }>()

const wanted = ref<'ask' | 'read' | null>(null)
watch(
  () => props.diagnosis,
  () => (wanted.value = null),
)
const first = computed(() => (props.diagnosis.ask_first ? 'ask' : 'read'))
const shown = computed(() => {
  const { ask, next } = props.diagnosis
  if (!ask && !next) return null
  if (!ask) return 'read'
  if (!next) return 'ask'
  return wanted.value ?? first.value
})
const says = (name: string) => props.diagnosis.points.find((p) => p.name === name)?.says ?? name
</script>

<template>
  <section class="next" data-testid="next">
    <template v-if="shown === 'ask'">
      <h2>{{ diagnosis.ask!.says }}</h2>
      <div class="answers">
        <button
          v-for="a in diagnosis.ask!.answers"
          :key="a.id"
          type="button"
          :data-answer="a.id"
          @click="emit('answer', diagnosis.ask!.id, a.id)"
        >
          {{ a.says }}
        </button>
        <button type="button" class="soft" @click="emit('answer', diagnosis.ask!.id, 'unknown')">
          I do not know
        </button>
      </div>
      <button v-if="diagnosis.next" type="button" class="textlink" @click="wanted = 'read'">
        Read a voltage instead
      </button>
    </template>
    <template v-else-if="shown === 'read'">
      <ReadNext :next="diagnosis.next!" :says="says" @read="emit('read', $event)" />
      <button v-if="diagnosis.ask" type="button" class="textlink" @click="wanted = 'ask'">
        Answer a question instead
      </button>
    </template>
    <p v-else class="done">
      {{
        diagnosis.sure
          ? 'Enough is known. Check it before you change anything.'
          : 'No other reading or answer would narrow it down further.'
      }}
    </p>
    <AnyReading :points="diagnosis.points" @read="emit('read', $event)" />
  </section>
</template>

<style scoped>
.next {
  margin-top: 18px;
  padding: 14px 16px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-left: 5px solid var(--copper);
  border-radius: 4px;
}

.answers {
  display: grid;
  gap: 8px;
  margin: 12px 0 10px;
}

.answers button {
  min-height: 44px;
  padding: 8px 14px;
  font: inherit;
  text-align: left;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
}

.answers button:hover {
  background: var(--petrol-tint);
}

.answers button.soft {
  color: var(--soft);
}

.done {
  margin: 0;
}
</style>
