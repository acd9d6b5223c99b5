<script setup lang="ts">
// Another name for a plan.
import { computed, ref, watch } from 'vue'
import { vFirstField } from '../ui/firstField'

const open = defineModel<boolean>({ required: true })
/** The name it has. */
const props = defineProps<{ old: string | null }>()
const emit = defineEmits<{ named: [name: string] }>()

const name = ref('')

const nameError = computed(() => {
  const length = name.value.trim().length
  return length >= 1 && length <= 120 ? '' : 'Name: 1 to 120 characters'
})

watch(open, (now) => {
  if (now) name.value = props.old ?? ''
})

function done(): void {
  if (!nameError.value) emit('named', name.value.trim())
}
</script>

<template>
  <v-dialog v-model="open" max-width="420" aria-labelledby="naming-title">
    <v-card class="panel">
      <h2 id="naming-title">Rename the plan</h2>
      <form class="naming" @submit.prevent="done">
        <v-text-field
          v-model="name"
          v-first-field
          label="Name"
          :error-messages="name && nameError ? [nameError] : []"
          hint="The device, as you call it"
          persistent-hint
        />
        <div class="actions">
          <v-btn type="submit" color="primary" variant="flat" :disabled="!!nameError">Rename</v-btn>
          <v-btn variant="text" @click="open = false">Cancel</v-btn>
        </div>
      </form>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.naming {
  display: grid;
  gap: 14px;
  margin-top: 14px;
}

.actions {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
}
</style>
