<script setup lang="ts">
// What is seen, in a maker's words. What must not be diagnosed but carried outdoors stands first.
import { mdiFire } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import type { Symptom, Trouble } from '../api/types'
import EmergencyCard from '../frame/EmergencyCard.vue'
import { useReference } from '../state/reference'

const props = defineProps<{ seen: Symptom[]; begun: boolean }>()
const emit = defineEmits<{ see: [symptom: Symptom] }>()

const { reference } = useReference()
const emergency = ref(false)
/** Folded once something is known: what was seen stays. */
const open = ref(!props.begun)
watch(
  () => props.begun,
  (begun) => (open.value = !begun),
)

const topics: [Trouble, string][] = [
  ['running', 'When it is used'],
  ['charging', 'When it is charged'],
  ['showing', 'In what is shown, or in storage'],
]
const of = (trouble: Trouble) => (reference.value?.symptoms ?? []).filter((s) => s.trouble === trouble)
const named = computed(() => (reference.value?.symptoms ?? []).filter((s) => props.seen.includes(s.symptom)))
</script>

<template>
  <section data-testid="seen">
    <div v-if="!open" class="folded">
      <span v-for="s in named" :key="s.symptom" class="chip on">
        {{ s.says }}
        <button type="button" :aria-label="`Not this: ${s.says}`" @click="emit('see', s.symptom)">×</button>
      </span>
      <button type="button" class="textlink" @click="open = true">
        {{ named.length ? 'Something else too' : 'Say what you see' }}
      </button>
    </div>
    <template v-else>
      <h2>What do you see?</h2>
      <button type="button" class="chip fire" @click="emergency = true">
        <v-icon :icon="mdiFire" size="18" /> Smell, swelling, hiss, smoke
      </button>
      <template v-for="[trouble, title] in topics" :key="trouble">
        <h3>{{ title }}</h3>
        <div class="chips">
          <button
            v-for="s in of(trouble)"
            :key="s.symptom"
            type="button"
            class="chip"
            :class="{ on: seen.includes(s.symptom) }"
            :aria-pressed="seen.includes(s.symptom)"
            :data-symptom="s.symptom"
            @click="emit('see', s.symptom)"
          >
            {{ s.says }}
          </button>
        </div>
      </template>
      <p v-if="!begun" class="soft after">
        A reading that differs from the prediction: start from it in
        <router-link :to="{ name: 'build' }">Build</router-link> or in the
        <router-link :to="{ name: 'diagram' }">diagram</router-link>.
      </p>
    </template>
    <EmergencyCard v-model="emergency" />
  </section>
</template>

<style scoped>
h3 {
  margin: 14px 0 6px;
}

.chips,
.folded {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}

.chip {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 40px;
  padding: 6px 14px;
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}

button.chip {
  cursor: pointer;
}

button.chip:hover {
  background: var(--petrol-tint);
}

.chip.on {
  color: var(--on-strong);
  background: var(--petrol);
  border-color: var(--petrol);
}

.chip.on button {
  min-width: 24px;
  min-height: 24px;
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  cursor: pointer;
}

.chip.fire {
  margin-top: 10px;
  color: var(--stop);
  background: var(--stop-tint);
  border-color: var(--stop);
  font-weight: 600;
}
</style>
