<script setup lang="ts">
// Proving the device before anything is bought: a current-limited supply in the old pack's place, one step after another.
import type { Known } from '../../api/types'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import AnswerNote from '../../ui/AnswerNote.vue'
import KnownField from '../../ui/KnownField.vue'
import PhraseText from '../../ui/PhraseText.vue'
import QuantityField from '../../ui/QuantityField.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import { yesno } from './deviceFields'

const open = defineModel<boolean>({ required: true })

const { plan, set, edit, at } = usePlan()
const { answer: procedure, stale, problem } = useAnswer(() => (open.value ? { about: 'proving' } : null))

const place = (field: string) => `/device/proving/${field}`
const currents = ['idle_a', 'draw_a']
const volts = ['stops_at_v', 'ran_at_v']

const reading = (field: string) => at(place(field)) as Known | null | undefined

/** A reading at the bench is measured unless something else is said. */
function put(field: string, value: Known | null | undefined): void {
  const fresh = value && !reading(field)
  set(place(field), fresh ? { ...value, how: 'measured' } : (value ?? null))
}

function take(): void {
  edit(procedure.value?.changes ?? [])
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="720" scrollable aria-labelledby="proving-title">
    <v-card class="panel">
      <h2 id="proving-title">Test the device before you buy</h2>
      <p class="lead">
        A bench supply with a current limit replaces the old pack. Never leave it alone while it runs; over 60
        V DC and on the mains this is work for licensed practice.
      </p>
      <AnswerNote :stale="stale" :problem="problem" />
      <p v-if="procedure?.missing" class="after">{{ procedure.missing }}</p>
      <ol v-else-if="procedure" class="steps">
        <li
          v-for="step in procedure.steps"
          :key="step.field"
          :class="{ shut: !step.open }"
          :data-step="step.field"
        >
          <VerdictMark :verdict="step.verdict" />
          <div>
            <h3>{{ step.title }}</h3>
            <p><PhraseText :phrase="step.act" plain /></p>
            <div v-if="step.open" class="field">
              <QuantityField
                v-if="step.field === 'limit_a'"
                label="Current limit"
                range="current"
                :model-value="plan?.device.proving?.limit_a"
                @update:model-value="set(place('limit_a'), $event ?? null)"
              />
              <v-select
                v-else-if="step.field === 'lives'"
                label="It works"
                :items="yesno"
                :model-value="plan?.device.proving?.lives ?? null"
                @update:model-value="set(place('lives'), $event)"
              />
              <KnownField
                v-else-if="currents.includes(step.field)"
                label="Reading"
                range="bench_current"
                :model-value="reading(step.field)"
                @update:model-value="put(step.field, $event)"
              />
              <KnownField
                v-else-if="volts.includes(step.field)"
                label="Reading"
                range="device_volts"
                :model-value="reading(step.field)"
                @update:model-value="put(step.field, $event)"
              />
            </div>
            <p v-if="step.said" class="said" :class="step.verdict">
              <PhraseText :phrase="step.said" plain />
            </p>
          </div>
        </li>
      </ol>
      <div class="buttons">
        <v-btn color="primary" variant="flat" :disabled="!procedure?.changes.length" @click="take">
          Use what was measured
        </v-btn>
        <v-btn variant="text" @click="open = false">Close</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.steps {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
  overflow-y: auto;
}

li {
  display: flex;
  gap: 12px;
  padding: 10px 0;
  border-top: 1px solid var(--line-strong);
}

li > div {
  flex: 1;
  min-width: 0;
}

.shut p {
  color: var(--soft);
}

.field {
  max-width: 340px;
  margin-top: 8px;
}

.said {
  margin-top: 6px;
  font-weight: 600;
}

.said.stop {
  color: var(--stop);
}

.said.caution {
  color: var(--caution);
}

.said.fine {
  color: var(--fine);
}

.buttons {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 14px;
}
</style>
