<script setup lang="ts">
// The first charge under watch: a line typed every quarter of an hour, beside what is predicted, and what both say.
import { computed, reactive, ref } from 'vue'
import type { ChargeLine, ChargeWatch } from '../api/types'
import { readReading } from '../format/reading'
import { show } from '../format/show'
import VerdictMark from '../ui/VerdictMark.vue'
import ChargeChart from './ChargeChart.vue'
import { minutesNow } from './minutes'

const props = defineProps<{ watch: ChargeWatch; shut: boolean }>()
const emit = defineEmits<{ log: [line: ChargeLine] }>()

const typed = reactive({ minutes: '', pack_v: '', current_a: '', apart_v: '', input_v: '' })
const error = ref('')

const fields = [
  { key: 'pack_v', label: 'At the cells', unit: 'v', plain: 'V' },
  { key: 'current_a', label: 'Into the pack', unit: 'a', plain: 'A' },
  { key: 'apart_v', label: 'Groups apart', unit: 'v', plain: 'mV' },
  { key: 'input_v', label: 'Charger’s side', unit: 'v', plain: 'V' },
] as const

/** A bare number is in the unit that stands behind the field. */
const withUnit = (text: string, plain: string) => (/^[-−\d.,\s]+$/.test(text) ? `${text} ${plain}` : text)

function keep(): void {
  error.value = ''
  const after = readReading(withUnit(typed.minutes.trim() || String(proposed.value), 'min'), 's')
  if (after === null || after < 0) {
    error.value = `“${typed.minutes}” is not a time since the charger was connected`
    return
  }
  const line: ChargeLine = { after_s: after }
  for (const { key, label, unit, plain } of fields) {
    const text = typed[key].trim()
    if (!text) continue
    const value = readReading(withUnit(text, plain), unit)
    if (value === null) {
      error.value = `${label}: “${text}” is not a reading in ${plain}`
      return
    }
    line[key] = value
  }
  if (Object.keys(line).length === 1) {
    error.value = 'Type what you read: voltage at the cells, and the current'
    return
  }
  emit('log', line)
  Object.assign(typed, { minutes: '', pack_v: '', current_a: '', apart_v: '', input_v: '' })
}

const proposed = computed(() => minutesNow(props.watch))
const verdict = computed(() =>
  props.watch.stop.length
    ? 'stop'
    : props.watch.ended === 'charger'
      ? 'fine'
      : props.watch.ended
        ? 'stop'
        : 'note',
)
const cell = (value: number | null | undefined, unit: 'v' | 'a') => (value == null ? '' : show(value, unit))
</script>

<template>
  <section class="log" data-testid="charge-log">
    <h2>Readings along the way</h2>
    <form class="line" @submit.prevent="keep">
      <label>
        <span>Minutes in</span>
        <input v-model="typed.minutes" inputmode="decimal" :placeholder="String(proposed)" :disabled="shut" />
      </label>
      <label v-for="f in fields" :key="f.key">
        <span>{{ f.label }}, {{ f.plain }}</span>
        <input v-model="typed[f.key]" :data-log="f.key" inputmode="decimal" :disabled="shut" />
      </label>
      <v-btn type="submit" :disabled="shut">Save the line</v-btn>
    </form>
    <p v-if="error" class="error" role="alert">{{ error }}</p>
    <div v-for="said in watch.stop" :key="said" class="problem" role="alert" data-testid="charge-stop">
      <b>Stop, unplug it: {{ said }}</b>
    </div>
    <p v-if="!watch.stop.length || watch.ended" class="says" data-testid="charge-says">
      <VerdictMark :verdict="verdict" /> {{ watch.says }}
    </p>
    <ChargeChart v-if="watch.predicted.length" :watch="watch" />
    <p v-else-if="watch.missing" class="soft">No prediction. {{ watch.missing }}</p>
    <p v-if="watch.predicted.length" class="soft">
      <template v-if="watch.full_s != null"
        >Predicted full {{ show(Math.max(watch.full_s, 0), 's') }} after the start of the log<template
          v-if="watch.apart_after_v != null"
          >, groups then {{ show(watch.apart_after_v, 'v') }} apart</template
        >.
      </template>
      <template v-if="watch.charged_ah > 0">{{ show(watch.charged_ah, 'ah') }} charged so far.</template>
    </p>
    <div v-if="watch.lines.length" class="scroll">
      <table class="values" data-testid="charge-lines">
        <thead>
          <tr>
            <th class="n">After</th>
            <th class="n">Cells</th>
            <th class="n">Current</th>
            <th class="n">Apart</th>
            <th class="n">Charger’s side</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in watch.lines" :key="line.after_s">
            <td class="n">{{ show(line.after_s, 's') }}</td>
            <td class="n">{{ cell(line.pack_v, 'v') }}</td>
            <td class="n">{{ cell(line.current_a, 'a') }}</td>
            <td class="n">{{ cell(line.apart_v, 'v') }}</td>
            <td class="n">{{ cell(line.input_v, 'v') }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.log {
  margin-top: 16px;
  padding-top: 10px;
  border-top: 1px solid var(--line-strong);
}

.line {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(112px, 1fr));
  gap: 8px;
  align-items: end;
  margin-top: 8px;
}

.line span {
  display: block;
  font-size: 13px;
  color: var(--soft);
}

.line input {
  width: 100%;
  min-height: 46px;
  padding: 4px 8px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  background: var(--paper);
  color: var(--ink);
  font-size: 19px;
  font-variant-numeric: tabular-nums;
}

.line button {
  min-height: 46px;
}

.error {
  margin-top: 6px;
  color: var(--stop);
}

.says {
  display: flex;
  gap: 8px;
  align-items: flex-start;
  margin: 10px 0;
  font-size: 16px;
}

.says > :first-child {
  flex: none;
  margin-top: 3px;
}

.problem {
  margin-top: 10px;
}

.scroll {
  overflow-x: auto;
}
</style>
