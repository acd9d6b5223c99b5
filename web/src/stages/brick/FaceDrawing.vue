<script setup lang="ts">
// One face of the brick, to scale in millimetres: cells by potential, strips, sheets, leads. A cell is dragged, or taken
// up with a click and put down with another.
import { computed } from 'vue'
import type { CellMark, Drawing, Face, NetworkReport, WeldStep } from '../../api/types'
import { plain } from '../../format/show'
import FaceDimensions from './FaceDimensions.vue'
import FaceFlows from './FaceFlows.vue'
import FaceLeads from './FaceLeads.vue'
import FaceMarks from './FaceMarks.vue'
import { useCellDrag } from './useCellDrag'

const props = defineProps<{
  drawing: Drawing
  face: Face
  /** Its place in the drawing. */
  index: number
  selected: number | null
  /** The step that is shown, if the brick is welded step by step. */
  step: WeldStep | null
  /** What flows, once that is solved. */
  network: NetworkReport | null
  /** Whether currents stand beside the strips, or temperatures on the cells. */
  beside: 'currents' | 'warmth' | null
}>()
const emit = defineEmits<{ pick: [cell: number]; drop: [cell: number, column: number, row: number] }>()

/** Room round the face for leads and dimensions. */
const AROUND_MM = 20
const box = computed(
  () =>
    `${-AROUND_MM} ${-AROUND_MM * 0.7} ${props.face.width_mm + 2 * AROUND_MM} ${props.face.height_mm + 1.8 * AROUND_MM}`,
)
/** Never so small that names cannot be read: a large face scrolls. */
const PX_PER_MM = 1.9
const least = computed(() => ({
  minWidth: `${Math.round((props.face.width_mm + 2 * AROUND_MM) * PX_PER_MM)}px`,
  maxHeight: `${Math.round(Math.max(620, (props.face.height_mm + 1.8 * AROUND_MM) * PX_PER_MM))}px`,
}))
/** Names of leads and dimensions grow with the face. */
const grown = computed(() => Math.min(1.4, Math.max(1, props.face.width_mm / 150)))
const node = (n: number) => props.drawing.nodes[n]
/** A flat cell shows two potentials on one face: its strips are coloured instead. */
const FLAT = '#cfc8b8'
const flat = computed(() => props.face.end === null)
const fill = (cell: CellMark) => (flat.value ? FLAT : node(cell.terminals[0]!.node)?.fill)
/** Letters as large as the cells allow. */
const letters = computed(() => Math.min(5, (props.face.cells[0]?.width_mm ?? 18) * 0.23))
const covered = computed(() => props.step !== null && !props.step.bare.includes(props.index))
const lit = (strip: number) => props.step?.face === props.index && props.step.strips.includes(strip)

/** What flows is of the plan as laid; while it is welded nothing flows. */
const flows = computed(() => {
  if (props.step || !props.network) return []
  return props.network.segments.filter((s) => s.face === props.index)
})
const over = computed(() => flows.value.filter((s) => (s.used ?? 0) > 1))
const stripWidth = computed(() => props.face.strips[0]?.width_mm ?? 8)
const { take, carry, release, letGo, key, putOnSite, shift } = useCellDrag('svg', {
  free: () => !props.step,
  selected: () => props.selected,
  site: (cell) => props.face.cells.find((c) => c.cell === cell),
  pick: (cell) => emit('pick', cell),
  drop: (cell, column, row) => emit('drop', cell, column, row),
})
</script>

