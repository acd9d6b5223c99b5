<script setup lang="ts">
// What is known so far, the latest first; each can be taken back.
import { computed } from 'vue'
import type { PointName } from '../api/types'
import { show } from '../format/show'
import { useReference } from '../state/reference'
import type { Known } from './evidence'
import { conditionWord } from './words'

const known = defineModel<Known>({ required: true })
const props = defineProps<{ points: PointName[] }>()

const { reference } = useReference()
const says = (name: string) => props.points.find((p) => p.name === name)?.says ?? name
const answers = computed(() =>
  known.value.answers.map((a) => {
    const question = reference.value?.odd_questions.find((q) => q.id === a.question)
    const answer = question?.answers.find((b) => b.id === a.answer)
    return { ...a, asked: question?.says ?? a.question, said: answer?.says ?? 'not known' }
  }),
)
</script>

<template>
  <section v-if="known.readings.length || known.answers.length" class="section" data-testid="known">
    <h2>Known so far</h2>
    <ul class="rows">
      <li v-for="(r, i) in known.readings" :key="`${r.red}${r.black}${r.condition}`">
        <b class="mono">{{ show(r.volts, 'v') }}</b>
        <span>red on {{ says(r.red) }}, black on {{ says(r.black) }}, {{ conditionWord(r.condition) }}</span>
        <button
          type="button"
          class="textlink"
          aria-label="Remove this reading"
          @click="known.readings.splice(i, 1)"
        >
          Remove
        </button>
      </li>
      <li v-for="(a, i) in answers" :key="a.question">
        <span class="soft">{{ a.asked }}</span>
        <b>{{ a.said }}</b>
        <button
          type="button"
          class="textlink"
          aria-label="Remove this answer"
          @click="known.answers.splice(i, 1)"
        >
          Remove
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
li button {
  margin-left: auto;
}
</style>
