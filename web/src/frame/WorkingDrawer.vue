<script setup lang="ts">
// The working of any figure: formula, what was put in, where it comes from; from there to the inputs.
import { computed } from 'vue'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import { openWorking, workingOf } from '../state/working'

const { figure } = usePlan()
const { formula, source } = useReference()

const found = computed(() => figure(workingOf.value))
const open = computed({
  get: () => !!found.value,
  set: (now) => {
    if (!now) workingOf.value = ''
  },
})
const inputs = computed(() =>
  (found.value?.working.inputs ?? []).map((input) => {
    if (input.from === 'figure') {
      const f = figure(input.id)
      return {
        label: f?.label ?? input.id,
        value: f ? show(f.value, f.unit) : 'unknown',
        opens: input.id,
        from: '',
      }
    }
    const from = input.from === 'plan' ? 'typed into the plan' : source(input.source)
    return { label: input.label, value: show(input.value, input.unit), opens: '', from }
  }),
)
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="working-title">
    <v-card v-if="found" class="card" data-testid="working">
      <p class="soft">Working</p>
      <h2 id="working-title">{{ found.label }}: {{ show(found.value, found.unit) }}</h2>
      <p v-if="found.low != null && found.high != null" class="soft">
        from {{ show(found.low, found.unit) }} to {{ show(found.high, found.unit) }}
      </p>
      <p v-if="found.assumed" class="assumed">Rests on something assumed: a measurement would settle it.</p>
      <p class="formula mono">{{ formula(found.working.formula) }}</p>
      <table v-if="inputs.length">
        <caption class="visually-hidden">
          What was put in
        </caption>
        <tbody>
          <tr v-for="(input, i) in inputs" :key="i">
            <th scope="row">
              <button v-if="input.opens" type="button" class="textlink" @click="openWorking(input.opens)">
                {{ input.label }}
              </button>
              <template v-else>{{ input.label }}</template>
              <span v-if="input.from" class="soft">{{ input.from }}</span>
            </th>
            <td>{{ input.value }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft source">Source: {{ source(found.working.source) }}</p>
      <v-btn @click="open = false">Close</v-btn>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card {
  padding: 20px;
}

.formula {
  margin: 12px 0;
  padding: 8px 10px;
  background: var(--paper);
  border-left: 3px solid var(--petrol);
  font-size: 14px;
}

.assumed {
  color: var(--copper-text);
  font-size: 14px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  border-bottom: 1px solid var(--line);
  padding: 5px 0;
  text-align: left;
  font-weight: 400;
  vertical-align: top;
}

th .soft {
  display: block;
}

td {
  text-align: right;
  font-weight: 700;
  white-space: nowrap;
}

.source {
  margin: 12px 0;
}
</style>
