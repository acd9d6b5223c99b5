<script setup lang="ts">
// The fuse in the charge lead: added where there is none, chosen where there is a place for it.
import { computed } from 'vue'
import type { Change } from '../../api/types'
import { CHARGE_FUSE } from '../../state/place'
import { usePlan } from '../../state/plan'
import PartPicker from '../../ui/PartPicker.vue'

defineProps<{ add: Change[] }>()

const { plan, edit } = usePlan()
const there = computed(() => plan.value?.nodes.some((n) => n.id === CHARGE_FUSE))
</script>

<template>
  <PartPicker
    v-if="there"
    :place="CHARGE_FUSE"
    title="Charge fuse"
    none="no fuse in the charge lead"
    intro="Where the charge lead leaves the pack: the cells feed a short in jack or lead."
  />
  <p v-else-if="add.length" class="add">
    <v-btn size="small" @click="edit(add)">Put a fuse into the charge lead</v-btn>
  </p>
</template>

<style scoped>
.add {
  padding: 11px 0;
  border-top: 1px solid var(--line-strong);
}
</style>
