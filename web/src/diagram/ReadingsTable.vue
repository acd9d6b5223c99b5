<script setup lang="ts">
// What the meter should read, as a table: between which points, and what it shows there in this condition.
import type { Diagram } from '../api/types'
import { reads } from './reads'
import type { Touched } from './touched'

const props = defineProps<{ diagram: Diagram; touched: Touched }>()
const emit = defineEmits<{ touch: [what: Touched]; pin: [what: Touched] }>()

const name = (node: number) => props.diagram.nodes[node]?.name ?? ''
</script>

<template>
  <div class="sideways" tabindex="0" role="region" aria-label="Readings">
    <table class="values" data-testid="readings">
      <thead>
        <tr>
          <th>Where</th>
          <th>Red probe on</th>
          <th>Black probe on</th>
          <th class="n">Predicted</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="(p, i) in diagram.probes"
          :key="i"
          :class="{ chosen: touched?.at === 'reading' && touched.index === i }"
          :data-reading="p.what"
          @pointerenter="emit('touch', { at: 'reading', index: i })"
          @pointerleave="emit('touch', null)"
        >
          <td>
            <button type="button" class="show" @click="emit('pin', { at: 'reading', index: i })">
              {{ p.what }}
            </button>
          </td>
          <td>{{ name(p.red) }}</td>
          <td>{{ name(p.black) }}</td>
          <td class="n">{{ reads(p) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
tr.chosen {
  background: var(--petrol-tint);
}

.show {
  border: 0;
  padding: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-align: left;
  cursor: pointer;
  min-height: 24px;
}
</style>
