<script setup lang="ts">
// The brick: cells, strips and wires to scale, as one welds them, in the compartment it must go into.
import { computed, defineAsyncComponent, ref } from 'vue'
import { plain, show } from '../../format/show'
import InTurn from '../../ui/InTurn.vue'
import ProblemList from '../../ui/ProblemList.vue'
import StageHead from '../../ui/StageHead.vue'
import { usePlan } from '../../state/plan'
import ArrangementList from './ArrangementList.vue'
import BayPanel from './BayPanel.vue'
import FaceDrawing from './FaceDrawing.vue'
import FlowPanel from './FlowPanel.vue'
import HolesPanel from './HolesPanel.vue'
import PartFiles from './PartFiles.vue'
import PatternBar from './PatternBar.vue'
import PrintSheets from './PrintSheets.vue'
import RoomForm from './RoomForm.vue'
import SeatTools from './SeatTools.vue'
import StripOffers from './StripOffers.vue'
import StripPanel from './StripPanel.vue'
import TakeOffStudy from './TakeOffStudy.vue'
import WeldSteps from './WeldSteps.vue'
import AnswerNote from '../../ui/AnswerNote.vue'
import { useBrick } from './useBrick'
import { useNetwork } from './useNetwork'

/** Drawing in space is large: it is loaded when it is asked for. */
const BrickInSpace = defineAsyncComponent(() => import('./BrickInSpace.vue'))

const { plan } = usePlan()
/** A pack that comes as a whole is not laid out: it goes into its place, or does not. */
const whole = computed(() => {
  const ready = plan.value?.packs[0]?.ready
  return ready?.state === 'chosen' ? ready.part : null
})
const { sheet, stale: drawnBefore, problem: undrawn, offers, refused, selected, byHand } = useBrick()
const { network, strips, stale, problem, afterS } = useNetwork()
/** Whether the brick is shown in space besides. */
const inSpace = ref(false)
/** What stands in the drawing besides names: currents beside the strips, or the temperature on each cell. */
const beside = ref<'currents' | 'warmth' | null>(null)
const besides = [
  ['currents', 'Currents'],
  ['warmth', 'Temperature'],
] as const
const toggle = (what: 'currents' | 'warmth') => (beside.value = beside.value === what ? null : what)

/** The step that is shown while the brick is welded; none while it is planned. */
const stepAt = ref<number | null>(null)
const step = computed(() => (stepAt.value === null ? null : (sheet.value?.steps[stepAt.value] ?? null)))
const faces = computed(() => sheet.value?.drawing.faces ?? [])
const nodes = computed(() => sheet.value?.drawing.nodes ?? [])
const place = computed(() => {
  const wanted = plan.value?.packs[0]?.brick?.compartment
  const all = plan.value?.device.compartments ?? []
  return all.find((c) => c.id === wanted) ?? all[0]
})
const inner = computed(() => {
  const s = place.value?.space
  if (!s) return ''
  return s.shape === 'box'
    ? `${plain(s.length_mm, 1)} × ${plain(s.width_mm, 1)} × ${show(s.depth_mm, 'mm')}`
    : `a tube ${plain(s.diameter_mm, 1)} × ${show(s.length_mm, 'mm')}`
})
const size = computed(() => sheet.value?.fit?.size_mm.map((mm) => plain(mm, 1)).join(' × '))
/** A face wider than this takes the whole width of the stage. */
const WIDE_MM = 200
const drawn =
  'To scale. Round = plus end, square = minus end; same colour = same potential = same piece of metal. Dashed: insulating rings and sheets. A red-edged strip is overloaded; the flame marks the hottest cell.'
const walls = ['length', 'width', 'depth']

function toggleSteps(): void {
  selected.value = null
  stepAt.value = stepAt.value === null ? 0 : null
}

function drop(cell: number, column: number, row: number, layer: number): void {
  void byHand({ does: 'move', cell, column, row, layer })
}

function pick(cell: number): void {
  selected.value = selected.value === cell ? null : cell
}
</script>

