<script setup lang="ts">
// One cell of the stock in a line: its verdict, its figures, and the field for what is being read.
import { onBeforeUnmount, onMounted } from 'vue'
import type { CellRow, CellState, CellVerdict } from '../api/types'
import { fixed, show } from '../format/show'
import VerdictMark from '../ui/VerdictMark.vue'
import { stateWords, verdictShape, verdictWords } from './words'

defineProps<{
  /** Its place in the table, from 0. */
  at: number
  /** Nothing while it is fetched. */
  cell: CellRow | undefined
  /** Whether its sheet is open. */
  here: boolean
  picked: boolean
  /** Whether a kind of reading is being typed. */
  reads: boolean
  refused: boolean
  /** What was kept just now. */
  kept: string | undefined
}>()
/** What is typed and not kept yet. */
const typed = defineModel<string>('typed')
const emit = defineEmits<{
  enter: []
  leave: []
  pick: [cell: string]
  open: [cell: string]
  keys: [event: KeyboardEvent]
  pasted: [event: ClipboardEvent]
}>()

onMounted(() => emit('enter'))
onBeforeUnmount(() => emit('leave'))

const figure = (value: number | null | undefined, unit: 'ohm' | 'ah' | 'v') =>
  value == null ? '–' : show(value, unit)
</script>

<template>
  <div
    class="row"
    role="row"
    :aria-rowindex="at + 2"
    :data-row="at"
    :class="{ here, gone: cell?.state === 'retired' }"
  >
    <template v-if="cell">
      <span role="cell">
        <input
          type="checkbox"
          :checked="picked"
          :aria-label="`Pick ${cell.label}`"
          @change="emit('pick', cell.id)"
        />
      </span>
      <span role="cell" class="verdict">
        <VerdictMark :verdict="verdictShape[cell.verdict as CellVerdict]" :size="16" />
      </span>
      <span role="cell" class="label">
        <button type="button" class="textlink" @click="emit('open', cell.id)">{{ cell.label }}</button>
      </span>
      <span role="cell" class="arrival_v">{{
        cell.arrival_v == null ? '–' : `${fixed(cell.arrival_v, 3)} V`
      }}</span>
      <span role="cell" class="resistance_ohm">{{ figure(cell.resistance_ohm, 'ohm') }}</span>
      <span role="cell" class="capacity_ah">{{ figure(cell.capacity_ah, 'ah') }}</span>
      <span role="cell" class="lost_a_day_v">{{ figure(cell.lost_a_day_v, 'v') }}</span>
      <span role="cell" class="state" :title="cell.plan ?? undefined">{{
        stateWords[cell.state as CellState]
      }}</span>
      <span v-if="reads" role="cell" class="entry">
        <input
          v-model="typed"
          class="value mono"
          type="text"
          autocomplete="off"
          :aria-label="`Reading of ${cell.label}`"
          :aria-invalid="refused"
          :placeholder="kept ? `kept ${kept}` : ''"
          @keydown="emit('keys', $event)"
          @paste="emit('pasted', $event)"
        />
      </span>
      <span role="cell" class="why">
        {{ cell.reason || verdictWords[cell.verdict as CellVerdict] }}
        <span v-if="cell.keep_with" class="soft">· with {{ cell.keep_with }}</span>
      </span>
    </template>
  </div>
</template>

<style scoped>
.here {
  background: var(--petrol-tint);
}

.gone {
  color: var(--soft);
}

.value {
  width: 100%;
  height: 32px;
  padding: 0 8px;
  font-size: 17px;
  color: var(--ink);
  background: var(--paper);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
}

.value::placeholder {
  color: var(--fine);
  font-size: 14px;
  opacity: 1;
}

.value[aria-invalid='true'] {
  border: 2px solid var(--stop);
}
</style>
