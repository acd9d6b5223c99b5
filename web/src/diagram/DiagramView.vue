<script setup lang="ts">
// The wiring diagram: drawn from the plan, with the volts of every node in a chosen condition, and what the meter should read.
import { mdiPrinterOutline } from '@mdi/js'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { files } from '../api/client'
import type { Condition, Held, OddReading, Probe, Shown } from '../api/types'
import { show } from '../format/show'
import { beginWith } from '../odd/evidence'
import { useAnswer } from '../state/answer'
import { usePlan } from '../state/plan'
import AnswerNote from '../ui/AnswerNote.vue'
import CircuitDrawing from './CircuitDrawing.vue'
import DrawingPane from './DrawingPane.vue'
import ModulePads from './ModulePads.vue'
import ReadingsTable from './ReadingsTable.vue'
import ItReads from './ItReads.vue'
import { reads } from './reads'
import type { Touched } from './touched'

const { id, plan, assessment } = usePlan()
const router = useRouter()
const condition = ref<Condition>('running')
const held = ref<Held>('full')
const inSeries = ref<boolean | null>(null)
const shown = computed<Shown>(() => ({
  condition: condition.value,
  held: held.value,
  in_series: inSeries.value,
}))
const { answer: diagram, stale, problem } = useAnswer(() => ({ about: 'diagram', shown: shown.value }))

const conditions: [Condition, string][] = [
  ['rest', 'At rest'],
  ['running', 'Running'],
  ['hardest', 'Hardest'],
  ['charging', 'Charging'],
  ['tripped', 'Tripped'],
  ['off', 'Off'],
]
const charges = computed<[Held, string][]>(() => [
  ['full', 'full'],
  ['half', 'half full'],
  ['empty', 'empty'],
  ...(diagram.value?.can_read ? ([['read', 'as read']] as [Held, string][]) : []),
])

/** What is under the pointer, and what stays when it leaves. */
const under = ref<Touched>(null)
const pinned = ref<Touched>(null)
const touched = computed(() => under.value ?? pinned.value)
const pin = (what: Touched) => {
  pinned.value = JSON.stringify(what) === JSON.stringify(pinned.value) ? null : what
}

const name = (node: number) => diagram.value?.nodes[node]?.name ?? ''
/** A reading that is not what it should be is the beginning of a diagnosis. */
function diagnose(reading: OddReading): void {
  beginWith(id.value, [reading])
  void router.push({ name: 'odd' })
}

interface Told {
  title: string
  says: string
  readings: Probe[]
  red: number | null
  black: number | null
}

const told = computed<Told | null>(() => {
  const d = diagram.value
  const what = touched.value
  if (!d || !what) return null
  if (what.at === 'node') {
    const node = d.nodes[what.node]
    if (!node) return null
    const minus = d.nodes.findIndex((n) => n.name.startsWith('B0'))
    const says =
      node.node_v == null
        ? 'Nothing connects it to the pack now: a meter shows nothing steady.'
        : what.node === minus
          ? 'Pack minus: the black probe stays here.'
          : `${show(node.node_v, 'v')} with the red probe here and the black one on B0, pack minus.`
    const readings = d.probes.filter((p) => p.red === what.node || p.black === what.node)
    return { title: node.name, says, readings, red: what.node, black: node.node_v == null ? null : minus }
  }
  if (what.at === 'block') {
    const block = d.blocks.find((b) => b.id === what.id)
    const current =
      block?.current_a == null || block.says ? '' : `${show(Math.abs(block.current_a), 'a')} through it.`
    const readings = d.probes.filter((p) => p.at === what.id)
    const first = readings[0]
    return {
      title: block?.title ?? (what.id === 'pack' ? 'Pack' : 'On the taps'),
      says: [block?.says, current].filter(Boolean).join(' '),
      readings,
      red: first?.red ?? null,
      black: first?.black ?? null,
    }
  }
  const reading = d.probes[what.index]
  if (!reading) return null
  return { title: reading.what, says: '', readings: [reading], red: reading.red, black: reading.black }
})
</script>

