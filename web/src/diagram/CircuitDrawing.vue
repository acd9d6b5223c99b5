<script setup lang="ts">
// The circuit as core laid it out, in millimetres. A wire or a symbol under the pointer is what the meter is held to.
import { computed } from 'vue'
import type { Diagram, FaultPlace } from '../api/types'
import { show } from '../format/show'
import type { Touched } from './touched'

const props = defineProps<{
  diagram: Diagram
  red: number | null
  black: number | null
  touched: Touched
  /** What of it is shown, in millimetres: left, top, width, height; absent is all. */
  crop?: [number, number, number, number] | null
  /** Without any volts, where the page predicts them itself. */
  quiet?: boolean
  /** Where something is wrong. */
  fault?: FaultPlace | null
}>()
const emit = defineEmits<{ touch: [Touched]; pin: [Touched] }>()

/** Least pixels of a millimetre, so that the smallest words can be read. */
const SCALE = 3.4

const d = computed(() => props.diagram.drawing)
const box = computed(() =>
  (props.crop ?? [d.value.left_mm, d.value.top_mm, d.value.width_mm, d.value.height_mm]).join(' '),
)
/** A part of it is drawn as large as all of it, and what lies beside it stays out of sight. */
const size = computed(() =>
  props.crop ? { width: `min(100%, ${props.crop[2] * SCALE}px)`, maxHeight: 'none', margin: '0 auto' } : {},
)
/** Width of a letter of the smallest words, on average. */
const LETTER_MM = 1.75
/** In a part of the drawing words that reach over its edge are left out. */
function fits(w: { text: string; x_mm: number; y_mm: number; anchor: string }): boolean {
  if (!props.crop) return true
  const [left, top, width, height] = props.crop
  const long = w.text.length * LETTER_MM
  const from = w.x_mm - (w.anchor === 'middle' ? long / 2 : w.anchor === 'end' ? long : 0)
  return from >= left && from + long <= left + width && w.y_mm > top + 2 && w.y_mm < top + height - 1
}
const words = computed(() => d.value.words.filter((w) => fits(w) && !(props.quiet && w.reads_v != null)))
const colour = (node: number) => props.diagram.nodes[node]?.colour ?? 'var(--line-strong)'
const corners = (wire: { corners_mm: number[][] }) => wire.corners_mm.map((c) => c.join(',')).join(' ')
const written = (w: { text: string; reads_v?: number | null }) =>
  [w.text, w.reads_v == null ? '' : show(w.reads_v, 'v')].filter(Boolean).join(' ')
const chosen = (block: string) => props.touched?.at === 'block' && props.touched.id === block

/** Where a probe is drawn: in the middle of the longest wire of its node. */
function probe(node: number | null): [number, number] | null {
  const wires = node === null ? [] : d.value.wires.filter((w) => w.node === node)
  let best: [number, number] | null = null
  let longest = -1
  for (const wire of wires) {
    for (let i = 1; i < wire.corners_mm.length; i++) {
      const [a, b] = [wire.corners_mm[i - 1], wire.corners_mm[i]]
      if (!a || !b) continue
      const length = Math.abs(a[0]! - b[0]!) + Math.abs(a[1]! - b[1]!)
      if (length > longest) [best, longest] = [[(a[0]! + b[0]!) / 2, (a[1]! + b[1]!) / 2], length]
    }
  }
  return best
}
const faultBlocks = computed(() => d.value.blocks.filter((b) => props.fault?.blocks.includes(b.id)))
const faultDots = computed(() =>
  (props.fault?.nodes ?? []).flatMap((node) => {
    const at = probe(node)
    return at ? [at] : []
  }),
)
const probes = computed(() =>
  (['red', 'black'] as const).flatMap((side) => {
    const at = probe(props[side])
    return at ? [{ side, at }] : []
  }),
)
</script>

