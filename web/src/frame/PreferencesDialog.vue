<script setup lang="ts">
// How this person reads and writes figures; kept in this browser.
import { currencies, currency, decimalMark, theme, wireSizes } from '../state/preferences'

const open = defineModel<boolean>({ required: true })

const themes = [
  { value: 'light', title: 'light, for a bright shop' },
  { value: 'dark', title: 'dark, for a dim one' },
]
const marks = [
  { value: '.', title: 'point: 14.4 V' },
  { value: ',', title: 'comma: 14,4 V' },
]
const sizes = [
  { value: 'awg', title: 'AWG' },
  { value: 'metric', title: 'mm²' },
]
</script>

<template>
  <v-dialog v-model="open" max-width="440" aria-labelledby="preferences-title">
    <v-card class="panel">
      <h2 id="preferences-title">Preferences</h2>
      <p class="lead">For this browser. You may type either decimal mark and either wire size.</p>
      <div class="fields">
        <v-select v-model="theme" label="Light or dark" :items="themes" />
        <v-select v-model="decimalMark" label="Decimal mark" :items="marks" />
        <v-select v-model="wireSizes" label="Wire sizes" :items="sizes" />
        <v-select v-model="currency" label="Currency of new plans" :items="[...currencies]" />
      </div>
      <div><v-btn @click="open = false">Close</v-btn></div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.fields {
  grid-template-columns: 1fr;
  margin: 16px 0;
}
</style>