<template>
  <figure :class="{ covered }">
    <figcaption>
      <b>{{ face.title }}</b>
      <svg v-if="face.turned" class="turn" viewBox="0 0 40 24" aria-hidden="true">
        <path d="M4 8 C 12 -2, 28 -2, 35 8" />
        <path d="M35 8 l -8 -1.5 M35 8 l 1.5 -8" />
        <path d="M20 2 V 24" class="axis" />
      </svg>
      <span v-if="covered" class="soft">covered</span>
    </figcaption>
    <svg
      ref="svg"
      class="face"
      :style="least"
      :viewBox="box"
      role="group"
      :aria-label="face.title"
      @pointermove="carry"
      @pointerup="release"
      @pointercancel="letGo"
    >
      <rect class="wrap" :x="-2" :y="-2" :width="face.width_mm + 4" :height="face.height_mm + 4" rx="2" />
      <FaceDimensions :face="face" :letters="4 * grown" />
      <template v-for="s in face.sites" :key="`s${s.column}-${s.row}`">
        <circle
          v-if="s.free"
          class="site"
          :class="{ open: selected !== null }"
          :cx="s.x_mm"
          :cy="s.y_mm"
          :r="(face.cells[0]?.width_mm ?? 10) * 0.4"
          :data-column="s.column"
          :data-row="s.row"
          @click="putOnSite(s.column, s.row)"
        />
      </template>
      <g
        v-for="c in face.cells"
        :key="c.cell"
        v-memo="[c.x_mm, c.y_mm, c.width_mm, c.locked, fill(c), selected === c.cell, shift(c.cell), !!step]"
        class="cell"
        :class="{ selected: selected === c.cell }"
        :data-cell="c.cell"
        :data-label="c.label"
        :data-column="c.column"
        :data-row="c.row"
        :transform="shift(c.cell)"
        :tabindex="step ? -1 : 0"
        role="button"
        :aria-label="`Cell ${c.label}${c.locked ? ', locked' : ''}`"
        :aria-pressed="selected === c.cell"
        @pointerdown="take($event, c.cell)"
        @keydown="key($event, c.cell)"
      >
        <circle v-if="c.round" :cx="c.x_mm" :cy="c.y_mm" :r="c.width_mm / 2" :fill="fill(c)" />
        <rect
          v-else
          :x="c.x_mm - c.width_mm / 2"
          :y="c.y_mm - c.height_mm / 2"
          :width="c.width_mm"
          :height="c.height_mm"
          :fill="fill(c)"
        />
      </g>
      <path
        v-for="s in face.sheets"
        :key="`h${s.x1_mm},${s.y1_mm},${s.x2_mm}`"
        class="sheet"
        :d="`M${s.x1_mm} ${s.y1_mm} L${s.x2_mm} ${s.y2_mm}`"
      />
      <line
        v-for="(s, i) in over"
        :key="`o${i}`"
        class="over"
        data-over
        :x1="s.x1_mm"
        :y1="s.y1_mm"
        :x2="s.x2_mm"
        :y2="s.y2_mm"
        :stroke-width="stripWidth + 2"
      />
      <line
        v-for="s in face.strips"
        :key="`t${s.strip}`"
        class="strip"
        :class="{ carries: s.carries, lit: lit(s.strip), pale: step && !lit(s.strip) }"
        :data-strip="s.strip"
        :data-node="s.node"
        :x1="s.x1_mm"
        :y1="s.y1_mm"
        :x2="s.x2_mm"
        :y2="s.y2_mm"
        :stroke-width="s.width_mm"
        :style="flat && !lit(s.strip) ? { stroke: node(s.node)?.fill } : undefined"
      />
      <FaceLeads :drawing="drawing" :face="face" :index="index" :step="step" :letters="4.4 * grown" />
      <FaceMarks :face="face" :letters="letters" :shift="shift" />
      <FaceFlows
        v-if="network && !step"
        :face="face"
        :flows="flows"
        :network="network"
        :beside="beside"
        :letters="letters"
        :strip-width="stripWidth"
      />
    </svg>
    <p class="visually-hidden">
      {{ face.strips.length }} strips, {{ face.cells.length }} cells, {{ plain(face.width_mm, 1) }} by
      {{ plain(face.height_mm, 1) }} mm
    </p>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}

figcaption {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 26px;
}

.face {
  display: block;
  width: 100%;
  touch-action: pan-y;
  user-select: none;
}

.turn {
  width: 34px;
  height: 21px;
  fill: none;
  stroke: var(--petrol);
  stroke-width: 2;
}

.turn .axis {
  stroke-width: 1;
  stroke-dasharray: 2 2;
}

.wrap {
  fill: var(--sheet);
  stroke: var(--line-strong);
  stroke-width: 0.5;
}

.covered .face {
  opacity: 0.32;
}

.cell {
  cursor: grab;
  outline: none;
}

.cell > circle,
.cell > rect {
  stroke: var(--ink);
  stroke-width: 0.35;
}

.cell.selected > circle,
.cell.selected > rect,
.cell:focus-visible > circle,
.cell:focus-visible > rect {
  stroke: var(--copper);
  stroke-width: 1.6;
}

.site {
  fill: transparent;
  stroke: var(--line-strong);
  stroke-width: 0.4;
  stroke-dasharray: 2 1.5;
}

.site.open {
  stroke: var(--copper);
  cursor: pointer;
}

.sheet {
  stroke: var(--sheet);
  stroke-width: 0.9;
  stroke-dasharray: 2.4 1;
  fill: none;
}

.strip {
  stroke: #aab0b3;
  stroke-opacity: 0.86;
  stroke-linecap: square;
  pointer-events: none;
}

.over {
  stroke: var(--stop);
  stroke-linecap: square;
  pointer-events: none;
}

.strip.carries {
  stroke: #cfd4d6;
}

.strip.pale {
  stroke-opacity: 0.25;
}

.strip.lit {
  stroke: #e9a36f;
  stroke-opacity: 0.95;
}

.sheet {
  pointer-events: none;
}
</style>
