<script setup lang="ts">
// What if: sliders over the plan; the runs are redrawn while they move.
import type { Slider } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'
import { turnedNames } from './useRun'

const props = defineProps<{
  sliders: Slider[]
  valueOf: (slider: Slider) => number
  isTurned: boolean
  mayKeep: boolean
}>()
const emit = defineEmits<{ turn: [slider: Slider, value: number]; reset: []; keep: [] }>()

const { set } = usePlan()
const reads = (slider: Slider) => {
  const value = props.valueOf(slider)
  return slider.turned === 'load' ? `× ${show(value, 'ratio')}` : show(value, slider.unit)
}
const moved = (slider: Slider) => Math.abs(props.valueOf(slider) - slider.now) >= slider.step / 2

/** Puts what a slider says into the plan, where the plan holds just that. */
function take(slider: Slider): void {
  if (!slider.pointer) return
  set(slider.pointer, props.valueOf(slider))
  emit('turn', slider, slider.now)
}
</script>

<template>
  <section class="section" data-testid="what-if">
    <h2>What if</h2>
    <div class="sliders after">
      <div v-for="slider in sliders" :key="slider.turned" class="slider">
        <label :for="`turn-${slider.turned}`">{{ turnedNames[slider.turned] }}</label>
        <output :for="`turn-${slider.turned}`">{{ reads(slider) }}</output>
        <input
          :id="`turn-${slider.turned}`"
          type="range"
          :min="slider.min"
          :max="slider.max"
          :step="slider.step"
          :value="valueOf(slider)"
          :aria-valuetext="reads(slider)"
          @input="emit('turn', slider, Number(($event.target as HTMLInputElement).value))"
        />
        <button v-if="slider.pointer && moved(slider)" type="button" class="textlink" @click="take(slider)">
          Put it into the plan
        </button>
      </div>
    </div>
    <div v-if="isTurned" class="after">
      <v-btn size="small" variant="outlined" class="before" @click="emit('reset')">As planned again</v-btn>
      <v-btn v-if="mayKeep" size="small" variant="outlined" @click="emit('keep')">Keep for comparison</v-btn>
    </div>
  </section>
</template>

<style scoped>
.sliders {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 14px 28px;
}

.slider {
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: baseline;
}

.slider label {
  color: var(--soft);
  font-size: 14px;
}

.slider output {
  font-weight: 700;
}

.slider input,
.slider button {
  grid-column: 1 / -1;
}

.slider input {
  width: 100%;
  height: 26px;
  accent-color: var(--petrol);
}

.slider button {
  justify-self: start;
}
</style>
