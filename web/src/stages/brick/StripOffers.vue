<script setup lang="ts">
// For each metal the lightest strip of usual sizes that carries continuous current and peak.
import type { StripOffer } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'

defineProps<{ offers: StripOffer[] }>()
const { edit } = usePlan()
</script>

<template>
  <section v-if="offers.length" class="section" data-testid="strip-offers">
    <h2>Strips rated for it</h2>
    <ul class="rows">
      <li v-for="o in offers" :key="o.name" :data-strip-offer="o.name">
        <div class="what">
          <b>{{ o.name }}</b>
          <span class="soft">{{ o.note }}</span>
        </div>
        <span class="rated"
          >rated for {{ show(o.limit_a, 'a') }}, loses {{ show(o.drop_v, 'v') }},
          {{ show(o.mass_g, 'g') }}</span
        >
        <b v-if="o.chosen" class="taken">chosen</b>
        <v-btn v-else size="small" :aria-label="`Use ${o.name}`" @click="edit(o.changes)">Use</v-btn>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.what {
  flex: 1 1 260px;
  display: flex;
  flex-direction: column;
  font-size: 14px;
}

.rated {
  font-size: 14px;
}

.taken {
  font-size: 13px;
  color: var(--copper-text);
}
</style>