<template>
  <svg
    class="circuit"
    :viewBox="box"
    :style="size"
    role="img"
    aria-label="Wiring diagram; the table of readings below says the same in words"
    @pointerleave="emit('touch', null)"
  >
    <polyline
      v-for="(wire, i) in d.wires"
      :key="`edge-${i}`"
      class="edge"
      :class="{ carries: wire.carries }"
      :points="corners(wire)"
    />
    <polyline
      v-for="(wire, i) in d.wires"
      :key="`wire-${i}`"
      class="wire"
      :class="{ carries: wire.carries }"
      :points="corners(wire)"
      :stroke="colour(wire.node)"
    />
    <circle v-for="(dot, i) in d.dots" :key="`dot-${i}`" class="dot" :cx="dot.x_mm" :cy="dot.y_mm" r="1.1" />
    <g
      v-for="block in d.blocks"
      :key="block.id"
      class="block"
      :class="{ undecided: block.undecided, chosen: chosen(block.id) }"
      :data-block="block.id"
    >
      <path v-for="(stroke, i) in block.strokes" :key="i" :class="stroke.role" :d="stroke.d" />
    </g>
    <text
      v-for="(w, i) in words"
      :key="`words-${i}`"
      :class="w.role"
      :x="w.x_mm"
      :y="w.y_mm"
      :text-anchor="w.anchor"
    >
      {{ written(w) }}
    </text>
    <rect
      v-for="block in d.blocks"
      :key="`reach-${block.id}`"
      class="reach"
      :x="block.reach_mm[0]"
      :y="block.reach_mm[1]"
      :width="block.reach_mm[2]"
      :height="block.reach_mm[3]"
      @pointerenter="emit('touch', { at: 'block', id: block.id })"
      @click="emit('pin', { at: 'block', id: block.id })"
    />
    <polyline
      v-for="(wire, i) in d.wires"
      :key="`reach-${i}`"
      class="reach along"
      :data-node="wire.node"
      :points="corners(wire)"
      @pointerenter="emit('touch', { at: 'node', node: wire.node })"
      @click="emit('pin', { at: 'node', node: wire.node })"
    />
    <rect
      v-for="block in faultBlocks"
      :key="`fault-${block.id}`"
      class="fault"
      :data-fault-at="block.id"
      :x="block.reach_mm[0]"
      :y="block.reach_mm[1]"
      :width="block.reach_mm[2]"
      :height="block.reach_mm[3]"
      rx="2"
    />
    <g v-for="(at, i) in faultDots" :key="`fault-node-${i}`" class="fault" data-fault-at="node">
      <circle :cx="at[0]" :cy="at[1]" r="3" />
      <path :d="`M${at[0] - 1.4} ${at[1] - 1.4} l2.8 2.8 m0 -2.8 l-2.8 2.8`" />
    </g>
    <g v-for="p in probes" :key="p.side" class="probe" :class="p.side" :data-probe="p.side">
      <circle :cx="p.at[0]" :cy="p.at[1]" r="2.2" />
      <text :x="p.at[0]" :y="p.at[1] + 1.05" text-anchor="middle">{{ p.side === 'red' ? '+' : '−' }}</text>
    </g>
  </svg>
</template>

<style scoped>
.fault {
  fill: none;
  stroke: var(--stop);
  stroke-width: 1;
  pointer-events: none;
}

.circuit {
  display: block;
  width: 100%;
  max-height: 620px;
  overflow: visible;
  background: var(--sheet);
}

polyline {
  fill: none;
  stroke-linecap: round;
  stroke-linejoin: round;
}

.edge {
  stroke: var(--soft);
  stroke-width: 1.1;
}

.edge.carries {
  stroke-width: 1.6;
}

.wire {
  stroke-width: 0.6;
}

.wire.carries {
  stroke-width: 1.1;
}

.dot {
  fill: var(--ink);
}

.block path {
  stroke: var(--ink);
  stroke-width: 0.45;
  fill: none;
  stroke-linejoin: round;
}

.block .heavy {
  stroke-width: 1;
}

.block .dashed {
  stroke-width: 0.3;
  stroke-dasharray: 1.5 1.2;
}

.block .body {
  fill: var(--sheet);
}

.block .fill {
  fill: var(--ink);
}

.block.undecided path {
  stroke-dasharray: 1.5 1.2;
}

.block.chosen path {
  stroke: var(--petrol);
  stroke-width: 0.9;
}

text {
  font-size: 3.3px;
  fill: var(--ink);
}

.title,
.volts {
  font-weight: 600;
}

.detail {
  fill: var(--soft);
  font-size: 3.1px;
}

.pin {
  font-size: 2.5px;
}

.reach {
  fill: transparent;
  stroke: none;
  cursor: pointer;
}

.reach.along {
  fill: none;
  stroke: transparent;
  stroke-width: 3.4;
}

.probe {
  pointer-events: none;
}

.probe circle {
  stroke: var(--sheet);
  stroke-width: 0.4;
}

.probe text {
  font-size: 3px;
  font-weight: 700;
  fill: var(--sheet);
}

.red circle {
  fill: var(--stop);
}

.black circle {
  fill: var(--ink);
}
</style>
