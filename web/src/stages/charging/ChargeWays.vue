<script setup lang="ts">
// The ways to charge this pack, each with whether it does and why.
import { computed } from 'vue'
import type { ChargedBy, ChargeWay, Standing } from '../../api/types'
import FoldSection from '../../ui/FoldSection.vue'
import VerdictMark from '../../ui/VerdictMark.vue'

const props = defineProps<{ ways: ChargeWay[] }>()
const planned = computed(() => props.ways.find((w) => w.chosen))

const names: Record<ChargedBy, string> = {
  wall_charger: 'Mains charger',
  charge_module: 'Charge module and a supply',
  hobby_charger: 'Hobby charger, with the tap plug',
  host_circuit: 'The device’s own circuit',
  old_charger: 'The old charger',
  converter: 'A converter',
}

const marks: Record<Standing, 'fine' | 'caution' | 'stop' | 'nothing_yet'> = {
  does: 'fine',
  minding: 'caution',
  refused: 'stop',
  unknown: 'nothing_yet',
}
</script>

<template>
  <FoldSection
    name="charge-ways"
    title="What can charge it"
    :summary="planned ? `planned: ${names[planned.by].toLowerCase()}` : 'nothing planned yet'"
    :away="!!planned && planned.stands !== 'refused'"
    data-testid="charge-ways"
  >
    <ul class="rows ways">
      <li v-for="w in ways" :key="w.by" :data-way="w.by" :data-stands="w.stands">
        <VerdictMark :verdict="marks[w.stands]" />
        <b>{{ names[w.by] }} <span v-if="w.chosen" class="planned">planned</span></b>
        <span class="why"
          >{{ w.why }} <span class="soft">{{ w.risks }}</span></span
        >
      </li>
    </ul>
  </FoldSection>
</template>

<style scoped>
.ways > li {
  display: grid;
  grid-template-columns: 22px 210px minmax(0, 1fr);
  align-items: start;
}

.planned {
  display: inline-block;
  font-weight: 400;
  font-size: 13px;
  color: var(--petrol);
}

@media (max-width: 700px) {
  .ways > li {
    grid-template-columns: 22px minmax(0, 1fr);
  }

  .why {
    grid-column: 2;
  }
}
</style>
