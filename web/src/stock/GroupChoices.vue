<script setup lang="ts">
// What seldom changes from grouping to grouping: weights, which cells may be chosen, and what was left out by hand.
import QuantityField from '../ui/QuantityField.vue'
import type { GroupForm } from './groupForm'

const form = defineModel<GroupForm>('form', { required: true })
/** Labels of the cells left out, by id. */
defineProps<{ excluded: Record<string, string> }>()
const emit = defineEmits<{ takeIn: [cell: string] }>()
</script>

<template>
  <details>
    <summary>Weights, lots, and locked cells</summary>
    <div class="fields after">
      <QuantityField v-model="form.capacity" label="Capacity between groups" range="weight" required />
      <QuantityField v-model="form.resistance" label="Resistance inside groups" range="weight" required />
      <QuantityField v-model="form.selfDischarge" label="Self-discharge between" range="weight" required />
    </div>
    <label class="check"
      ><input v-model="form.mixLots" type="checkbox" /> Lots may be mixed in one pack</label
    >
    <label class="check">
      <input v-model="form.withWatched" type="checkbox" /> Allow cells marked “watch”
    </label>
    <p v-if="Object.keys(excluded).length" class="soft">
      Left out by hand:
      <button
        v-for="(label, id) in excluded"
        :key="id"
        type="button"
        class="textlink chip"
        :title="`Include ${label} again`"
        @click="emit('takeIn', id)"
      >
        {{ label }}
      </button>
    </p>
  </details>
</template>

<style scoped>
summary {
  cursor: pointer;
}

.check {
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 5px 0;
}

.check input {
  width: 18px;
  height: 18px;
  accent-color: var(--petrol);
}

.chip {
  margin-right: 8px;
}
</style>
