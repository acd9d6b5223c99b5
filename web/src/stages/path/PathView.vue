<script setup lang="ts">
// The power path as a head-room corridor: every link is a ceiling over the currents that flow beneath it.
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Link } from '../../api/types'
import { show, wireSize } from '../../format/show'
import { usePlan } from '../../state/plan'
import VerdictMark from '../../ui/VerdictMark.vue'
import ChargePath from './ChargePath.vue'
import PathList from './PathList.vue'
import PathTable from './PathTable.vue'

const router = useRouter()
const { assessment } = usePlan()
const path = computed(() => assessment.value?.path)
const table = ref(false)

const LEFT = 44
const RIGHT = 116
const TOP = 18
const WIDTH = 740
const HEIGHT = 268

/** Amperes on a logarithmic scale, from under the lowest to over the highest drawn. */
const scale = computed(() => {
  const p = path.value
  if (!p) return null
  const amps = [
    ...p.demands.map((d) => d.current_a),
    ...p.links.flatMap((l) => [l.continuous_a, ...l.peaks.map((k) => k.limit_a)]),
  ].filter((a): a is number => a != null && a > 0)
  if (!amps.length) return null
  const low = Math.min(...amps) / 1.7
  // A limit far beyond every demand would flatten the rest: it runs off the top.
  const most = Math.max(...p.demands.map((d) => d.current_a), ...p.links.map((l) => l.continuous_a ?? 0))
  const high = Math.min(Math.max(...amps), most * 4) * 1.35
  const decades = Math.log(high / low)
  const y = (a: number) =>
    TOP + (Math.log(high / Math.min(Math.max(a, low), high)) / decades) * (HEIGHT - TOP)
  const marks = [0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000]
  return { y, high, ticks: marks.filter((t) => t > low && t < high) }
})

const columns = computed(() => {
  const links = path.value?.links ?? []
  const each = (WIDTH - LEFT - RIGHT) / Math.max(links.length, 1)
  return links.map((link, i) => ({ link, x: LEFT + i * each + each * 0.06, width: each * 0.88 }))
})

/** Whether a link bears more for a moment than for good, by enough to be drawn. */
const momentShown = (link: Link) =>
  link.continuous_a != null && scale.value !== null && (never(link) ?? 0) > link.continuous_a * 1.02

/** What the link bears for the peaks: the lowest of its peak limits, or its continuous limit. */
function never(link: Link): number | null {
  const limits = link.peaks.map((p) => p.limit_a).filter((a): a is number => a != null)
  return limits.length ? Math.max(Math.min(...limits), link.continuous_a ?? 0) : (link.continuous_a ?? null)
}

const demandLabel = (name: string, amps: number, seconds: number | null | undefined) =>
  `${show(amps, 'a')}${seconds != null ? `, ${show(seconds, 's')}` : ''}: ${name}`

/** Labels pushed apart so that none covers another. */
const lines = computed(() => {
  const s = scale.value
  if (!s || !path.value) return []
  const sorted = path.value.demands
    .map((d) => ({ d, y: s.y(d.current_a), label: s.y(d.current_a) }))
    .sort((a, b) => a.y - b.y)
  sorted.forEach((line, i) => {
    const above = sorted[i - 1]
    if (above) line.label = Math.max(line.label, above.label + 31)
  })
  return sorted
})

/** Words in lines of a width, at most two; the rest is left to the title. */
function wrapped(text: string, width: number): string[] {
  const most = Math.floor(width / 6)
  const lines = ['']
  for (const word of text.split(' ')) {
    const last = lines.at(-1) ?? ''
    if (!last) lines[lines.length - 1] = word
    else if (last.length + word.length < most) lines[lines.length - 1] = `${last} ${word}`
    else lines.push(word)
  }
  return lines.length > 2 ? [lines[0]!, `${lines[1]}…`] : lines
}

const open = (link: Link) => router.push({ name: link.stage })
const detail = (link: Link) => (link.size ? wireSize(link.size) : link.detail)

function spoken(link: Link): string {
  const bears = link.continuous_a != null ? `${show(link.continuous_a, 'a')} continuous` : 'limit not known'
  const rank = link.id === path.value?.weakest ? ', the weakest link' : ''
  return `${link.label}, ${detail(link)}: ${bears}, set by ${link.set_by}${rank}`
}
</script>

<template>
  <h2>Power path</h2>
  <p class="lead">
    Each link is a ceiling over the current that flows beneath it. Hatched: only for the peak. All amperes are
    those of the battery; what stands behind a converter is counted back to it. Click a link to change it.
  </p>
  <template v-if="path && scale && path.links.length">
    <svg
      class="corridor"
      :viewBox="`0 0 ${WIDTH} ${HEIGHT + 92}`"
      role="group"
      aria-label="Head room of every link over the currents"
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
            :height="Math.max(scale.y(never(link) ?? link.continuous_a) - TOP, 0)"
            :fill="link.severity === 'stop' ? 'var(--stop)' : 'var(--nickel)'"
          />
          <rect
            :x="x"
            :y="scale.y(never(link) ?? link.continuous_a)"
            :width="width"
            :height="Math.max(scale.y(link.continuous_a) - scale.y(never(link) ?? link.continuous_a), 0)"
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
          v-if="never(link) != null && momentShown(link)"
          :x="x + width / 2"
          :y="Math.max(scale.y(never(link)!) - 5, TOP + 14)"
          text-anchor="middle"
          class="never"
          :class="{ bad: link.severity === 'stop', bare: scale.y(never(link)!) - TOP < 19 }"
        >
          {{ show(never(link)!, 'a').replace(' A', '') }}
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
    <PathList class="stacked" :path="path" />
    <button type="button" class="textlink values" :aria-expanded="table" @click="table = !table">
      {{ table ? 'Hide the values' : 'Show the values, and who set them' }}
    </button>
    <PathTable v-if="table" :path="path" />
  </template>
  <div v-else class="empty">
    <p>The path is drawn as soon as something is chosen: it shows every limit over every current.</p>
    <p>
      Start by <router-link :to="{ name: 'device' }">surveying the device</router-link>, then
      <router-link :to="{ name: 'voltage' }">choose the voltage</router-link> and
      <router-link :to="{ name: 'cells' }">the cells</router-link>.
    </p>
  </div>
  <ChargePath v-if="path?.charge.length" class="section" :path="path" />
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

.empty {
  margin-top: 16px;
  padding: 18px;
  border: 1px dashed var(--line-strong);
}

@media (min-width: 701px) {
  .values {
    margin-top: 2px;
  }
}

.stacked {
  display: none;
}

@media (max-width: 700px) {
  .corridor {
    display: none;
  }

  .stacked {
    display: block;
  }
}
</style>
