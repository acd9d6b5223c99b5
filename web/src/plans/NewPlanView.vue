<script setup lang="ts">
// A new plan in five answers: what it is, its old battery, what it draws, how long, how big. From here to whole plans, or stage by stage.
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { Job, Known, Load, Plan, Problem } from '../api/types'
import { currency } from '../state/preferences'
import { withChanges } from '../state/pointer'
import { useReference } from '../state/reference'
import ProblemList from '../ui/ProblemList.vue'
import QuantityField from '../ui/QuantityField.vue'
import { useRefusals } from '../ui/refusals'
import PictureTiles from './PictureTiles.vue'
import { batteries, plugs, type OldBattery, type OldPlug } from './pictures'
import { vFirstField } from '../ui/firstField'

const router = useRouter()
const { jobs, job: sheetOf } = useReference()

const name = ref('')
const job = ref<Job | null>(null)
const battery = ref<OldBattery | null>(null)
const plug = ref<OldPlug | null>(null)
const labelV = ref<number | null>(null)
const series = ref<number | null>(null)
const highestV = ref<number | null>(null)
const usualA = ref<number | null>(null)
const startA = ref<number | null>(null)
const capacityAh = ref<number | null>(null)
const oldRunS = ref<number | null>(null)
const wantedS = ref<number | null>(null)
const size = ref<{ length_mm: number | null; width_mm: number | null; depth_mm: number | null }>({
  length_mm: null,
  width_mm: null,
  depth_mm: null,
})
const knowsCurrent = ref(true)
const problem = ref<Problem | null>(null)
/** A field shows something that was refused. */
const refused = useRefusals()
const starting = ref(false)

const jobItems = computed(() => [
  { value: null, title: 'something else: ask everything' },
  ...jobs().map(({ job: value, title }) => ({ value, title })),
])
const special = computed(() => sheetOf(job.value)?.special)
const nameError = computed(() => {
  const length = name.value.trim().length
  return length >= 1 && length <= 120 ? '' : 'Name: 1 to 120 characters'
})
const hasBattery = computed(
  () => battery.value !== 'none' && battery.value !== 'unknown' && battery.value !== null,
)

const stated = (value: number): Known => ({ value, how: 'stated', error: null, meter: null })

/** The answers as changes of a blank plan; what was not answered stays unknown. */
function answers(): { at: string; value: unknown }[] {
  const found: { at: string; value: unknown }[] = []
  const put = (at: string, value: unknown) => {
    if (value != null) found.push({ at, value })
  }
  // Nothing is said of a battery that is not there or not known.
  if (battery.value)
    found.push({ at: '/device/original/chemistry', value: hasBattery.value ? battery.value : null })
  if (battery.value !== 'none' && plug.value && plug.value !== 'unknown')
    put('/device/connector', plugs.find((p) => p.value === plug.value)?.title.toLowerCase())
  put('/device/original/label_v', labelV.value)
  put('/device/original/series', series.value)
  put('/device/original/capacity_ah', capacityAh.value && stated(capacityAh.value))
  put('/device/original/run_s', oldRunS.value && stated(oldRunS.value))
  put('/device/highest_v', highestV.value && stated(highestV.value))
  put('/device/wanted_run_s', wantedS.value)
  const loads: Load[] = []
  const draws = (id: string, value: number, duration_s: number | null): Load => ({
    id,
    name: id,
    draw: { as: 'current', value_a: stated(value) },
    duration_s,
    every_s: null,
  })
  if (usualA.value) loads.push(draws('usual', usualA.value, null))
  if (startA.value) loads.push(draws('start', startA.value, START_S))
  if (loads.length) put('/device/loads', loads)
  const { length_mm, width_mm, depth_mm } = size.value
  if (length_mm && width_mm && depth_mm)
    put('/device/compartments', [
      {
        id: 'bay',
        name: 'battery bay',
        space: { shape: 'box', length_mm, width_mm, depth_mm },
        obstructions: [],
        openings: [],
      },
    ])
  return found
}

/** So long a figure that was just typed is waited for. */
const READS = 40
const READ_MS = 50
/** A start peak is asked as what it is: well under a second. */
const START_S = 0.4

async function start(to: 'propose' | 'device'): Promise<void> {
  if (nameError.value || starting.value) return
  starting.value = true
  // The last figure may still be on its way to be read.
  for (let i = 0; i < READS && refused.value; i++)
    await new Promise((resolve) => setTimeout(resolve, READ_MS))
  if (refused.value) {
    starting.value = false
    return
  }
  problem.value = null
  const made = await api.newPlan(name.value.trim(), job.value, currency.value)
  if (!made.ok) problem.value = made.problem
  else {
    const { id, revision, edit, plan } = made.value
    const said = answers()
    const told = withChanges(plan, said) as Plan
    const saved = said.length ? await api.save(id, { revision, edit, plan: told }) : made
    if (saved.ok) await router.push({ name: to, params: { id } })
    else {
      problem.value = saved.problem
      await api.remove(id)
    }
  }
  starting.value = false
}
</script>

