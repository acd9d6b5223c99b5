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
</script>

<template>
  <section>
    <h2>Charge path</h2>
    <ol class="links">
      <li v-for="link in path.charge" :key="link.id">
        <router-link :to="{ name: 'charging' }">
          <span class="name">
            <b>{{ link.label }}</b>
          </span>
          <span class="bar" :class="{ over: link.over }">
            <i :style="{ width: `${Math.min((link.used ?? 0) * 100, 100)}%` }" />
            <span class="words">
              <template v-if="link.current_a != null && link.limit_a != null">
                {{ plain(link.current_a, 2) }} of {{ show(link.limit_a, 'a') }}
              </template>
              <template v-else-if="link.current_a != null"
                >{{ show(link.current_a, 'a') }}, limit not known</template
              >
              <template v-else>not known</template>
            </span>
          </span>
          <span class="soft detail">{{ link.detail }}</span>
        </router-link>
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

a {
  display: grid;
  gap: 3px;
  color: inherit;
  text-decoration: none;
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
