<script setup lang="ts">
// What can be done with the cell that was taken up.
import { computed } from 'vue'
import type { BrickEdit, Drawing } from '../../api/types'

const props = defineProps<{ drawing: Drawing; selected: number | null }>()
const emit = defineEmits<{ edit: [change: BrickEdit]; drop: [] }>()

const cell = computed(() =>
  props.drawing.faces.flatMap((f) => f.cells).find((c) => c.cell === props.selected),
)
</script>

<template>
  <div class="tools" role="toolbar" aria-label="The cell you hold">
    <template v-if="cell">
      <b>{{ cell.label }}</b>
      <span class="soft">click where it goes, or</span>
      <v-btn size="small" @click="emit('edit', { does: 'turn_cell', cell: cell.cell })">Turn over</v-btn>
      <v-btn size="small" @click="emit('edit', { does: 'turn_group', group: cell.group - 1 })">
        Turn group {{ cell.group }}
      </v-btn>
      <v-btn size="small" @click="emit('edit', { does: 'lock', cell: cell.cell, locked: !cell.locked })">
        {{ cell.locked ? 'Unlock' : 'Lock' }}
      </v-btn>
      <v-btn size="small" variant="text" @click="emit('drop')">Let go</v-btn>
    </template>
    <span v-else class="soft">Drag a cell to another site, or click it for more.</span>
  </div>
</template>

<style scoped>
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px;
  min-height: 36px;
}
</style>
