<script setup lang="ts">
// The three schools of putting a pack together: what each needs, whether these cells have it, and what it risks.
import type { Grouped } from '../api/types'
import VerdictMark from '../ui/VerdictMark.vue'

defineProps<{ schools: Grouped['schools'] }>()
</script>

<template>
  <div class="schools" data-testid="schools">
    <article v-for="s in schools" :key="s.school">
      <h3>{{ s.title }}</h3>
      <ul>
        <li v-for="n in s.needs" :key="n.what">
          <VerdictMark :verdict="n.met == null ? 'nothing_yet' : n.met ? 'fine' : 'caution'" :size="15" />
          <span>
            {{ n.what }}
            <span v-if="n.met == null" class="soft">up to you</span>
            <span v-else-if="!n.met" class="soft">
              not {{ n.against.slice(0, 4).join(', ')
              }}{{ n.against.length > 4 ? ` and ${n.against.length - 4} more` : '' }}
            </span>
          </span>
        </li>
      </ul>
      <details>
        <summary class="soft">What it risks</summary>
        <p v-for="r in s.risks" :key="r" class="soft">{{ r }}</p>
      </details>
    </article>
  </div>
</template>

<style scoped>
.schools {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(230px, 1fr));
  gap: 22px;
  margin-top: 12px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}

li {
  display: flex;
  gap: 8px;
  padding: 3px 0;
  font-size: 14px;
}

li svg {
  margin-top: 2px;
}

summary {
  cursor: pointer;
}

details p {
  margin-top: 6px;
}
</style>
