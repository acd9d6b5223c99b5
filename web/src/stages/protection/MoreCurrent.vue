<script setup lang="ts">
// What it would take to draw more for good: every link that bears less, the cheapest change first.
import { ref, shallowRef, watch } from 'vue'
import type { Change, Problem, Raise } from '../../api/types'
import { money, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { ask } from '../../state/questions'
import PhraseText from '../../ui/PhraseText.vue'
import ProblemList from '../../ui/ProblemList.vue'
import QuantityField from '../../ui/QuantityField.vue'
import VerdictMark from '../../ui/VerdictMark.vue'

const { plan, edit } = usePlan()
const wanted = ref<number | null>(null)
const raise = shallowRef<Raise | null>(null)
const problem = ref<Problem | null>(null)
const busy = ref(false)

watch(wanted, () => (raise.value = null))
/** An answer holds for the plan it was given for. */
watch(plan, () => (raise.value = null))

async function look(): Promise<void> {
  if (!plan.value || wanted.value === null) return
  const asked = plan.value
  busy.value = true
  const answer = await ask(asked, { about: 'raise', wanted_a: wanted.value })
  busy.value = false
  if (plan.value !== asked) return
  raise.value = answer.ok ? answer.value : null
  problem.value = answer.ok ? null : answer.problem
}

/** After a change the rest is asked anew. */
function change(changes: Change[]): void {
  edit(changes)
  void look()
}

const cost = (price: number | null | undefined) =>
  price == null ? 'no price' : money(price, plan.value?.currency)
</script>

<template>
  <section class="section" data-testid="more-current">
    <h2>What would more current take?</h2>
    <div class="ask">
      <QuantityField v-model="wanted" label="Continuous current wanted" range="current" />
      <v-btn :disabled="wanted === null" :loading="busy" @click="look">Find out</v-btn>
    </div>
    <ProblemList v-if="problem" :problem="problem" />
    <template v-if="raise">
      <p v-if="!raise.steps.length" class="after">
        Nothing: every link with a stated limit is rated for it already.
      </p>
      <template v-else>
        <div class="sideways" tabindex="0" role="region" aria-label="Parts to change">
          <table class="values">
            <thead>
              <tr>
                <th>Link</th>
                <th class="n">rated for</th>
                <th>Change</th>
                <th class="n">then</th>
                <th class="n">Price</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in raise.steps" :key="s.link" :data-link="s.link">
                <td>
                  <b>{{ s.label }}</b> <span class="soft">{{ s.detail }}</span>
                </td>
                <td class="n">{{ s.now_a == null ? 'not stated' : show(s.now_a, 'a') }}</td>
                <td>{{ s.change ?? 'nothing in the catalogue does it' }}</td>
                <td class="n">{{ s.then_a == null ? '' : show(s.then_a, 'a') }}</td>
                <td class="n">{{ s.change ? cost(s.price) : '' }}</td>
                <td>
                  <v-btn
                    v-if="s.changes.length"
                    size="small"
                    :aria-label="`Change ${s.label}: ${s.change}`"
                    @click="change(s.changes)"
                    >Change</v-btn
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="after">
          Together {{ cost(raise.price)
          }}<template v-if="!raise.price_complete"> plus parts without a price</template
          ><template v-if="raise.then_a != null">, then {{ show(raise.then_a, 'a') }} continuous</template>.
          <v-btn size="small" class="all" @click="change(raise.steps.flatMap((s) => s.changes))"
            >Change all</v-btn
          >
        </p>
        <template v-if="raise.brings.length">
          <p class="soft">Side effects:</p>
          <ul class="rows">
            <li v-for="(b, i) in raise.brings" :key="i">
              <VerdictMark :verdict="b.severity" /> <PhraseText :phrase="b.title" plain />
            </li>
          </ul>
        </template>
      </template>
    </template>
  </section>
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: minmax(0, 230px) auto;
  gap: 12px;
  align-items: start;
  justify-content: start;
  margin-top: 8px;
}

.all {
  margin-left: 8px;
}
</style>
