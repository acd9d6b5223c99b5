<script setup lang="ts">
// What a step is about, drawn: the part of the diagram with its probes, or the face of the brick that is welded.
import { computed } from 'vue'
import type { BuildAsk, BuildStep } from '../api/types'
import CircuitDrawing from '../diagram/CircuitDrawing.vue'
import FaceDrawing from '../stages/brick/FaceDrawing.vue'
import { useAnswer } from '../state/answer'
import { around } from './crop'

const props = defineProps<{ step: BuildStep; ask: BuildAsk | null }>()

const { answer: diagram } = useAnswer(() =>
  props.step.shows.length
    ? { about: 'diagram', shown: { condition: 'rest', held: 'half', in_series: null } }
    : null,
)
const { answer: brick } = useAnswer(() => (props.step.weld ? { about: 'brick' } : null))

const node = (name: string | undefined): number | null => {
  // The ends of the pack are called by what they are, too: “B0, pack minus”.
  const called = (n: { name: string }) => n.name === name || n.name.startsWith(`${name},`)
  const found = name ? (diagram.value?.nodes.findIndex(called) ?? -1) : -1
  return found < 0 ? null : found
}
const red = computed(() => node(props.ask?.red))
const black = computed(() => node(props.ask?.black))
const crop = computed(() => diagram.value && around(diagram.value.drawing, props.step.shows))

const faces = computed(() => {
  const { weld } = props.step
  const drawing = brick.value?.drawing
  if (!weld || !drawing) return []
  const shown = weld.face == null ? weld.bare : [weld.face]
  return shown.flatMap((index) => {
    const face = drawing.faces[index]
    return face ? [{ face, index }] : []
  })
})
</script>

<template>
  <figure v-if="diagram && crop" class="drawn" data-testid="step-drawing">
    <CircuitDrawing
      :diagram="diagram"
      :red="red"
      :black="black"
      :touched="{ at: 'block', id: step.shows[0]! }"
      :crop="crop"
      quiet
    />
  </figure>
  <figure v-if="brick && step.weld && faces.length" class="drawn faces" data-testid="step-drawing">
    <FaceDrawing
      v-for="{ face, index } in faces"
      :key="index"
      :drawing="brick.drawing"
      :face="face"
      :index="index"
      :selected="null"
      :step="step.weld"
      :network="null"
      :beside="null"
    />
  </figure>
</template>

<style scoped>
.drawn {
  margin: 12px 0 0;
  padding: 6px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
}

.drawn :deep(.circuit) {
  pointer-events: none;
}

.faces {
  overflow-x: auto;
}

.faces :deep(svg) {
  max-height: 300px !important;
  pointer-events: none;
}
</style>