<template>
  <StageHead
    stage="brick"
    title="The brick"
    :lead="whole ? 'Openings through the walls, and what is printed.' : drawn"
  />
  <p v-if="whole" class="lead" data-testid="comes-whole">
    “{{ whole.offer.name }}” is a ready pack: no layout and no welding. Enter its size under
    <router-link :to="{ name: 'cells' }">Cells</router-link>; that decides whether it fits.
  </p>
  <template v-else>
    <div class="bench" :class="{ empty: !faces.length, wide: (faces[0]?.width_mm ?? 0) > WIDE_MM }">
      <AnswerNote :stale="drawnBefore" :problem="undrawn" />
      <div v-if="sheet && faces.length" class="drawn">
        <div class="tools">
          <v-btn
            :variant="step ? 'flat' : 'outlined'"
            :color="step ? 'primary' : undefined"
            @click="toggleSteps"
          >
            {{ step ? 'Back to planning' : 'Weld step by step' }}
          </v-btn>
          <template v-if="!step && network && !network.missing">
            <v-btn
              v-for="[what, words] in besides"
              :key="what"
              :variant="beside === what ? 'flat' : 'outlined'"
              :color="beside === what ? 'primary' : undefined"
              :aria-pressed="beside === what"
              @click="toggle(what)"
            >
              {{ words }}
            </v-btn>
          </template>
          <v-btn
            v-if="sheet.solid"
            :variant="inSpace ? 'flat' : 'outlined'"
            :color="inSpace ? 'primary' : undefined"
            :aria-pressed="inSpace"
            @click="inSpace = !inSpace"
          >
            In 3D
          </v-btn>
        </div>
        <WeldSteps v-if="stepAt !== null" v-model="stepAt" :steps="sheet.steps" />
        <SeatTools
          v-else
          :drawing="sheet.drawing"
          :selected="selected"
          @edit="byHand($event)"
          @drop="selected = null"
        />
        <ProblemList v-if="refused" :problem="refused" data-testid="edit-refused" />
        <div class="faces" tabindex="0" role="region" aria-label="Faces of the brick">
          <FaceDrawing
            v-for="(face, i) in faces"
            :key="face.title"
            :drawing="sheet.drawing"
            :face="face"
            :index="i"
            :selected="selected"
            :step="step"
            :network="network"
            :beside="beside"
            @pick="pick"
            @drop="(cell, column, row) => drop(cell, column, row, face.layer)"
          />
        </div>
        <div class="ramp" aria-label="Potentials">
          <span v-for="n in nodes" :key="n.node" class="node">
            <i :style="{ background: n.fill }" />
            {{ n.label }} <span v-if="n.nominal_v != null" class="soft">{{ plain(n.nominal_v, 1) }}</span>
          </span>
        </div>
      </div>
      <div class="side">
        <h2>{{ inner ? `In ${inner}` : 'Where it goes' }}</h2>
        <p v-if="!place" class="soft">
          Measure the place for the pack first.
          <router-link :to="{ name: 'device' }">Survey the device</router-link>
        </p>
        <template v-if="sheet?.fit">
          <p>
            The brick is <b>{{ size }} mm</b> with everything round it.
          </p>
          <p class="soft">
            <template v-for="(wall, i) in walls" :key="wall"
              >{{ i ? '; ' : 'Left ' }}{{ plain(sheet.fit.low_mm[i] ?? 0, 1) }} +
              {{ plain(sheet.fit.high_mm[i] ?? 0, 1) }} along the {{ wall }}</template
            >
          </p>
        </template>
        <ArrangementList v-if="offers && place" :offers="offers" />
        <details class="room">
          <summary>Room round the cells, board, ends</summary>
          <InTurn><RoomForm /></InTurn>
        </details>
      </div>
    </div>
    <BrickInSpace v-if="inSpace && sheet?.solid" :solid="sheet.solid" />
    <AnswerNote :stale="stale" :problem="problem" />
    <FlowPanel v-if="network && faces.length" v-model:after="afterS" :network="network" :stale="stale" />
    <InTurn>
      <TakeOffStudy
        v-if="network?.take_offs.length && sheet && faces.length"
        :options="network.take_offs"
        :drawing="sheet.drawing"
      />
      <StripOffers :offers="strips" />
    </InTurn>
    <InTurn><StripPanel /></InTurn>
    <InTurn><PatternBar v-if="sheet?.patterns.length" :patterns="sheet.patterns" /></InTurn>
  </template>
  <InTurn><BayPanel v-if="sheet && place" /></InTurn>
  <InTurn>
    <HolesPanel v-if="sheet && place" :holes="sheet.holes" />
    <PrintSheets />
    <PartFiles v-if="!whole" />
  </InTurn>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: minmax(0, 1.15fr) minmax(0, 1fr);
  gap: 24px;
}

.bench.empty,
.bench.wide {
  grid-template-columns: minmax(0, 1fr);
}

.tools {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 6px;
}

.faces {
  overflow-x: auto;
  display: flex;
  flex-direction: column;
  gap: 6px;
  margin-top: 6px;
}

.ramp {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
  margin-top: 8px;
  font-size: 13px;
}

.node i {
  display: inline-block;
  width: 22px;
  height: 12px;
  border: 1px solid var(--line-strong);
}

.room {
  margin-top: 10px;
}

.room summary {
  cursor: pointer;
}

@media (max-width: 900px) {
  .bench {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
