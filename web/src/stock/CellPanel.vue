<script setup lang="ts">
// One cell: what to do with it and why, what was seen, what was read, what became of it.
import { mdiClose } from '@mdi/js'
import { ref, watch } from 'vue'
import { api } from '../api/client'
import type { CellSheet, CellState, CellVerdict, Fault, Problem } from '../api/types'
import { moment } from '../format/moment'
import { fixed, show } from '../format/show'
import { useStock } from '../state/stock'
import ProblemList from '../ui/ProblemList.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import JudgementCard from './JudgementCard.vue'
import { kindOf, stateWords, verdictShape, verdictWords } from './words'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()

const { change, changed } = useStock()
const sheet = ref<CellSheet | null>(null)
const problem = ref<Problem | null>(null)
const keepWith = ref('')

async function fetchSheet(): Promise<void> {
  const answer = await api.cell(props.id)
  problem.value = answer.ok ? null : answer.problem
  if (answer.ok) take(answer.value)
}

function take(found: CellSheet): void {
  sheet.value = found
  keepWith.value = found.row.keep_with ?? ''
}

watch([() => props.id, change], fetchSheet, { immediate: true })

async function look(faults: Fault[] | null): Promise<void> {
  const answer = await api.lookAtCell(props.id, faults, keepWith.value.trim() || null)
  problem.value = answer.ok ? null : answer.problem
  if (!answer.ok) return
  take(answer.value)
  await changed()
}

function tick(fault: Fault): void {
  const now = sheet.value?.faults ?? []
  void look(now.includes(fault) ? now.filter((f) => f !== fault) : [...now, fault])
}

async function strike(id: string, struck: boolean): Promise<void> {
  const answer = struck ? await api.restoreReading(id) : await api.strikeReading(id)
  problem.value = answer.ok ? null : answer.problem
  await changed()
}

const stateOf = (state: string | null | undefined) => stateWords[state as CellState] ?? ''

/** Volts to the millivolt: that is what tells cells apart. */
function read(r: CellSheet['readings'][number]): string {
  const unit = kindOf(r.kind)?.unit ?? 'ratio'
  return unit === 'v' && r.value >= 0.1 ? `${fixed(r.value, 3)} V` : show(r.value, unit)
}

function conditions(r: CellSheet['readings'][number]): string {
  const c = r.conditions
  return [
    c.instrument,
    c.method === 'ac1khz' ? 'AC 1 kHz' : c.method === 'dc_pulse' ? 'DC pulse' : '',
    c.rate_a != null ? `at ${show(c.rate_a, 'a')}` : '',
    c.cutoff_v != null ? `to ${show(c.cutoff_v, 'v')}` : '',
    c.soc_share != null ? `${show(c.soc_share, 'share')} charged` : '',
    c.temperature_c != null ? show(c.temperature_c, 'c') : '',
    c.rest_s != null ? `over ${show(c.rest_s, 's')}` : '',
  ]
    .filter(Boolean)
    .join(', ')
}
</script>

<template>
  <header>
    <h2 data-testid="cell-label">{{ sheet?.row.label }}</h2>
    <v-btn :icon="mdiClose" variant="text" size="small" aria-label="Close the cell" @click="emit('close')" />
  </header>
  <ProblemList v-if="problem" :problem="problem" />
  <template v-if="sheet">
    <p class="verdict" data-testid="cell-verdict">
      <VerdictMark :verdict="verdictShape[sheet.report.verdict as CellVerdict]" :size="22" />
      <b>{{ verdictWords[sheet.report.verdict as CellVerdict] }}</b>
      <span class="soft"
        >{{ stateOf(sheet.row.state) }}{{ sheet.row.plan ? ` for ${sheet.row.plan}` : '' }},
        {{ sheet.row.lot }}</span
      >
    </p>
    <JudgementCard v-for="(j, i) in sheet.report.judgements" :key="i" :judgement="j" />
    <p v-if="sheet.report.missing.length" class="soft after">
      Still to be read: {{ sheet.report.missing.map((k) => kindOf(k)?.title.toLowerCase()).join(', ') }}.
    </p>

    <section class="section">
      <h3>Looked at</h3>
      <label v-for="c in sheet.checklist" :key="c.fault" class="check">
        <input type="checkbox" :checked="sheet.faults?.includes(c.fault)" @change="tick(c.fault)" />
        <span>{{ c.look_for }} <span v-if="c.scrap" class="soft">scrap</span></span>
      </label>
      <v-btn v-if="!sheet.faults" size="small" class="after" @click="look([])"
        >Inspected: nothing found</v-btn
      >
      <p v-else-if="!sheet.faults.length" class="soft">Inspected; nothing found.</p>
      <v-text-field
        v-model="keepWith"
        class="after"
        label="Kept with"
        hint="A partner's label, or a mark that several share"
        maxlength="40"
        @change="look(sheet.faults ?? null)"
      />
    </section>

    <section class="section">
      <h3>Readings</h3>
      <p v-if="!sheet.readings.length" class="soft">Nothing yet.</p>
      <ul class="readings">
        <li v-for="r in sheet.readings" :key="r.id" :class="{ struck: r.struck_at }">
          <span>
            <b>{{ read(r) }}</b>
            {{ kindOf(r.kind)?.title.toLowerCase() }}
            <span class="soft">{{ moment(r.taken_at) }}{{ conditions(r) ? `; ${conditions(r)}` : '' }}</span>
          </span>
          <button type="button" class="textlink soft" @click="strike(r.id, !!r.struck_at)">
            {{ r.struck_at ? 'Restore' : 'Strike out' }}
          </button>
        </li>
      </ul>
    </section>

    <section v-if="sheet.events.length" class="section">
      <h3>History</h3>
      <ul class="readings">
        <li v-for="(e, i) in sheet.events" :key="i">
          <span>
            {{ stateOf(e.from_state) }} → <b>{{ stateOf(e.to_state) }}</b>
            <span class="soft"
              >{{ moment(e.at) }}{{ e.plan ? `, ${e.plan}` : '' }}{{ e.note ? `: ${e.note}` : '' }}</span
            >
          </span>
        </li>
      </ul>
    </section>
  </template>
</template>

<style scoped>
header,
.verdict {
  display: flex;
  gap: 10px;
  align-items: center;
}

header {
  justify-content: space-between;
}

.verdict {
  margin: 4px 0 12px;
  font-size: 17px;
}

.check {
  display: flex;
  gap: 10px;
  align-items: flex-start;
  padding: 5px 0;
  font-size: 14px;
}

.check input {
  width: 18px;
  height: 18px;
  flex: none;
  accent-color: var(--petrol);
}

.readings {
  list-style: none;
  padding: 0;
  margin: 4px 0 0;
}

.readings li {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 6px 0;
  border-bottom: 1px solid var(--line);
  font-size: 14px;
}

.readings .soft {
  display: block;
}

.readings button {
  flex: none;
}

.struck b {
  text-decoration: line-through;
  font-weight: 400;
}
</style>
