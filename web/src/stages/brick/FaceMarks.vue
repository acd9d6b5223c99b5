<script setup lang="ts">
// What is written on the cells of a face, above the strips: poles, names, and which are locked.
import type { CellMark, Face } from '../../api/types'

defineProps<{
  face: Face
  letters: number
  /** Where a cell is while it is dragged. */
  shift: (cell: number) => string | undefined
}>()

const size = (cell: CellMark) => Math.min(cell.width_mm * 0.17, 3.4)
</script>

<template>
  <g
    v-for="c in face.cells"
    :key="c.cell"
    v-memo="[c.x_mm, c.y_mm, c.width_mm, c.stock, c.locked, c.terminals[0]!.plus, shift(c.cell)]"
    class="marks"
    :transform="shift(c.cell)"
  >
    <g v-for="(t, k) in c.terminals" :key="k" :transform="`translate(${t.x_mm} ${t.y_mm})`">
      <circle v-if="t.plus && c.round" class="ring" :r="size(c) * 1.55" />
      <circle v-if="t.plus" :r="size(c)" />
      <rect v-else :x="-size(c)" :y="-size(c)" :width="2 * size(c)" :height="2 * size(c)" />
      <path
        :d="`M${-size(c) * 0.6} 0 H${size(c) * 0.6}${t.plus ? ` M0 ${-size(c) * 0.6} V${size(c) * 0.6}` : ''}`"
      />
    </g>
    <text
      :x="c.x_mm"
      :y="c.y_mm + c.height_mm / 2 - letters * 0.35"
      :font-size="letters"
      text-anchor="middle"
    >
      {{ c.stock ? `${c.label} ${c.stock}` : c.label }}
    </text>
    <path
      v-if="c.locked"
      class="lock"
      :transform="`translate(${c.x_mm + c.width_mm * 0.26} ${c.y_mm - c.height_mm * 0.3})`"
      d="M-2 0 h4 v3 h-4 z M-1.2 0 v-1 a1.2 1.2 0 0 1 2.4 0 v1"
    />
  </g>
</template>

<style scoped>
.marks {
  pointer-events: none;
}

.marks circle,
.marks rect {
  fill: #fbfaf5;
  stroke: #1e2422;
  stroke-width: 0.4;
}

.marks .ring {
  fill: none;
  stroke: #fbfaf5;
  stroke-width: 0.7;
  stroke-dasharray: 1.6 0.9;
}

.marks path {
  stroke: #1e2422;
  stroke-width: 0.6;
  fill: none;
}

.marks .lock {
  fill: #fbfaf5;
  stroke-width: 0.5;
}

.marks text {
  fill: #fbfaf5;
  stroke: #1e2422;
  stroke-width: 0.9;
  paint-order: stroke;
  font-weight: 700;
}
</style>
