<script setup lang="ts">
// The head room of every link of the power path, drawn over the currents that flow beneath it.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { Link, Path } from '../../api/types'
import { show, wireSize } from '../../format/show'
import VerdictMark from '../../ui/VerdictMark.vue'
import {
  type AmpScale,
  HEIGHT,
  LEFT,
  RIGHT,
  TOP,
  WIDTH,
  bornePeak,
  demandLines,
  wrapped,
} from './corridorScale'

const props = defineProps<{ path: Path; scale: AmpScale }>()
const router = useRouter()

const columns = computed(() => {
  const links = props.path.links
  const each = (WIDTH - LEFT - RIGHT) / Math.max(links.length, 1)
  return links.map((link, i) => ({ link, x: LEFT + i * each + each * 0.06, width: each * 0.88 }))
})
const lines = computed(() => demandLines(props.path, props.scale))

/** Whether a link bears more for a moment than for good, by enough to be drawn. */
const momentShown = (link: Link) =>
  link.continuous_a != null && (bornePeak(link) ?? 0) > link.continuous_a * 1.02

const demandLabel = (name: string, amps: number, seconds: number | null | undefined) =>
  `${show(amps, 'a')}${seconds != null ? `, ${show(seconds, 's')}` : ''}: ${name}`

const open = (link: Link) => router.push({ name: link.stage })
const detail = (link: Link) => (link.size ? wireSize(link.size) : link.detail)

function spoken(link: Link): string {
  const limit = link.continuous_a != null ? `${show(link.continuous_a, 'a')} continuous` : 'limit not known'
  const rank = link.id === props.path.weakest ? ', the weakest link' : ''
  return `${link.label}, ${detail(link)}: ${limit}, set by ${link.set_by}${rank}`
}
</script>

