<script setup lang="ts">
// The parts list: every part once, what is at hand, what must be bought, and what all of it is weighed against.
import { mdiDeleteOutline, mdiPlus, mdiTrayArrowDown } from '@mdi/js'
import { computed } from 'vue'
import { files } from '../api/client'
import type { BillLine, Extra } from '../api/types'
import { money, show } from '../format/show'
import { useAnswer } from '../state/answer'
import { usePlan } from '../state/plan'
import AnswerNote from '../ui/AnswerNote.vue'
import QuantityField from '../ui/QuantityField.vue'

const { id, plan, set } = usePlan()
const { answer: bill, stale, problem } = useAnswer(() => ({ about: 'bill' }))

const currency = computed(() => plan.value?.currency)
const extras = computed<Extra[]>(() => plan.value?.buying?.extras ?? [])

const names: Record<string, string> = { plug: 'plug', cutoff: 'cut-off', lead: 'lead', 'used up': 'used up' }
const place = (line: BillLine) => line.places.map((p) => names[p] ?? p.replaceAll('-', ' ')).join(', ')
const many = (line: BillLine, count: number) =>
  line.counted_in === 'metres' ? `${show(count, 'count')} m` : show(count, 'count')
const price = (value: number | null | undefined) => (value == null ? '–' : money(value, currency.value))

function addExtra(): void {
  set('/buying/extras', [...extras.value, { name: 'polyimide tape', count: 1, price: null, at_hand: null }])
}
</script>

<template>
  <header class="page-head">
    <div>
      <h1>Parts list</h1>
      <p class="lead">Every part once. What you have at hand is not bought. Prices as typed.</p>
    </div>
    <v-btn :prepend-icon="mdiTrayArrowDown" :href="files.bill(id)">Save as CSV</v-btn>
  </header>
  <AnswerNote :stale="stale" :problem="problem" />
  <p v-if="bill && !bill.lines.length" class="soft section">
    No part is chosen yet. Cells, board, fuse and every other part you choose appears here by itself.
  </p>
  <template v-else-if="bill">
    <div class="sideways section" tabindex="0" role="region" aria-label="Parts">
      <table class="values bill">
        <thead>
          <tr>
            <th>Part</th>
            <th>For</th>
            <th class="n">Needed</th>
            <th class="n">At hand</th>
            <th class="n">To buy</th>
            <th class="n">Each</th>
            <th class="n">Price</th>
            <th class="n">Arrives</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in bill.lines" :key="line.name + line.places[0]" :data-part="line.name">
            <td>
              {{ line.name }} <span v-if="line.note" class="soft note">{{ line.note }}</span>
            </td>
            <td class="soft">{{ place(line) }}</td>
            <td class="n">{{ many(line, line.count) }}</td>
            <td class="n">{{ line.at_hand ? many(line, line.at_hand) : '–' }}</td>
            <td class="n" :class="{ buy: line.to_buy }">{{ line.to_buy ? many(line, line.to_buy) : '–' }}</td>
            <td class="n">{{ price(line.each_price) }}</td>
            <td class="n">{{ line.to_buy ? price(line.to_buy_price) : '–' }}</td>
            <td class="n">
              {{ !line.to_buy || line.arrives_days == null ? '–' : show(line.arrives_days, 'days') }}
            </td>
          </tr>
        </tbody>
        <tfoot>
          <tr data-testid="bill-total">
            <th colspan="4">{{ bill.to_buy_lines }} of {{ bill.lines.length }} to buy</th>
            <td class="n" colspan="2">of {{ price(bill.price) }} in all</td>
            <td class="n">
              <b>{{ price(bill.to_buy_price) }}</b>
            </td>
            <td class="n">{{ bill.arrives_days == null ? '–' : show(bill.arrives_days, 'days') }}</td>
          </tr>
        </tfoot>
      </table>
    </div>
    <p v-if="bill.unpriced" class="soft">
      Without a price, so not in the sum: {{ bill.unpriced }}. Still undecided:
      {{ bill.open.length ? bill.open.map((p) => names[p] ?? p).join(', ') : 'nothing' }}.
    </p>
  </template>
  <section class="section">
    <h2>Against buying new</h2>
    <div class="fields">
      <QuantityField
        label="A new pack or device costs"
        range="price"
        data-at="/buying/replacement_price"
        :model-value="plan?.buying?.replacement_price ?? null"
        @update:model-value="set('/buying/replacement_price', $event)"
      />
    </div>
    <p v-if="bill?.saved_price != null" class="after" data-testid="saved-price">
      <template v-if="bill.saved_price >= 0">
        The conversion costs <b>{{ price(bill.saved_price) }} less</b>, your hours not counted.
      </template>
      <template v-else>
        The conversion costs <b>{{ price(-bill.saved_price) }} more</b>, your hours not counted.
      </template>
    </p>
  </section>
  <section class="section" data-testid="extras">
    <h2>Consumables</h2>
    <p class="lead">Tape, sleeving, insulating paper, screws, solder: what always runs out.</p>
    <div v-for="(extra, i) in extras" :key="i" class="extra" :data-extra="i">
      <v-text-field
        label="What"
        :model-value="extra.name"
        maxlength="120"
        @update:model-value="$event.trim() && set(`/buying/extras/${i}/name`, $event)"
      />
      <QuantityField
        label="How many"
        range="extra_count"
        required
        :model-value="extra.count"
        @update:model-value="$event != null && set(`/buying/extras/${i}/count`, $event)"
      />
      <QuantityField
        label="Price of one"
        range="price"
        :model-value="extra.price ?? null"
        @update:model-value="set(`/buying/extras/${i}/price`, $event)"
      />
      <v-checkbox
        label="at hand"
        density="compact"
        hide-details
        :model-value="!!extra.at_hand"
        @update:model-value="set(`/buying/extras/${i}/at_hand`, $event)"
      />
      <v-btn
        :icon="mdiDeleteOutline"
        variant="text"
        size="small"
        :aria-label="`Remove ${extra.name}`"
        @click="
          set(
            '/buying/extras',
            extras.filter((_, k) => k !== i),
          )
        "
      />
    </div>
    <v-btn class="after" size="small" :prepend-icon="mdiPlus" @click="addExtra">Add a consumable</v-btn>
  </section>
</template>

<style scoped>
.bill {
  width: 100%;
}

.bill td:first-child {
  min-width: 150px;
}

.note {
  display: block;
}

.buy {
  font-weight: 700;
}

.bill tfoot th,
.bill tfoot td {
  border-top: 2px solid var(--line-strong);
  padding-top: 8px;
}

.extra {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(90px, 1fr) minmax(90px, 1fr) 110px 40px;
  gap: 8px;
  padding: 6px 0;
  align-items: start;
}

@media (max-width: 700px) {
  .extra {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
