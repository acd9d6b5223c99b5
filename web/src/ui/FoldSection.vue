<script setup lang="ts">
// A section of a long page: its head folds it, and folded it says in one line what is in it.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { enlist, folded, strike } from '../state/folds'
import { useTurn } from '../state/inTurn'

const props = defineProps<{
  name: string
  title: string
  /** What is in it, in one line. */
  summary: string
  /** Folded until somebody opens it. */
  away?: boolean
}>()

const root = ref<HTMLDetailsElement>()
const open = computed(() => !(folded.get(props.name) ?? props.away))

/** Whether its content is made: the head of a page does not wait for it. */
const filled = useTurn()

onMounted(() => {
  if (root.value) enlist({ name: props.name, title: props.title, root: root.value })
})
onBeforeUnmount(() => strike(props.name))
</script>

<template>
  <details
    ref="root"
    class="section fold"
    :open="open"
    :data-section="name"
    @toggle="root && folded.set(name, !root.open)"
  >
    <summary>
      <h2>{{ title }}</h2>
      <span v-if="!open" class="soft">{{ summary }}</span>
    </summary>
    <slot v-if="filled" />
  </details>
</template>

<style scoped>
summary {
  margin-bottom: 10px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  cursor: pointer;
}

.fold:not([open]) {
  margin-top: 14px;
}

.fold:not([open]) > summary {
  margin-bottom: 0;
}

h2 {
  display: inline;
  margin-right: 12px;
}
</style>
