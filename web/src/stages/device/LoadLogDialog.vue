<script setup lang="ts">
// A series of ammeter readings, pasted or from a file: drawn, with the levels found in it, and what the sampling hides.
import { mdiTrayArrowUp } from '@mdi/js'
import { computed, ref, watch } from 'vue'
import { api } from '../../api/client'
import type { LoadReading, Problem } from '../../api/types'
import { plain, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import ProblemList from '../../ui/ProblemList.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { turns } from '../../state/turns'

const open = defineModel<boolean>({ required: true })

const { plan, set } = usePlan()

const text = ref('')
const interval = ref<number | null>(null)
const meter = ref('')
const chooser = ref<HTMLInputElement>()
const reading = ref<LoadReading | null>(null)
const problem = ref<Problem | null>(null)

const ammeters = computed(() => plan.value?.meters?.filter((m) => m.reads === 'amps') ?? [])
const range = computed(() => ammeters.value.find((m) => m.name === meter.value)?.range)

const { take: turn } = turns()
let timer = 0

async function look(): Promise<void> {
  const isLast = turn()
  if (!text.value.trim()) {
    reading.value = null
    problem.value = null
    return
  }
  const query = {
    interval_s: interval.value ?? undefined,
    range_a: range.value,
    meter: meter.value || undefined,
  }
  const answer = await api.loadLog(text.value, query)
  if (!isLast()) return
  reading.value = answer.ok ? answer.value : null
  problem.value = answer.ok ? null : answer.problem
}

watch([text, interval, meter], () => {
  clearTimeout(timer)
  timer = window.setTimeout(look, 250)
})

async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (file) text.value = await file.text()
  input.value = ''
}

const WIDTH = 640
const HEIGHT = 170
const LEFT = 40

/** The log as a line, the levels as lines across it. */
const drawing = computed(() => {
  const r = reading.value
  if (!r || !r.span_s) return null
  const most = Math.max(...r.drawn.map((s) => s.current_a), ...r.levels.map(levelOf), 0.001) * 1.08
  const x = (s: number) => LEFT + (s / r.span_s) * (WIDTH - LEFT)
  const y = (a: number) => HEIGHT - (a / most) * (HEIGHT - 8)
  const line = r.drawn.map((s) => `${x(s.time_s).toFixed(1)},${y(s.current_a).toFixed(1)}`).join(' ')
  const levels = r.levels.map((l) => ({ id: l.id, y: y(levelOf(l)), text: show(levelOf(l), 'a') }))
  return { line, levels }
})

function levelOf(level: LoadReading['levels'][number]): number {
  return level.draw.as === 'current' ? level.draw.value_a.value : 0
}

/** The levels of the log take the place of those of the same id; others stay. */
function take(): void {
  const found = reading.value?.levels ?? []
  const ids = new Set(found.map((l) => l.id))
  const others = (plan.value?.device.loads ?? []).filter((l) => !ids.has(l.id))
  set('/device/loads', [...found, ...others])
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="720" scrollable aria-labelledby="log-title">
    <v-card class="panel">
      <h2 id="log-title">Readings of an ammeter</h2>
      <p class="lead">
        Time and current, one reading per line, as the meter's program writes them; or only currents, at a
        fixed interval.
      </p>
      <div class="scroll">
        <v-textarea
          v-model="text"
          label="Paste the readings"
          rows="4"
          placeholder="0.0, 4.1&#10;0.5, 4.0&#10;1.0, 12.3"
          class="after mono"
        />
        <div class="fields after">
          <QuantityField v-model="interval" label="Interval, if no times" range="duration" />
          <v-select
            v-if="ammeters.length"
            v-model="meter"
            label="On which meter"
            :items="[
              { value: '', title: 'no meter named' },
              ...ammeters.map((m) => ({ value: m.name, title: m.name })),
            ]"
          />
          <v-btn :prepend-icon="mdiTrayArrowUp" @click="chooser?.click()">From a file…</v-btn>
          <input
            ref="chooser"
            class="visually-hidden"
            type="file"
            accept=".csv,.txt,text/csv,text/plain"
            aria-label="File of readings"
            tabindex="-1"
            data-testid="log-file"
            @change="choose"
          />
        </div>
        <ProblemList v-if="problem" :problem="problem" data-testid="log-problem" />
        <template v-if="reading && drawing">
          <svg
            class="after"
            :viewBox="`0 0 ${WIDTH} ${HEIGHT + 18}`"
            role="img"
            :aria-label="`${reading.sample_count} readings over ${show(reading.span_s, 's')}, levels drawn across`"
          >
            <polyline :points="drawing.line" fill="none" stroke="var(--petrol)" stroke-width="1.2" />
            <g v-for="level in drawing.levels" :key="level.id">
              <line
                :x1="LEFT"
                :x2="WIDTH"
                :y1="level.y"
                :y2="level.y"
                stroke="var(--copper)"
                stroke-dasharray="6 4"
              />
              <text :x="LEFT - 4" :y="level.y + 4" text-anchor="end">{{ level.text }}</text>
            </g>
            <text :x="LEFT" :y="HEIGHT + 14">0</text>
            <text :x="WIDTH" :y="HEIGHT + 14" text-anchor="end">{{ show(reading.span_s, 's') }}</text>
          </svg>
          <table data-testid="log-levels">
            <thead>
              <tr>
                <th scope="col">Level</th>
                <th scope="col">Current</th>
                <th scope="col">Lasts</th>
                <th scope="col">Every</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="level in reading.levels" :key="level.id">
                <th scope="row">{{ level.name }}</th>
                <td>
                  <template v-if="level.id === 'peak' && reading.peak_is_lower_bound">at least </template
                  >{{ show(levelOf(level), 'a') }}
                </td>
                <td>{{ level.duration_s == null ? 'no end' : show(level.duration_s, 's') }}</td>
                <td>{{ level.every_s == null ? '–' : show(level.every_s, 's') }}</td>
              </tr>
            </tbody>
          </table>
          <p class="after">
            On {{ plain(reading.duty * 100, 0) }} % of the time; {{ show(reading.mean_a, 'a') }} overall mean,
            that is {{ show(reading.mean_a, 'ah') }} per hour.
          </p>
          <ul v-if="reading.hides.length" class="hides">
            <li v-for="words in reading.hides" :key="words">{{ words }}</li>
          </ul>
        </template>
      </div>
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="!reading?.levels.length" @click="take">
          Use these levels
        </v-btn>
        <v-btn variant="text" @click="open = false">Cancel</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.scroll {
  overflow-y: auto;
}

.fields {
  align-items: start;
}

.hides {
  margin: 10px 0 0;
  padding: 8px 10px 8px 28px;
  border-left: 5px solid var(--caution);
  background: var(--caution-tint);
  font-size: 14px;
}

text {
  font-size: 12px;
  fill: var(--ink);
}

table {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  text-align: left;
  padding: 4px 8px 4px 0;
  border-bottom: 1px solid var(--line);
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 14px;
}
</style>
