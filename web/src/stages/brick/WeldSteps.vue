<script setup lang="ts">
// Step by step: what is welded next, which face lies bare, which are covered.
import { computed } from 'vue'
import type { WeldStep } from '../../api/types'

const props = defineProps<{ steps: WeldStep[] }>()
const at = defineModel<number>({ required: true })

const step = computed(() => props.steps[at.value])
const last = computed(() => props.steps.length - 1)
</script>

<template>
  <section v-if="step" class="steps" aria-live="polite" data-testid="weld-step">
    <p class="count">
      Step {{ at + 1 }} of {{ steps.length }}
      <span class="soft">copper = now · everything pale stays covered</span>
    </p>
    <p class="what">{{ step.what }}</p>
    <p>
      <v-btn :disabled="at === 0" @click="at--">Back</v-btn>
      <v-btn class="next" color="primary" variant="flat" :disabled="at === last" @click="at++"
        >Done, next</v-btn
      >
    </p>
  </section>
</template>

<style scoped>
.steps {
  padding: 12px 14px;
  border-left: 5px solid var(--copper);
  background: var(--copper-tint);
}

.count {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
}

.what {
  margin: 6px 0 12px;
  font-size: 19px;
  font-weight: 600;
  min-height: 54px;
}

.next {
  margin-left: 10px;
}
</style>
