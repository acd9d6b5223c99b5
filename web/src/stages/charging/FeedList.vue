<script setup lang="ts">
// Sockets and profiles one has at home, each against what the charger takes.
import type { FeedOption } from '../../api/types'
import { show } from '../../format/show'
import FoldSection from '../../ui/FoldSection.vue'
import VerdictMark from '../../ui/VerdictMark.vue'

defineProps<{ feeds: FeedOption[] }>()
</script>

<template>
  <FoldSection
    v-if="feeds.length"
    name="feeds"
    title="What can power the charger"
    :summary="`${feeds.filter((f) => f.enough).length} of ${feeds.length}`"
    away
    data-testid="feeds"
  >
    <ul class="rows feeds">
      <li v-for="f in feeds" :key="f.name" :data-enough="f.enough">
        <VerdictMark v-if="f.enough" verdict="fine" />
        <span v-else class="soft" role="img" aria-label="does not work">–</span>
        <b>{{ f.name }}</b>
        <span>
          {{ [f.needs_a == null ? '' : `takes ${show(f.needs_a, 'a')}`, f.why].filter(Boolean).join(', ') }}
        </span>
      </li>
    </ul>
  </FoldSection>
</template>

<style scoped>
.feeds > li {
  display: grid;
  grid-template-columns: 22px 230px minmax(0, 1fr);
}

@media (max-width: 700px) {
  .feeds > li {
    grid-template-columns: 22px minmax(0, 1fr);
  }

  .feeds > li > span:last-child {
    grid-column: 2;
  }
}
</style>
