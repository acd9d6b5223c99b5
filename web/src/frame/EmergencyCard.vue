<script setup lang="ts">
// Smoke, heat, swelling: one click from everywhere.
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <v-dialog v-model="open" aria-labelledby="emergency-title">
    <v-card class="card">
      <h2 id="emergency-title">Smoke, heat, swelling: do this now</h2>
      <ol>
        <li><b>People first.</b> Leave the smoke, get others out, close the door. It is poisonous.</li>
        <li><b>Call the fire service</b> and say that it is a lithium battery.</li>
        <li>Only if it is safe: pull the charger's mains plug, not the pack's.</li>
        <li>
          A pack that is warm or swollen but does not smoke: carry it outdoors on a shovel or in a metal
          bucket, 3 m from anything that burns. Do not put it in a pocket, a bag or a car.
        </li>
        <li>
          Much water cools a burning pack. A lid or sand alone does not put it out: the cells bring their own
          oxygen.
        </li>
        <li>
          Watch it for a day: cells light again. Then take it to a battery collection point, never the bin.
        </li>
        <li>Fluid on skin or in eyes: rinse with water for 15 minutes and see a doctor.</li>
      </ol>
      <p class="soft">
        Common practice, no source. What your fire service and local rules say comes first. Work over 60 V DC,
        on the mains, on road vehicles and aircraft belongs to licensed practice.
      </p>
      <v-btn class="after" @click="open = false">Close</v-btn>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.card {
  padding: 20px;
  border-left: 6px solid var(--stop) !important;
}

ol {
  padding-left: 22px;
  margin: 12px 0;
}

li {
  margin-bottom: 7px;
}
</style>