<template>
  <header class="page-head">
    <div>
      <h1>Wiring diagram</h1>
      <p class="lead">
        Drawn from the plan. Same colour, same potential. Point at a wire or a part to see what a meter shows
        there.
      </p>
    </div>
    <v-btn
      v-if="diagram"
      :prepend-icon="mdiPrinterOutline"
      :href="files.diagram(id, shown)"
      target="_blank"
      data-testid="diagram-file"
      >Print it on A4</v-btn
    >
  </header>
  <AnswerNote :stale="stale" :problem="problem" />
  <p v-if="plan && !diagram && !problem" class="soft section">
    Nothing to draw yet: choose the chemistry and how many cells stand in series, in the Voltage stage.
  </p>
  <template v-if="diagram">
    <div class="choices">
      <fieldset>
        <legend>The device</legend>
        <label v-for="[key, title] in conditions" :key="key" :class="{ chosen: condition === key }">
          <input v-model="condition" type="radio" name="condition" :value="key" />{{ title }}
        </label>
      </fieldset>
      <fieldset>
        <legend>The cells</legend>
        <label v-for="[key, title] in charges" :key="key" :class="{ chosen: held === key }">
          <input v-model="held" type="radio" name="held" :value="key" />{{ title }}
        </label>
      </fieldset>
      <fieldset v-if="diagram.in_series != null">
        <legend>Both packs</legend>
        <label :class="{ chosen: diagram.in_series }">
          <input type="radio" name="packs" :checked="diagram.in_series" @change="inSeries = true" />in series
        </label>
        <label :class="{ chosen: !diagram.in_series }">
          <input type="radio" name="packs" :checked="!diagram.in_series" @change="inSeries = false" />in
          parallel
        </label>
      </fieldset>
    </div>
    <p v-if="diagram.not_reckoned" class="unsure" data-testid="not-reckoned">{{ diagram.not_reckoned }}</p>
    <p v-if="diagram.undecided.length" class="soft">
      Still undecided, drawn dashed: {{ diagram.undecided.join(', ') }}.
    </p>
    <DrawingPane class="frame" :ratio="diagram.drawing.width_mm / diagram.drawing.height_mm">
      <CircuitDrawing
        :diagram="diagram"
        :touched="touched"
        :red="told?.red ?? null"
        :black="told?.black ?? null"
        @touch="under = $event"
        @pin="pin"
      />
    </DrawingPane>
    <div class="meter" data-testid="meter" aria-live="polite">
      <template v-if="told">
        <b>{{ told.title }}</b> <span>{{ told.says }}</span>
        <ul v-if="told.readings.length" class="rows">
          <li v-for="(p, i) in told.readings" :key="i">
            <span class="what">{{ p.what }}</span>
            <span class="mono">{{ reads(p) }}</span>
            <span class="soft">red on {{ name(p.red) }}, black on {{ name(p.black) }}</span>
            <ItReads :diagram="diagram" :probe="p" :condition="condition" @odd="diagnose" />
          </li>
        </ul>
      </template>
      <span v-else class="soft">{{ diagram.says }} Voltages are against pack minus, B0.</span>
    </div>
    <section v-if="assessment?.things.length" class="section" data-testid="things">
      <h2>Boards and modules, pad by pad</h2>
      <p class="soft">
        Each as usually printed. Makers place pads differently: read the print, and measure every wire before
        you solder it.
      </p>
      <ModulePads v-for="t in assessment.things" :key="t.node" :thing="t" />
    </section>
    <section class="section">
      <h2>What the meter should show</h2>
      <p class="soft">
        {{ diagram.says }} Read before you power any part, and again after. Find the fault first where a
        reading differs by more than the meter’s error.
      </p>
      <ReadingsTable :diagram="diagram" :touched="touched" @touch="under = $event" @pin="pin" />
    </section>
  </template>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 28px;
  margin-top: 16px;
}

fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 2px 14px;
  font-size: 14px;
}

legend {
  float: left;
  padding: 0;
  color: var(--soft);
}

label {
  display: inline-flex;
  gap: 5px;
  align-items: baseline;
  cursor: pointer;
  min-height: 24px;
}

label.chosen {
  font-weight: 600;
}

input {
  accent-color: var(--petrol);
}

.frame {
  margin-top: 14px;
}

.unsure {
  margin-top: 12px;
  padding: 6px 10px;
  border-left: 4px solid var(--note);
  background: var(--sheet);
  font-size: 14px;
}

.meter {
  min-height: 44px;
  margin-top: 8px;
  font-size: 14px;
}

.meter .what {
  min-width: 170px;
}

.meter .mono {
  min-width: 80px;
  font-size: 16px;
}
</style>
