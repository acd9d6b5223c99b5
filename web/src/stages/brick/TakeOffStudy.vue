<script setup lang="ts">
// The ways to take the current off, side by side: each cell shaded by what it carries, the wires where they sit.
import { computed } from 'vue'
import type { Drawing, TakeOffOption } from '../../api/types'
import { plain, show } from '../../format/show'
import { usePlan } from '../../state/plan'

const props = defineProps<{ options: TakeOffOption[]; drawing: Drawing }>()
const { edit, set } = usePlan()

const names: Record<TakeOffOption['take_off'], string> = {
  same_end: 'At one end',
  diagonal: 'Diagonally',
  middle: 'In the middle',
  every_cell: 'From every cell',
}
/** One face of each layer shows all its cells. */
const faces = computed(() => props.drawing.faces.filter((f) => f.end !== 'bottom'))
const GAP_MM = 8
const width = computed(() => Math.max(...faces.value.map((f) => f.width_mm)))
const tops = computed(() => {
  let y = 0
  return faces.value.map((f) => {
    const top = y
    y += f.height_mm + GAP_MM
    return top
  })
})
const height = computed(() => faces.value.reduce((sum, f) => sum + f.height_mm + GAP_MM, -GAP_MM))
const letters = computed(() => (faces.value[0]?.cells[0]?.width_mm ?? 18) * 0.26)

/** Spread of all ways together, so that the same shade means the same share in each. */
const spread = computed(() => {
  const all = props.options.flatMap((o) => o.even_share)
  return [Math.min(...all, 0.9), Math.max(...all, 1.1)] as const
})
function shade(share: number): string {
  const [low, high] = spread.value
  const part = Math.round(((share - low) / (high - low)) * 100)
  return `color-mix(in srgb, var(--copper) ${part}%, var(--sheet))`
}
const chosen = computed(() => props.options.some((o) => o.chosen))
</script>

<template>
  <section class="section" data-testid="take-off">
    <h2>Where the current is taken off</h2>
    <p class="soft">
      The current of each cell against an even share; square is the minus wire, round the plus wire.
      <template v-if="!chosen">Now the wires sit closest to the edges where they come out.</template>
      <v-btn v-else size="small" variant="text" @click="set('/packs/0/brick/take_off', null)"
        >Closest to the edges instead</v-btn
      >
    </p>
    <div class="ways">
      <figure
        v-for="o in options"
        :key="o.take_off"
        :class="{ chosen: o.chosen }"
        :data-take-off="o.take_off"
      >
        <figcaption>
          <b>{{ names[o.take_off] }}</b>
          <span v-if="o.chosen" class="taken">chosen</span>
          <v-btn
            v-else
            size="small"
            :aria-label="`Use: take off ${names[o.take_off].toLowerCase()}`"
            @click="edit(o.changes)"
            >Use</v-btn
          >
        </figcaption>
        <svg
          :viewBox="`-2 -2 ${width + 4} ${height + 4}`"
          role="img"
          :aria-label="`Shares, ${names[o.take_off].toLowerCase()}`"
        >
          <g v-for="(f, i) in faces" :key="i" :transform="`translate(0 ${tops[i]})`">
            <g v-for="c in f.cells" :key="c.cell">
              <circle
                v-if="c.round"
                :cx="c.x_mm"
                :cy="c.y_mm"
                :r="c.width_mm / 2"
                :style="{ fill: shade(o.even_share[c.cell] ?? 1) }"
              />
              <rect
                v-else
                :x="c.x_mm - c.width_mm / 2"
                :y="c.y_mm - c.height_mm / 2"
                :width="c.width_mm"
                :height="c.height_mm"
                :style="{ fill: shade(o.even_share[c.cell] ?? 1) }"
              />
              <rect
                v-if="o.minus.includes(c.cell)"
                class="wire"
                :x="c.x_mm - letters"
                :y="c.y_mm - c.height_mm / 2 + 0.8"
                :width="letters * 2"
                :height="letters * 0.6"
              />
              <ellipse
                v-if="o.plus.includes(c.cell)"
                class="wire"
                :cx="c.x_mm"
                :cy="c.y_mm - c.height_mm / 2 + 0.8 + letters * 0.4"
                :rx="letters * 0.8"
                :ry="letters * 0.4"
              />
              <text :x="c.x_mm" :y="c.y_mm + letters * 0.7" :font-size="letters" text-anchor="middle">
                {{ plain((o.even_share[c.cell] ?? 1) * 100, 0) }}
              </text>
            </g>
          </g>
        </svg>
        <dl>
          <dt>most loaded cell</dt>
          <dd>{{ plain(o.most_share * 100, 1) }} %</dd>
          <dt>strips rated</dt>
          <dd>{{ o.limit_a == null ? '–' : show(o.limit_a, 'a') }}</dd>
          <dt>lost in strips</dt>
          <dd>{{ o.drop_v == null ? show(o.joints_ohm, 'ohm') : show(o.drop_v, 'v') }}</dd>
          <dt>hottest {{ o.hottest_strip ? `strip, ${o.hottest_strip}` : 'strip' }}</dt>
          <dd>{{ o.hottest_strip_w == null ? '–' : show(o.hottest_strip_w, 'w') }}</dd>
        </dl>
      </figure>
    </div>
  </section>
</template>

<style scoped>
.ways {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 18px;
  margin-top: 8px;
}

figure {
  margin: 0;
  padding: 10px;
  border: 1px solid var(--line);
  background: var(--sheet);
}

figure.chosen {
  border-color: var(--copper);
}

figcaption {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 34px;
}

svg {
  display: block;
  width: 100%;
  max-height: 240px;
}

svg circle,
svg rect {
  stroke: var(--ink);
  stroke-width: 0.35;
}

svg text {
  fill: var(--ink);
  font-weight: 700;
}

svg .wire {
  fill: var(--ink);
  stroke: none;
}

.taken {
  font-size: 13px;
  color: var(--copper-text);
}

dl {
  display: grid;
  grid-template-columns: 1fr auto;
  margin: 8px 0 0;
  font-size: 14px;
}

dt {
  color: var(--soft);
}

dd {
  margin: 0;
  text-align: right;
  font-weight: 700;
}
</style>
