<script setup lang="ts">
// On paper only: the label alone, or one page for whoever has the pack next.
import type { HandOnSheet } from '../api/types'

defineProps<{ sheet: HandOnSheet; labelOnly: boolean }>()
</script>

<template>
  <section class="paper" aria-hidden="true">
    <!-- eslint-disable-next-line vue/no-v-html -- drawn by core, its words escaped there -->
    <div class="label" v-html="sheet.label" />
    <template v-if="!labelOnly">
      <h1>Pack {{ sheet.number }}: {{ sheet.name }}</h1>
      <section v-for="part in sheet.parts" :key="part.title">
        <h2>{{ part.title }}</h2>
        <ul>
          <li v-for="(line, i) in part.lines" :key="i">{{ line }}</li>
        </ul>
      </section>
    </template>
  </section>
</template>

<style scoped>
.paper {
  display: none;
}

@media print {
  .paper {
    display: block;
    color: #000;
    font-size: 10pt;
  }

  .label {
    float: right;
    margin: 0 0 4mm 6mm;
  }

  h1 {
    font-size: 16pt;
  }

  h2 {
    margin-top: 3mm;
    font-size: 11.5pt;
  }

  ul {
    margin: 1mm 0 0;
    padding-left: 5mm;
  }
}
</style>
