<script setup lang="ts">
// The wires that leave a face: main leads, taps, and the wires between flat cells.
import type { Drawing, Face, WeldStep } from '../../api/types'

const props = defineProps<{
  drawing: Drawing
  face: Face
  index: number
  step: WeldStep | null
  letters: number
}>()

const KINDS: Record<string, string> = { minus: ' −', plus: ' +', joint: ' wire' }
const lit = (node: number) => props.step?.face === props.index && props.step.nodes.includes(node)
const label = (node: number, kind: string) => `${props.drawing.nodes[node]?.label ?? ''}${KINDS[kind] ?? ''}`
</script>

<template>
  <g v-for="l in face.leads" :key="`l${l.node}${l.kind}`" class="lead" :class="{ lit: lit(l.node) }">
    <path v-for="(a, k) in l.also" :key="k" :d="`M${l.x1_mm} ${l.y1_mm} L${a.x_mm} ${a.y_mm}`" />
    <path :d="`M${l.x1_mm} ${l.y1_mm} L${l.x2_mm} ${l.y2_mm}`" />
    <circle :cx="l.x2_mm" :cy="l.y2_mm" r="1.3" />
    <text
      :x="l.x2_mm"
      :y="l.y2_mm < 0 ? l.y2_mm - 2.5 : l.y2_mm + 1.5 + letters * 0.91"
      :font-size="letters"
      text-anchor="middle"
    >
      {{ label(l.node, l.kind) }}
    </text>
  </g>
</template>

<style scoped>
.lead {
  fill: var(--copper);
  pointer-events: none;
}

.lead path {
  stroke: var(--copper);
  stroke-width: 0.8;
}

.lead text {
  fill: var(--ink);
  font-weight: 600;
}

.lead.lit path {
  stroke-width: 1.8;
}
</style>
