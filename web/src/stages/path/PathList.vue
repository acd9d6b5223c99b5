<script setup lang="ts">
// The path stacked for a phone: each link with what it rated and how much of that is used.
import type { Link, Path } from '../../api/types'
import { plain, show, wireSize } from '../../format/show'
import VerdictMark from '../../ui/VerdictMark.vue'

defineProps<{ path: Path }>()

function told(link: Link): string {
  const rated = link.continuous_a != null ? `rated for ${show(link.continuous_a, 'a')}` : 'limit not known'
  return link.used != null ? `${rated}, ${plain(link.used * 100, 0)} % used` : rated
}

const share = (used: number | null | undefined) => `${Math.min((used ?? 0) * 100, 100)}%`
</script>

<template>
  <ul class="list">
    <li v-for="d in path.demands" :key="d.load" class="demand">
      <b>{{ show(d.current_a, 'a') }}</b> {{ d.name }}
      <span v-if="d.duration_s != null" class="soft">for {{ show(d.duration_s, 's') }}</span>
    </li>
    <li v-for="link in path.links" :key="link.id">
      <router-link :to="{ name: link.stage }">
        <span class="name">
          <VerdictMark :verdict="link.severity ?? 'fine'" :size="16" />
          <b>{{ link.label }}</b>
          <span class="soft">{{ link.size ? wireSize(link.size) : link.detail }}</span>
        </span>
        <span class="gauge" :class="{ over: (link.used ?? 0) > 1 }">
          <i :style="{ width: share(link.used) }" />
        </span>
        <span class="figures">
          {{ told(link) }}
          <b v-if="link.id === path.weakest"> weakest</b>
        </span>
      </router-link>
    </li>
  </ul>
</template>

<style scoped>
.list {
  list-style: none;
  padding: 0;
  margin: 12px 0 0;
}

li {
  border-bottom: 1px solid var(--line);
  padding: 8px 0;
}

.demand {
  color: var(--copper-text);
  padding: 3px 0;
}

a {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  color: inherit;
  text-decoration: none;
}

.name {
  display: flex;
  gap: 7px;
  align-items: center;
}

.name .soft {
  overflow-wrap: anywhere;
}

.gauge {
  height: 12px;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
}

.gauge i {
  display: block;
  height: 100%;
  background: var(--copper);
}

.gauge.over i {
  background: var(--stop);
}

.figures {
  font-size: 13px;
}
</style>
