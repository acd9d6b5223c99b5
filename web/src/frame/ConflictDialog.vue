<script setup lang="ts">
// The plan was saved elsewhere since it was opened: which of the two is the newest now.
import { usePlan } from '../state/plan'

const { conflict, resolve } = usePlan()
</script>

<template>
  <v-dialog :model-value="!!conflict" persistent aria-labelledby="conflict-title">
    <v-card class="panel">
      <h2 id="conflict-title">This plan was saved elsewhere</h2>
      <p class="lead">
        It was stored as revision {{ conflict?.revision }} after you opened it, perhaps in another tab.
        Nothing was overwritten. Both versions stay in the history; the one you choose becomes the newest.
      </p>
      <div class="choices">
        <v-btn @click="resolve(false)">Use the stored one</v-btn>
        <v-btn color="primary" variant="flat" @click="resolve(true)">Save mine on top</v-btn>
      </div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  margin-top: 16px;
}
</style>
