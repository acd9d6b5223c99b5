<script setup lang="ts">
// The cause with what it rests on, as a note in the record of the newest build of this plan.
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { api } from '../api/client'
import { newKey } from '../api/key'
import type { Cause, OpenBuild, PointName, Problem } from '../api/types'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import ProblemList from '../ui/ProblemList.vue'
import type { Known } from './evidence'
import { conditionWord, percent } from './words'

const props = defineProps<{ cause: Cause; known: Known; points: PointName[] }>()

const { id } = usePlan()
const build = shallowRef<OpenBuild | null>(null)
const problem = shallowRef<Problem | null>(null)
const kept = ref(false)
watch(
  () => [props.cause, props.known],
  () => (kept.value = false),
)

onMounted(async () => {
  const found = await api.builds(id.value)
  if (!found.ok || !found.value[0]) return
  const open = await api.build(found.value[0].id)
  if (open.ok) build.value = open.value
})

/** The step it began in, else the one that is due. */
const step = computed(() => {
  const steps = build.value?.progress.steps ?? []
  const named = steps.find((s) => s.key === props.known.step)
  return (named ?? steps.find((s) => s.stands === 'open') ?? steps.at(-1))?.key
})

const text = computed(() => {
  const { readings, answers } = props.known
  const read = readings.map((r) => `${r.red}–${r.black} ${conditionWord(r.condition)} ${show(r.volts, 'v')}`)
  const said = answers.map((a) => `${a.question}: ${a.answer}`)
  const rests = [...props.known.seen, ...read, ...said].join('; ')
  return `${props.cause.says} ${percent(props.cause.probability)}, from ${rests}.`.slice(0, 2000)
})

async function keep(): Promise<void> {
  if (!build.value || !step.value) return
  const event = {
    step: step.value,
    at: new Date().toISOString(),
    happened: { what: 'note' as const, text: text.value },
  }
  const answer = await api.happened(build.value.id, { key: newKey(), event })
  problem.value = answer.ok ? null : answer.problem
  kept.value = answer.ok
}
</script>

<template>
  <div v-if="build && step" class="record">
    <v-btn v-if="!kept" @click="keep">Write it into the build’s record</v-btn>
    <p v-else role="status">
      It is in the record of the <router-link :to="{ name: 'build' }">build</router-link>.
    </p>
    <ProblemList v-if="problem" :problem="problem" />
  </div>
</template>

<style scoped>
.record p {
  margin: 0;
}
</style>
