<script setup lang="ts">
// One way to match the voltage, in a line: what speaks for and against it, its volts on the scale, its usable share.
import { computed } from 'vue'
import type { VoltageOption, VoltageOptions } from '../../api/types'
import { plain } from '../../format/show'
import { usePlan } from '../../state/plan'
import { openWorking } from '../../state/working'
import PhraseText from '../../ui/PhraseText.vue'
import VerdictMark from '../../ui/VerdictMark.vue'
import OptionBar from './OptionBar.vue'
import { optionTitle } from './optionOrder'
import type { VoltScale } from './voltScale'

const props = defineProps<{
  option: VoltageOption
  found: VoltageOptions
  scale: VoltScale
  /** Whether it is laid beside others. */
  beside: boolean
  /** Whether no more can be laid beside. */
  full: boolean
}>()
const emit = defineEmits<{ lay: [wanted: boolean] }>()

const { edit } = usePlan()
const title = computed(() => optionTitle(props.option))
</script>

<template>
  <li :class="{ chosen: option.chosen }" :data-option="title">
    <VerdictMark :verdict="option.worst ?? 'fine'" />
    <input
      type="checkbox"
      :checked="beside"
      :disabled="!beside && full"
      :aria-label="`Compare ${title}`"
      @change="emit('lay', ($event.target as HTMLInputElement).checked)"
    />
    <div class="words">
      <b>{{ title }}</b>
      <span class="soft">
        <template v-for="(reason, i) in option.reasons" :key="i"
          ><template v-if="i"> · </template><PhraseText :phrase="reason" plain
        /></template>
      </span>
    </div>
    <OptionBar class="bar" :option="option" :found="found" :scale="scale" />
    <button
      v-if="option.worst !== 'stop' && option.usable_share != null"
      type="button"
      class="usable"
      :aria-label="`Usable ${plain(option.usable_share * 100, 0)} %, show the calculation`"
      @click="openWorking('run.usable_share', option.chosen ? [] : option.changes)"
    >
      {{ plain(option.usable_share * 100, 0) }} %
    </button>
    <b v-else class="usable">–</b>
    <span v-if="option.chosen" class="take taken">chosen</span>
    <v-btn v-else size="small" class="take" :aria-label="`Choose ${title}`" @click="edit(option.changes)"
      >Choose</v-btn
    >
  </li>
</template>

<style scoped>
li {
  min-height: 50px;
  padding: 0 6px;
  border: 2px solid transparent;
  border-radius: 4px;
}

li.chosen {
  border-color: var(--copper);
  background: var(--sheet);
}

.words {
  line-height: 1.25;
  min-width: 0;
}

.words .soft {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  font-size: 12.5px;
}

.words b {
  display: block;
}

input[type='checkbox'] {
  width: 18px;
  height: 18px;
  margin: 0;
  accent-color: var(--petrol);
}

button.usable {
  cursor: pointer;
}

button.usable:hover {
  text-decoration: underline dotted;
}

.usable {
  grid-column: 5;
  text-align: right;
  font: inherit;
  font-weight: 700;
  font-size: 15px;
  color: var(--ink);
  background: none;
  border: 0;
  padding: 0;
}

.take {
  grid-column: 6;
}

.taken {
  color: var(--copper-text);
  font-weight: 700;
  text-align: center;
}

@media (max-width: 900px) {
  li {
    height: auto;
    padding: 8px 4px;
  }

  li .bar {
    grid-column: 1 / -1;
    grid-row: 2;
    height: 48px;
  }

  li .usable {
    grid-column: 4;
  }

  li .take {
    grid-column: 5;
  }
}
</style>
