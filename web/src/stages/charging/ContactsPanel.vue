<script setup lang="ts">
// Polarity of jack and plug by what the meter shows, and what the volts behind the board say of it.
import { computed } from 'vue'
import type { ContactsRead, Known, Polarity } from '../../api/types'
import { usePlan } from '../../state/plan'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import VerdictMark from '../../ui/VerdictMark.vue'

const props = defineProps<{ read: ContactsRead }>()

const { plan, set } = usePlan()

const says: Record<Polarity, string> = {
  plus_inside: 'plus is inside',
  minus_inside: 'minus is inside',
  dead: '0 V: a diode, an open board, or no contact',
}

const fields = [
  { at: 'jack_v', label: 'At the jack, red inside' },
  { at: 'plug_v', label: 'At the charger’s plug, red inside' },
  { at: 'cells_v', label: 'At the cells, B− to B+' },
  { at: 'out_v', label: 'After the board' },
] as const

const reading = (at: (typeof fields)[number]['at']): Known | null => plan.value?.charging?.[at] ?? null

const summary = computed(() => {
  const found = [
    props.read.jack ? `jack: ${says[props.read.jack]}` : '',
    props.read.plug ? `plug: ${says[props.read.plug]}` : '',
  ]
  return found.filter(Boolean).join('; ') || 'not measured yet'
})
</script>

<template>
  <FoldSection
    name="contacts"
    title="Which contact is plus?"
    :summary="summary"
    :away="!read.jack && !read.plug"
    data-testid="contacts"
  >
    <p class="lead">
      Read before you plug anything in: red probe on the inner contact; a minus sign means minus inside. The
      half that stays live when unplugged has covered contacts; bare pins belong on the dead half.
    </p>
    <div class="fields after">
      <KnownField
        v-for="f in fields"
        :key="f.at"
        as="measured"
        :label="f.label"
        :range="f.at === 'cells_v' ? 'device_volts' : 'probe_volts'"
        :data-at="`/charging/${f.at}`"
        :model-value="reading(f.at)"
        @update:model-value="set(`/charging/${f.at}`, $event)"
      />
    </div>
    <ul v-if="read.jack || read.plug || read.says" class="rows after">
      <li v-if="read.jack"><b>Jack</b> {{ says[read.jack] }}</li>
      <li v-if="read.plug"><b>Plug</b> {{ says[read.plug] }}</li>
      <li v-if="read.says" class="through">
        <VerdictMark :verdict="read.through === 'closed' ? 'fine' : 'caution'" />
        <span>{{ read.says }}</span>
      </li>
    </ul>
  </FoldSection>
</template>

<style scoped>
/* A reading stands over its meter: narrower, the error would run into the meter's name. */
.fields {
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 250px), 1fr));
}

.through {
  flex-wrap: nowrap;
  align-items: flex-start;
}
</style>
