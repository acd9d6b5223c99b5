<script setup lang="ts">
// How a figure is known, and on which meter it was read: a word in its field, and a list behind it.
import { mdiCheck, mdiMenuDown } from '@mdi/js'
import { computed } from 'vue'
import type { How } from '../api/types'

const props = defineProps<{
  label: string
  how: How
  hows: { value: How; title: string }[]
  meter: string | null
  /** Meters that can have read it; none where no meter is asked for. */
  meters: string[]
}>()
const word = computed(() => props.hows.find((h) => h.value === props.how)?.title ?? '')
const emit = defineEmits<{ how: [how: How]; meter: [meter: string | null] }>()
</script>

<template>
  <v-menu :close-on-content-click="false" location="bottom end">
    <template #activator="{ props: menu }">
      <button type="button" class="how" :aria-label="`${word}: how “${label}” is known`" v-bind="menu">
        {{ word }}<v-icon :icon="mdiMenuDown" size="16" />
      </button>
    </template>
    <v-list density="compact" data-testid="how-known">
      <v-list-item
        v-for="h in hows"
        :key="h.value"
        :title="h.title"
        :active="h.value === how"
        :append-icon="h.value === how ? mdiCheck : undefined"
        @click="emit('how', h.value)"
      />
      <template v-if="meters.length">
        <v-list-subheader>On which meter?</v-list-subheader>
        <v-list-item
          v-for="name in [null, ...meters]"
          :key="name ?? ''"
          :title="name ?? 'no meter named'"
          :active="name === meter"
          :append-icon="name === meter ? mdiCheck : undefined"
          @click="emit('meter', name)"
        />
      </template>
    </v-list>
  </v-menu>
</template>

<style scoped>
.how {
  display: inline-flex;
  align-items: center;
  min-height: 34px;
  margin-right: -6px;
  padding: 0 2px 0 8px;
  font: inherit;
  font-size: 13px;
  color: var(--soft);
  white-space: nowrap;
  background: none;
  border: 0;
  border-left: 1px solid var(--line);
  cursor: pointer;
}

.how:hover {
  color: var(--ink);
}
</style>
