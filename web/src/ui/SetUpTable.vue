<script setup lang="ts">
// The steps of setting something up on the bench: what to do, and what the meters then show.
import type { SetUpStep } from '../api/types'
import PhraseText from './PhraseText.vue'

defineProps<{ steps: SetUpStep[] }>()
</script>

<template>
  <table>
    <thead>
      <tr>
        <th scope="col">Do</th>
        <th scope="col">Then it shows</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(step, i) in steps" :key="i">
        <td>{{ i + 1 }}. <PhraseText :phrase="step.act" plain /></td>
        <td><PhraseText :phrase="step.reads" plain /></td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  margin-top: 6px;
  border-collapse: collapse;
}

th,
td {
  width: 50%;
  padding: 6px 12px 6px 0;
  border-bottom: 1px solid var(--line);
  text-align: left;
  vertical-align: top;
}
</style>
