<script setup lang="ts">
// What a grouping comes to, and what its unevenness is made of.
import type { Grouping } from '../api/types'
import { plain, show } from '../format/show'
import PhraseText from '../ui/PhraseText.vue'

defineProps<{ grouping: Grouping }>()
</script>

<template>
  <section class="numbers">
    <div>
      <h3>Result</h3>
      <p data-testid="limits"><PhraseText :phrase="grouping.limits" plain /></p>
      <dl>
        <div>
          <dt>Weakest group</dt>
          <dd>{{ show(grouping.weakest_ah, 'ah') }}</dd>
        </div>
        <div>
          <dt>Spread</dt>
          <dd>
            {{ plain(grouping.spread_ah * 1000, 1) }} mAh, {{ plain(grouping.spread_share * 100, 2) }} %
          </dd>
        </div>
        <div>
          <dt>Charge not used</dt>
          <dd>{{ plain(grouping.unused_share * 100, 2) }} %</dd>
        </div>
        <div>
          <dt>A random deal (median of 200)</dt>
          <dd>
            {{ show(grouping.deal.weakest_ah, 'ah') }}, {{ plain(grouping.deal.spread_ah * 1000, 0) }} mAh
            apart
          </dd>
        </div>
        <div>
          <dt>Gain over it</dt>
          <dd>{{ plain(grouping.deal.gain_share * 100, 1) }} %</dd>
        </div>
      </dl>
    </div>
    <div>
      <h3>Unevenness, by its weights</h3>
      <table>
        <thead>
          <tr>
            <th scope="col">Term</th>
            <th scope="col">value</th>
            <th scope="col">weight</th>
            <th scope="col">counts</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in grouping.terms" :key="t.name">
            <th scope="row">{{ t.name }}</th>
            <td>{{ show(t.value, t.unit) }}</td>
            <td>{{ plain(t.weight_share, 3) }}</td>
            <td>{{ plain(t.counts_share * 100, 3) }} %</td>
          </tr>
          <tr>
            <th scope="row">sum</th>
            <td />
            <td />
            <td>
              <b>{{ plain(grouping.unevenness_share * 100, 3) }} %</b>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.numbers {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 28px;
}

dl {
  margin: 6px 0 0;
}

dl > div {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}

dt {
  color: var(--soft);
  font-size: 14px;
}

dd {
  margin: 0;
  font-weight: 700;
  text-align: right;
}

table {
  width: 100%;
  border-collapse: collapse;
  font-size: 14px;
}

th,
td {
  padding: 5px 0 5px 10px;
  border-bottom: 1px solid var(--line);
  text-align: right;
  font-weight: 400;
}

th:first-child {
  text-align: left;
  padding-left: 0;
}
</style>
