<script setup lang="ts">
// Two whole plans link by link: where they differ stands out.
import { computed } from 'vue'
import type { Proposal } from '../api/types'
import { money, show } from '../format/show'
import { linksOf } from './links'

const props = defineProps<{ pair: Proposal[]; currency: string | undefined }>()

const rows = computed(() => {
  const links = props.pair.map((p) => linksOf(p.plan))
  const places = [...new Set(links.flat().map((l) => l.place))]
  const part = (i: number, place: string) =>
    links[i]!.filter((l) => l.place === place)
      .map((l) => l.part)
      .join(', ') || 'none'
  const of = (write: (p: Proposal) => string) => props.pair.map(write)
  return [
    ...places.map((place) => ({ label: place, values: props.pair.map((_, i) => part(i, place)) })),
    { label: 'runs', values: of((p) => (p.merits.run_s == null ? 'not known' : show(p.merits.run_s, 's'))) },
    {
      label: 'weighs',
      values: of((p) => (p.merits.mass_g == null ? 'not known' : show(p.merits.mass_g, 'g'))),
    },
    {
      label: 'costs',
      values: of((p) => (p.merits.price == null ? 'price not known' : money(p.merits.price, props.currency))),
    },
    { label: 'lines to buy', values: of((p) => String(p.merits.to_buy)) },
    { label: 'cautions', values: of((p) => p.cautions.map((c) => c.text).join('; ') || 'none') },
  ]
})
</script>

<template>
  <section class="section" data-testid="compare-proposals">
    <h2>Side by side</h2>
    <table>
      <thead>
        <tr>
          <th scope="col"><span class="visually-hidden">Link</span></th>
          <th v-for="p in pair" :key="p.title" scope="col">{{ p.title }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.label" :class="{ same: row.values[0] === row.values[1] }">
          <th scope="row">{{ row.label }}</th>
          <td v-for="(value, i) in row.values" :key="i">{{ value }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}

th,
td {
  padding: 5px 8px;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
  overflow-wrap: anywhere;
}

th:first-child {
  width: 100px;
  font-weight: 400;
  color: var(--soft);
}

tr:not(.same) td {
  font-weight: 600;
}
</style>
