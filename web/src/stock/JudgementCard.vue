<script setup lang="ts">
// One thing core says of a cell or a lot; its working unfolds.
import type { Judgement } from '../api/types'
import { show } from '../format/show'
import { useReference } from '../state/reference'
import PhraseText from '../ui/PhraseText.vue'
import VerdictMark from '../ui/VerdictMark.vue'

defineProps<{ judgement: Judgement }>()

const { source } = useReference()
</script>

<template>
  <article class="judgement" :class="judgement.severity">
    <h3><VerdictMark :verdict="judgement.severity" /> {{ judgement.title }}</h3>
    <p><PhraseText :phrase="judgement.why" plain /></p>
    <details>
      <summary class="soft">Show the calculation</summary>
      <p v-if="judgement.formula" class="formula">{{ judgement.formula }}</p>
      <table v-if="judgement.inputs.length">
        <tbody>
          <tr v-for="i in judgement.inputs" :key="i.name">
            <th scope="row">{{ i.name }}</th>
            <td>{{ show(i.value, i.unit) }}</td>
          </tr>
        </tbody>
      </table>
      <p class="soft">{{ source(judgement.source) }}</p>
    </details>
  </article>
</template>

<style scoped>
.judgement {
  padding: 10px 12px;
  border: 1px solid var(--line-strong);
  border-left-width: 5px;
  border-radius: 4px;
  background: var(--sheet);
  font-size: 14px;
}

.judgement + .judgement {
  margin-top: 8px;
}

.stop {
  border-color: var(--stop);
  background: var(--stop-tint);
}

.caution {
  border-color: var(--caution);
  background: var(--caution-tint);
}

.note {
  border-left-color: var(--note);
}

h3 {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 3px;
}

summary {
  cursor: pointer;
  margin-top: 4px;
}

.stop .soft,
.caution .soft {
  color: var(--ink);
}

.formula {
  margin: 4px 0;
}

th {
  padding-right: 14px;
  font-weight: 400;
  text-align: left;
}

td {
  text-align: right;
}
</style>
