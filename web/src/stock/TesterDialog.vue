<script setup lang="ts">
// A tester measures the picked cells one after the other; every reading is kept as it comes.
import { computed, ref, watch } from 'vue'
import { api } from '../api/client'
import { plain } from '../format/show'
import { useJob } from '../state/jobs'
import { useStock } from '../state/stock'
import JobProgress from '../ui/JobProgress.vue'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { useRefusals } from '../ui/refusals'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ cells: string[] }>()

const { changed } = useStock()
const { job, problem, start, stop } = useJob()

const refused = useRefusals()
const which = ref<'practice' | 'bridge'>('practice')
const address = ref('127.0.0.1:7070')
const volts = ref(true)
const ohms = ref(true)
const times = ref(3)
const capacity = ref(false)
const rate = ref<number | null>(0.5)
const cutoff = ref<number | null>(2.8)

const busy = computed(() => job.value?.stage === 'working')
const words = { working: 'Measuring', done: 'Done', stopped: 'Stopped', failed: 'Ended early' } as const

watch(open, (now) => {
  if (now && !busy.value) job.value = null
})

async function measure(): Promise<void> {
  await start(
    api.measureCells({
      address: which.value === 'bridge' ? address.value : null,
      cells: props.cells,
      volts: volts.value,
      ohms_times: ohms.value ? times.value : 0,
      rate_a: capacity.value ? rate.value : null,
      cutoff_v: capacity.value ? cutoff.value : null,
    }),
  )
  await changed()
}
</script>

<template>
  <v-dialog v-model="open" max-width="600" :persistent="busy" scrollable aria-labelledby="tester-title">
    <v-card class="panel tester">
      <h2 id="tester-title">
        Measure {{ cells.length }} {{ cells.length === 1 ? 'cell' : 'cells' }} on a tester
      </h2>
      <p class="lead">
        The practice tester measures cells that do not exist, an hour in a second: to try the stock without
        hardware. Its readings are kept under its name.
      </p>
      <div class="which after">
        <label
          ><input v-model="which" type="radio" value="practice" :disabled="busy" /> Practice tester</label
        >
        <label
          ><input v-model="which" type="radio" value="bridge" :disabled="busy" /> A tester's bridge at</label
        >
        <v-text-field v-model="address" label="Address" :disabled="which !== 'bridge' || busy" />
      </div>
      <div class="what">
        <label><input v-model="volts" type="checkbox" :disabled="busy" /> Voltage</label>
        <label
          ><input v-model="ohms" type="checkbox" :disabled="busy" /> Resistance, three times, put in
          afresh</label
        >
        <label><input v-model="capacity" type="checkbox" :disabled="busy" /> Capacity</label>
      </div>
      <div v-if="capacity" class="fields after">
        <QuantityField v-model="rate" label="At" range="current" required />
        <QuantityField v-model="cutoff" label="Down to" range="cell_volts" required />
      </div>
      <JobProgress
        v-if="job"
        class="after"
        :share="job.done_share"
        label="Share of the cells measured"
        data-testid="tester-job"
      >
        <p class="state">
          <b>{{ words[job.stage] }}</b> {{ job.doing }}
          <span class="soft">{{ plain(job.done_share * 100, 0) }} %</span>
        </p>
        <pre v-if="job.lines.length" class="lines mono" tabindex="0">{{
          job.lines.slice(-40).join('\n')
        }}</pre>
      </JobProgress>
      <ProblemList v-if="problem" :problem="problem" data-testid="tester-problem" />
      <div class="buttons">
        <v-btn v-if="busy" @click="stop">Stop</v-btn>
        <v-btn v-else color="primary" variant="flat" :disabled="!cells.length || refused" @click="measure"
          >Measure</v-btn
        >
        <v-btn v-if="!busy" variant="text" @click="open = false">Close</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.tester {
  overflow-y: auto;
}

.which {
  display: grid;
  grid-template-columns: auto auto minmax(150px, 1fr);
  gap: 6px 16px;
  align-items: center;
}

.what {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 18px;
  margin-top: 12px;
}

label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 28px;
}

input[type='checkbox'],
input[type='radio'] {
  width: 18px;
  height: 18px;
  accent-color: var(--petrol);
}

.state {
  margin-top: 6px;
}

.lines {
  max-height: 150px;
  margin: 8px 0 0;
  padding: 8px 10px;
  overflow: auto;
  font-size: 13px;
  background: var(--paper);
  border: 1px solid var(--line);
}

.buttons {
  display: flex;
  gap: 10px;
  margin-top: 16px;
}

@media (max-width: 600px) {
  .which {
    grid-template-columns: 1fr;
  }
}
</style>
