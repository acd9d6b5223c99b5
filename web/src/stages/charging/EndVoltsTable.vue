<script setup lang="ts">
// End volts a cell against charge and life; a row that is picked sets the charger to it.
import { computed } from 'vue'
import type { EndChoice } from '../../api/types'
import { show, showFine } from '../../format/show'
import { usePlan } from '../../state/plan'
import FoldSection from '../../ui/FoldSection.vue'

const props = defineProps<{ ends: EndChoice[]; assumed: boolean }>()

const { edit } = usePlan()

const summary = computed(() => {
  const chosen = props.ends.find((e) => e.chosen)
  return chosen
    ? `${showFine(chosen.end.cell_v)} per cell, ${show(chosen.end.kept_share, 'share')} charge`
    : 'not chosen'
})
</script>

<template>
  <FoldSection
    v-if="ends.length"
    name="end-volts"
    title="How full?"
    :summary="summary"
    data-testid="end-volts"
  >
    <p class="lead">
      A lower end voltage costs charge (open-circuit curve) and extends life (rule of thumb). A balancer works
      at the top only.
    </p>
    <div class="sideways" tabindex="0" role="region" aria-label="End voltage against charge and life">
      <table class="values after">
        <thead>
          <tr>
            <th class="n">Per cell</th>
            <th class="n">The pack</th>
            <th>Charge</th>
            <th class="n">Lost</th>
            <th class="n">Cycles</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="e in ends" :key="e.end.cell_v" :class="{ chosen: e.chosen }">
            <td class="n">{{ showFine(e.end.cell_v) }}</td>
            <td class="n">{{ showFine(e.pack_v) }}</td>
            <td class="bar">
              <svg viewBox="0 0 100 12" preserveAspectRatio="none" aria-hidden="true">
                <rect width="100" height="12" class="all" />
                <rect :width="100 * e.end.kept_share" height="12" class="in" />
              </svg>
              {{ show(e.end.kept_share, 'share') }}
            </td>
            <td class="n">{{ e.end.lost_share > 0 ? show(e.end.lost_share, 'share') : '–' }}</td>
            <td class="n">{{ e.end.lives ? `× ${show(e.end.lives, 'ratio')}` : 'not known' }}</td>
            <td>
              <span v-if="e.chosen" class="soft">planned</span>
              <v-btn v-else-if="e.changes.length" size="small" variant="text" @click="edit(e.changes)"
                >Use this</v-btn
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft after">
      Cycles: each 0.1 V about doubles them, for cells with layered oxides; common practice, no source.
      <template v-if="assumed"
        >The charge is a line through common figures: there is no published curve.</template
      >
    </p>
  </FoldSection>
</template>

<style scoped>
.bar {
  min-width: 150px;
  white-space: nowrap;
}

.bar svg {
  width: 96px;
  height: 12px;
  margin-right: 8px;
  vertical-align: -1px;
}

.all {
  fill: var(--line);
}

.in {
  fill: var(--copper);
}

.chosen td {
  font-weight: 700;
}
</style>
