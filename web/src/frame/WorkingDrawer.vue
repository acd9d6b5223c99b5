<script setup lang="ts">
// The working of any figure: formula, what was put in, where it comes from; from there to the inputs.
import { mdiArrowLeft, mdiClose } from '@mdi/js'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Figure } from '../api/types'
import { money, show } from '../format/show'
import { goTo } from '../state/place'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import { useWorking } from '../state/working'

const router = useRouter()
const { plan } = usePlan()
const { formula, source, terms } = useReference()
const { shown, isTrial, canGoBack, found, follow, back, close } = useWorking()
const drawer = ref<HTMLElement>()
let opener: HTMLElement | null = null

watch(shown, async (now, was) => {
  if (now && !was) {
    opener = document.activeElement as HTMLElement | null
    await nextTick()
    drawer.value?.focus()
  } else if (!now && was && opener?.isConnected) opener.focus()
})

const written = (value: number, unit: Figure['unit']) =>
  unit === 'money' ? money(value, plan.value?.currency) : show(value, unit)

const inputs = computed(() =>
  (shown.value?.working.inputs ?? []).map((input) => {
    if (input.from === 'figure') {
      const f = found(input.id)
      return {
        label: f?.label ?? input.id,
        value: f ? written(f.value, f.unit) : 'not known',
        opens: input.id,
      }
    }
    const value = written(input.value, input.unit)
    if (input.from === 'constant') return { label: input.label, value, from: source(input.source) }
    const times = input.times == null ? '' : `${show(input.times, 'ratio')} × `
    return { label: input.label, value: times + value, from: input.about ?? '', leads: input.pointer }
  }),
)

/** The terms that this figure belongs to. */
const explained = computed(() => {
  const id = shown.value?.id.split('@')[0]
  return terms().filter((t) => id && t.figures.includes(id))
})

async function lead(pointer: string): Promise<void> {
  opener = null
  close()
  if (plan.value) await goTo(router, plan.value, pointer)
}
</script>

<template>
  <aside
    v-if="shown"
    ref="drawer"
    class="drawer"
    role="dialog"
    aria-labelledby="working-title"
    tabindex="-1"
    data-testid="working"
    @keydown.esc="close"
  >
    <header>
      <v-btn
        v-if="canGoBack"
        :icon="mdiArrowLeft"
        variant="text"
        size="small"
        aria-label="Back"
        @click="back"
      />
      <span class="soft">{{ isTrial ? 'Calculation, if this were chosen' : 'Calculation' }}</span>
      <v-btn :icon="mdiClose" variant="text" size="small" aria-label="Close the calculation" @click="close" />
    </header>
    <h2 id="working-title">{{ shown.label }}</h2>
    <p class="result">{{ written(shown.value, shown.unit) }}</p>
    <p v-if="shown.low != null && shown.high != null" class="soft">
      from {{ written(shown.low, shown.unit) }} to {{ written(shown.high, shown.unit) }}
    </p>
    <p v-if="shown.assumed" class="assumed">Based on an assumption: a measurement would settle it.</p>
    <p class="formula">{{ formula(shown.working.formula) }}</p>
    <table v-if="inputs.length">
      <caption class="visually-hidden">
        Inputs
      </caption>
      <tbody>
        <tr v-for="(input, i) in inputs" :key="i">
          <th scope="row">
            <button v-if="input.opens" type="button" class="textlink" @click="follow(input.opens)">
              {{ input.label }}
            </button>
            <button v-else-if="input.leads" type="button" class="textlink" @click="lead(input.leads)">
              {{ input.label }}, where it is typed
            </button>
            <template v-else>{{ input.label }}</template>
            <span v-if="input.from" class="soft">{{ input.from }}</span>
          </th>
          <td>{{ input.value }}</td>
        </tr>
      </tbody>
    </table>
    <p class="source"><span class="soft">Source</span> {{ source(shown.working.source) }}</p>
    <p v-for="t in explained" :key="t.term" class="term">
      <router-link :to="{ name: 'glossary', query: { term: t.term } }" @click="close">{{
        t.term
      }}</router-link>
      {{ t.says }}
    </p>
    <p class="term">
      <router-link :to="{ name: 'glossary' }" @click="close">Glossary</router-link>
    </p>
  </aside>
</template>

<style scoped>
.drawer {
  position: fixed;
  inset: 0 0 0 auto;
  z-index: 1500;
  width: min(380px, 100vw);
  overflow-y: auto;
  padding: 10px 18px 24px;
  background: var(--sheet);
  border-left: 5px solid var(--petrol);
  outline: none;
}

header {
  display: flex;
  align-items: center;
  min-height: 40px;
  gap: 4px;
}

header .soft {
  flex: 1;
}

.result {
  font-size: 26px;
  font-weight: 700;
  line-height: 1.3;
}

.term {
  margin-top: 10px;
}

.formula {
  margin: 12px 0;
  padding: 8px 10px;
  background: var(--paper);
  border-left: 3px solid var(--petrol);
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
  padding: 6px 0;
  text-align: left;
  font-weight: 400;
  vertical-align: top;
}

th .soft {
  display: block;
}

th button {
  text-align: left;
}

td {
  text-align: right;
  font-weight: 700;
  white-space: nowrap;
  padding-left: 10px;
}

.source {
  margin-top: 14px;
  font-size: 14px;
}

.source .soft {
  display: block;
}
</style>
