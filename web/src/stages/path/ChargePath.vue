<script setup lang="ts">
// The charge path: its own, smaller path below, each link filled by the charge current.
import { computed } from 'vue'
import type { Path } from '../../api/types'
import { plain, show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { openWorking } from '../../state/working'

defineProps<{ path: Path }>()

const { figure } = usePlan()
const time = computed(() => figure('charge.time_s'))

function words(link: Path['charge'][number]): string {
  if (link.current_a == null) return 'not known'
  if (link.limit_a == null) return `${show(link.current_a, 'a')}, limit not known`
  return `${plain(link.current_a, 2)} of ${show(link.limit_a, 'a')}`
}
</script>

<template>
  <section>
    <h2>Charge path</h2>
    <ol class="links">
      <li v-for="link in path.charge" :key="link.id">
        <router-link class="name" :to="{ name: 'charging' }">{{ link.label }}</router-link>
        <button
          v-if="link.used != null"
          type="button"
          class="bar"
          :class="{ over: link.over }"
          :aria-label="`${words(link)}, show the calculation`"
          @click="openWorking(`charge.used@${link.id}`)"
        >
          <i :style="{ width: `${Math.min(link.used * 100, 100)}%` }" />
          <span class="words">{{ words(link) }}</span>
        </button>
        <span v-else class="bar">
          <span class="words">{{ words(link) }}</span>
        </span>
        <span class="soft detail">{{ link.detail }}</span>
      </li>
    </ol>
    <p v-if="time">
      Full from empty in
      <button type="button" class="textlink" @click="openWorking('charge.time_s')">
        {{ show(time.value, 's') }}</button>.
    </p>
  </section>
</template>

<style scoped>
.links {
  list-style: none;
  margin: 0 0 10px;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(118px, 1fr));
  gap: 10px;
}

li {
  display: grid;
  gap: 3px;
  align-content: start;
}

.name {
  color: inherit;
  font-weight: 700;
  text-decoration: none;
}

.name:hover,
button.bar:hover .words {
  text-decoration: underline dotted;
}

button.bar {
  padding: 0;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
}

.bar {
  position: relative;
  height: 28px;
  border: 2px solid var(--line-strong);
  background: var(--sheet);
  overflow: hidden;
}

.bar i {
  position: absolute;
  inset: auto auto 0 0;
  height: 5px;
  background: var(--petrol);
}

.bar.over {
  border-color: var(--stop);
}

.bar.over i {
  background: var(--stop);
}

.words {
  position: relative;
  padding-left: 6px;
  font-weight: 600;
  font-size: 14px;
  line-height: 20px;
  white-space: nowrap;
}

.detail {
  line-height: 1.25;
}
</style>