<template>
  <main class="page new">
    <header>
      <router-link to="/" class="soft">All plans</router-link>
      <h1>New plan in five answers</h1>
      <p class="lead">
        Answer what you know. What stays empty is unknown, and the plan says how to find it out.
      </p>
    </header>
    <form @submit.prevent="start('propose')">
      <section class="answer">
        <h2><span class="n">1</span> What is it?</h2>
        <div class="fields">
          <v-text-field
            v-model="name"
            v-first-field
            label="Name"
            :error-messages="name && nameError ? [nameError] : []"
            hint="The device, as you call it"
            persistent-hint
          />
          <v-select v-model="job" label="Kind of job" :items="jobItems" />
        </div>
        <p v-if="special" class="soft">{{ special }}</p>
      </section>
      <section class="answer">
        <h2><span class="n">2</span> What was its old battery?</h2>
        <PictureTiles v-model="battery" :pictures="batteries" label="What the old battery is" />
        <p v-if="battery === 'unknown'" class="find" data-testid="find-battery">
          Read everything printed on it. No print: count the cells, and read its voltage fresh off its
          charger. Round cells of 1.2 V are nickel, 2 V per cell is lead, 3.6 V or 3.7 V is Li-ion. A device
          without a battery: the maximum voltage on its type plate.
        </p>
        <div class="fields">
          <QuantityField
            v-if="battery !== 'none'"
            v-model="labelV"
            label="Voltage printed on it"
            range="device_volts"
          />
          <QuantityField
            v-if="battery !== 'none'"
            v-model="series"
            label="Cells in series"
            hint="If you can count them"
            range="original_series"
          />
          <QuantityField
            v-model="highestV"
            label="Maximum voltage of the device"
            range="device_volts"
            hint="If its type plate or manual states one"
          />
        </div>
        <template v-if="battery && battery !== 'none'">
          <h3 class="by">How is it connected?</h3>
          <PictureTiles v-model="plug" :pictures="plugs" label="How the old battery is connected" />
        </template>
      </section>
      <section class="answer">
        <h2><span class="n">3</span> What does it draw?</h2>
        <div class="musts" role="radiogroup" aria-label="What is known of its current">
          <label
            ><input v-model="knowsCurrent" type="radio" :value="true" /> I know or can read its current</label
          >
          <label
            ><input v-model="knowsCurrent" type="radio" :value="false" /> I know how long the old battery
            lasted</label
          >
        </div>
        <div v-if="knowsCurrent" class="fields">
          <QuantityField v-model="usualA" label="Usual current" range="current" />
          <QuantityField
            v-model="startA"
            label="Start-up peak, if any"
            range="current"
            hint="A hand meter reads it too low"
          />
        </div>
        <div v-else class="fields">
          <QuantityField v-model="capacityAh" label="Capacity on its label" range="battery_ah" />
          <QuantityField v-model="oldRunS" label="It ran for" range="run_time" />
        </div>
      </section>
      <section class="answer">
        <h2><span class="n">4</span> How long should it run?</h2>
        <div class="fields">
          <QuantityField v-model="wantedS" label="Run time you want" range="run_time" />
        </div>
      </section>
      <section class="answer">
        <h2><span class="n">5</span> How much room is there?</h2>
        <div class="fields three">
          <QuantityField v-model="size.length_mm" label="Length" range="size" />
          <QuantityField v-model="size.width_mm" label="Width" range="size" />
          <QuantityField v-model="size.depth_mm" label="Depth" range="size" />
        </div>
      </section>
      <ProblemList v-if="problem" :problem="problem" />
      <div class="actions">
        <v-btn type="submit" color="primary" variant="flat" :disabled="!!nameError" :loading="starting"
          >Propose whole plans</v-btn
        >
        <v-btn :disabled="!!nameError" @click="start('device')">Stage by stage</v-btn>
      </div>
    </form>
  </main>
</template>

<style scoped src="../ui/list-page.css"></style>

<style scoped>
.new {
  max-width: 880px;
}

.new header {
  display: block;
}

.answer {
  margin-top: 22px;
}

.answer h2 {
  display: flex;
  gap: 10px;
  align-items: baseline;
  margin-bottom: 10px;
}

.n {
  color: var(--copper);
}

.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(240px, 1fr));
  gap: 12px;
  margin-top: 12px;
}

.three {
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
}

.by {
  margin: 14px 0 8px;
  font-size: 15px;
}

.musts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 24px;
}

.musts label {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
}

.find {
  margin-top: 10px;
  padding: 8px 12px;
  border-left: 3px solid var(--petrol);
  background: var(--petrol-tint);
}

.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin: 26px 0 40px;
}
</style>
