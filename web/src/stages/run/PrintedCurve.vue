<script setup lang="ts">
// The discharge curve that a cell's data sheet prints: charge and volts as pasted, and the current it was taken at.
import { ref } from 'vue'
import type { ToldDischarge } from '../../api/types'
import QuantityField from '../../ui/QuantityField.vue'
import { useRefusals } from '../../ui/refusals'

const open = defineModel<boolean>({ required: true })
const emit = defineEmits<{ told: [discharge: ToldDischarge] }>()

const refused = useRefusals()
const current_a = ref<number | null>(null)
const text = ref('')

function take(): void {
  emit('told', { text: text.value, current_a: current_a.value })
  open.value = false
}
</script>

<template>
  <v-dialog v-model="open" max-width="560" aria-labelledby="printed-title">
    <v-card class="panel">
      <h2 id="printed-title">The curve in its data sheet</h2>
      <p class="lead">
        Read ten points or more off the printed curve, from full to empty; more where it bends. Use the
        slowest printed curve.
      </p>
      <form @submit.prevent="take">
        <QuantityField v-model="current_a" label="Current of that curve" range="current" />
        <v-textarea
          v-model="text"
          label="Charge and voltage, one point per line"
          placeholder="capacity_mah,voltage_v&#10;0,4.12&#10;250,3.98"
          persistent-placeholder
          rows="8"
          class="mono"
        />
        <div class="buttons">
          <v-btn
            type="submit"
            color="primary"
            variant="flat"
            :disabled="refused || !current_a || !text.trim()"
          >
            Use this curve
          </v-btn>
          <v-btn variant="text" @click="open = false">Close</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
form {
  display: grid;
  gap: 14px;
  margin-top: 14px;
}

.buttons {
  display: flex;
  gap: 10px;
}
</style>
