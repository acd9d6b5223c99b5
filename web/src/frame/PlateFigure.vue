<script setup lang="ts">
// One figure of the type plate: opens its working, and shows old and new for a moment after an edit.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { show } from '../format/show'
import { usePlan } from '../state/plan'
import { openWorking } from '../state/working'

const props = defineProps<{
  id: string
  /** What stands there while the figure is not known. */
  none: string
  small?: boolean
  write?: (value: number) => string
}>()

/** How long old and new stand side by side. */
const MOMENT_MS = 4000

const { figure, before } = usePlan()
const found = computed(() => figure(props.id))
const written = (value: number) =>
  props.write ? props.write(value) : show(value, found.value?.unit ?? 'ratio')

const was = ref('')
let timer = 0
watch(before, (values) => {
  const [old, now] = [values.get(props.id), found.value]
  clearTimeout(timer)
  was.value = old !== undefined && now && written(old) !== written(now.value) ? written(old) : ''
  if (was.value) timer = window.setTimeout(() => (was.value = ''), MOMENT_MS)
})
onBeforeUnmount(() => clearTimeout(timer))
</script>

<template>
  <button
    v-if="found"
    type="button"
    class="figure"
    :class="{ small, fresh: was }"
    :data-plate="id"
    :aria-label="`${found.label}: ${written(found.value)}, show the calculation`"
    @click="openWorking(id)"
  >
    <span v-if="was" class="was">{{ was }} →</span> {{ written(found.value) }}
  </button>
  <span v-else class="figure none" :class="{ small }">{{ none }}</span>
</template>

<style scoped>
.figure {
  font: inherit;
  font-size: 19px;
  font-weight: 700;
  line-height: 1.3;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 0;
  text-align: left;
}

.small {
  font-size: 13px;
  font-weight: 400;
  color: var(--soft);
}

.none {
  color: var(--soft);
}

button {
  cursor: pointer;
}

button:hover {
  text-decoration: underline dotted;
}

.fresh {
  color: var(--copper-text);
}

.was {
  font-size: 13px;
  font-weight: 400;
}
</style>