<template>
  <svg
    class="corridor"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT + 92}`"
    role="group"
    aria-label="Limit of every link over the current in it"
  >
    <defs>
      <pattern id="moment" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="7" height="7" fill="var(--copper-tint)" opacity="0.5" />
        <line x1="0" y1="0" x2="0" y2="7" stroke="var(--line-strong)" stroke-width="2" />
      </pattern>
      <pattern
        id="moment-stop"
        width="7"
        height="7"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="7" height="7" fill="var(--stop-tint)" />
        <line x1="0" y1="0" x2="0" y2="7" stroke="var(--stop)" stroke-width="1.4" />
      </pattern>
    </defs>
    <text :x="LEFT - 12" :y="TOP - 6" text-anchor="end" class="tick">A</text>
    <g v-for="t in scale.ticks" :key="t">
      <line :x1="LEFT - 6" :x2="WIDTH" :y1="scale.y(t)" :y2="scale.y(t)" stroke="var(--line)" />
      <text :x="LEFT - 12" :y="scale.y(t) + 4" text-anchor="end" class="tick">{{ t }}</text>
    </g>
    <a
      v-for="{ link, x, width } in columns"
      :key="link.id"
      class="link"
      :href="`#${link.id}`"
      :data-link="link.id"
      :aria-label="spoken(link)"
      @click.prevent="open(link)"
    >
      <template v-if="link.continuous_a != null">
        <rect
          :x="x"
          :y="TOP"
          :width="width"
          :height="Math.max(scale.y(bornePeak(link) ?? link.continuous_a) - TOP, 0)"
          :fill="link.severity === 'stop' ? 'var(--stop)' : 'var(--nickel)'"
        />
        <rect
          :x="x"
          :y="scale.y(bornePeak(link) ?? link.continuous_a)"
          :width="width"
          :height="Math.max(scale.y(link.continuous_a) - scale.y(bornePeak(link) ?? link.continuous_a), 0)"
          :fill="link.severity === 'stop' ? 'url(#moment-stop)' : 'url(#moment)'"
        />
        <line
          :x1="x"
          :x2="x + width"
          :y1="scale.y(link.continuous_a)"
          :y2="scale.y(link.continuous_a)"
          :stroke="link.severity === 'stop' ? 'var(--stop)' : 'var(--ink)'"
          :stroke-width="link.id === path.weakest ? 4 : 2"
        />
      </template>
      <text v-else :x="x + width / 2" :y="TOP + 30" text-anchor="middle" class="detail">not known</text>
    </a>
    <g v-for="{ d, y, label } in lines" :key="d.load">
      <line
        :x1="LEFT"
        :x2="WIDTH - RIGHT + 2"
        :y1="y"
        :y2="y"
        stroke="var(--copper)"
        :stroke-width="d.peak ? 2 : 3"
        :stroke-dasharray="d.peak ? '6 4' : undefined"
      />
      <line :x1="WIDTH - RIGHT + 2" :x2="WIDTH - RIGHT + 8" :y1="y" :y2="label" stroke="var(--copper)" />
      <text :x="WIDTH - RIGHT + 10" :y="label + 4" class="demand">
        {{ show(d.current_a, 'a') }}{{ d.duration_s != null ? `, ${show(d.duration_s, 's')}` : '' }}
        <title>{{ demandLabel(d.name, d.current_a, d.duration_s) }}</title>
      </text>
      <text :x="WIDTH - RIGHT + 10" :y="label + 18" class="detail">
        {{ wrapped(d.name, RIGHT - 12)[0] }}
      </text>
    </g>
    <g v-for="{ link, x, width } in columns" :key="`name-${link.id}`" class="names">
      <text
        v-if="link.continuous_a != null"
        :x="x + width / 2"
        :y="Math.min(scale.y(link.continuous_a) + 16, HEIGHT - 2)"
        text-anchor="middle"
        class="limit"
        :class="{ bad: link.severity === 'stop' }"
      >
        {{ show(link.continuous_a, 'a').replace(' A', '') }}
      </text>
      <text
        v-if="bornePeak(link) != null && momentShown(link)"
        :x="x + width / 2"
        :y="Math.max(scale.y(bornePeak(link)!) - 5, TOP + 14)"
        text-anchor="middle"
        class="never"
        :class="{ bad: link.severity === 'stop', bare: scale.y(bornePeak(link)!) - TOP < 19 }"
      >
        {{ show(bornePeak(link)!, 'a').replace(' A', '') }}
      </text>
      <text :x="x + width / 2" :y="HEIGHT + 20" text-anchor="middle" class="label">{{ link.label }}</text>
      <text
        v-for="(words, i) in wrapped(detail(link), width + 10)"
        :key="i"
        :x="x + width / 2"
        :y="HEIGHT + 36 + i * 14"
        text-anchor="middle"
        class="detail"
      >
        {{ words }}
        <title>{{ spoken(link) }}</title>
      </text>
      <VerdictMark
        v-if="link.severity"
        :x="x + width / 2 - 9"
        :y="HEIGHT + 57"
        :verdict="link.severity"
        :size="18"
      />
      <text
        v-if="link.id === path.weakest"
        :x="x + width / 2"
        :y="HEIGHT + (link.severity ? 88 : 70)"
        text-anchor="middle"
        class="detail weakest"
      >
        weakest
      </text>
    </g>
  </svg>
</template>

<style scoped>
.corridor {
  width: 100%;
  max-width: 900px;
  margin-top: 10px;
  display: block;
}

.link {
  cursor: pointer;
}

.link:hover rect {
  opacity: 0.85;
}

.tick,
.detail {
  font-size: 12px;
  fill: var(--soft);
}

.label {
  font-size: 15px;
  font-weight: 700;
  fill: var(--ink);
}

.limit {
  font-size: 14px;
  font-weight: 700;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}

.never {
  font-size: 12px;
  fill: var(--on-nickel);
}

.never.bad {
  fill: var(--on-strong);
}

/* Off the top of the scale there is no dark part to write on. */
.never.bare {
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 4px;
}

.limit.bad {
  fill: var(--stop);
}

.demand {
  font-size: 12.5px;
  font-weight: 700;
  fill: var(--copper-text);
}

.names {
  pointer-events: none;
}

.weakest {
  font-weight: 700;
}
</style>
