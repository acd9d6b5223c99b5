<script setup lang="ts">
// Over a face of the brick: currents beside the strips or temperatures on the cells, and a flame at the hottest cell.
import { computed } from 'vue'
import type { Face, NetworkReport, SegmentLoad } from '../../api/types'
import { plain, show } from '../../format/show'

const props = defineProps<{
  face: Face
  /** Strips of this face, from weld to weld. */
  flows: SegmentLoad[]
  network: NetworkReport
  beside: 'currents' | 'warmth' | null
  /** Size of the letters on the cells. */
  letters: number
  stripWidth: number
}>()

/** A strip that hardly carries anything has no figure. */
const LEAST_SHARE = 0.01
const shown = computed(() => props.flows.filter((s) => s.pack_share > LEAST_SHARE))
const upright = (s: SegmentLoad) => Math.abs(s.y2_mm - s.y1_mm) > Math.abs(s.x2_mm - s.x1_mm)
const hottest = computed(() => props.face.cells.find((c) => c.cell === props.network.hottest))

function warmth(cell: number): string {
  const c = props.network.cells[cell]?.after_c
  return c == null ? '' : `${plain(c, 1)} °C`
}
</script>

<template>
  <g v-if="beside === 'currents'" class="beside currents">
    <text
      v-for="(s, i) in shown"
      :key="`a${i}`"
      :x="(s.x1_mm + s.x2_mm) / 2 + (upright(s) ? stripWidth / 2 + 0.6 : 0)"
      :y="(s.y1_mm + s.y2_mm) / 2 + letters * 0.35"
      :font-size="letters * 0.9"
      :text-anchor="upright(s) ? 'start' : 'middle'"
      :class="{ much: (s.used ?? 0) > 1 }"
    >
      {{ show(s.current_a, 'a') }}
    </text>
  </g>
  <g v-if="beside === 'warmth'" class="beside warmth">
    <text
      v-for="c in face.cells"
      :key="`w${c.cell}`"
      :x="c.x_mm"
      :y="c.y_mm - c.height_mm * 0.27"
      :font-size="letters * 0.95"
      text-anchor="middle"
    >
      {{ warmth(c.cell) }}
    </text>
  </g>
  <path
    v-if="hottest"
    class="flame"
    :data-hottest="hottest.label"
    :transform="`translate(${hottest.x_mm - hottest.width_mm * 0.36} ${hottest.y_mm + hottest.height_mm * 0.34}) scale(${letters * 0.16})`"
    d="M0 0 C -4 -2.5 -3 -7 0.5 -10 C 0.5 -7.5 3.5 -6 3.5 -2.8 C 3.5 -1 2 0 0 0 Z"
  >
    <title>The hottest cell, {{ hottest.label }}</title>
  </path>
</template>

<style scoped>
.beside {
  pointer-events: none;
  font-weight: 700;
  fill: #1e2422;
  stroke: #fbfaf5;
  stroke-width: 0.8;
  paint-order: stroke;
}

.beside .much {
  fill: #9d1c1c;
}

.flame {
  fill: #c8551b;
  stroke: #fbfaf5;
  stroke-width: 0.8;
}
</style>
