<script setup lang="ts">
// Looking ahead: when it comes to 80 %, and what another use would change.
import { computed } from 'vue'
import type { PackStory } from '../api/types'
import { monthOf } from './words'

const props = defineProps<{ story: PackStory }>()
/** Key of the other use that is looked at. */
const chosen = defineModel<string | null>({ required: true })

const PERCENT = 100
const MONTH_DAYS = 30.4
const forecast = computed(() => props.story.forecast)
const other = computed(() => forecast.value?.what_if.find((w) => w.key === chosen.value) ?? null)
const course = computed(() => other.value?.course ?? forecast.value?.course ?? null)

const says = computed(() => {
  const worn = course.value?.worn
  if (!worn) return ''
  if (worn.middle_s == null)
    return worn.early_s == null
      ? 'Above 80 % for ten years from its making.'
      : `80 % in ${monthOf(worn.early_s)} at the earliest; most likely not within ten years of its making.`
  const middle = `80 % about ${monthOf(worn.middle_s)}`
  const early = worn.early_s == null ? '' : `; ${monthOf(worn.early_s)} at the earliest`
  const late =
    worn.late_s == null ? ', perhaps more than ten years' : `, ${monthOf(worn.late_s)} at the latest`
  return `${middle}${early}${late}.`
})

function gain(what: { gains_days?: number | null; gains_share: number }): string {
  const points = (what.gains_share * PERCENT).toFixed(1)
  const share = `${what.gains_share >= 0 ? '+' : '−'}${points.replace('-', '')} % left in three years`
  if (what.gains_days == null || Math.abs(what.gains_days) < MONTH_DAYS) return share
  const months = Math.round(Math.abs(what.gains_days) / MONTH_DAYS)
  return `${months} months ${what.gains_days > 0 ? 'longer' : 'shorter'}`
}
</script>

<template>
  <div v-if="forecast">
    <p data-testid="worn">
      <b>{{ says }}</b>
    </p>
    <p v-if="other">{{ other.title }}. {{ other.price }}</p>
    <div v-if="forecast.what_if.length" class="others" role="group" aria-label="What if, from today on">
      <button
        v-for="what in forecast.what_if"
        :key="what.key"
        type="button"
        :data-other="what.key"
        :aria-pressed="what.key === chosen"
        @click="chosen = what.key === chosen ? null : what.key"
      >
        <b>{{ what.title }}</b>
        <span class="soft">{{ gain(what) }}</span>
      </button>
    </div>
    <details>
      <summary>What this is based on</summary>
      <ul>
        <li v-for="(line, i) in forecast.rests_on" :key="i">{{ line }}</li>
      </ul>
    </details>
  </div>
  <p v-else class="soft">
    {{
      ['in_use', 'stored'].includes(story.state)
        ? 'No model of how this chemistry ages has been published.'
        : 'It is no longer in use: no forecast.'
    }}
  </p>
</template>

<style scoped>
.others {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 10px 0;
}

.others button {
  display: grid;
  padding: 7px 12px;
  text-align: left;
  font: inherit;
  color: var(--ink);
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  cursor: pointer;
}

.others button[aria-pressed='true'] {
  border-color: var(--petrol);
  background: var(--petrol-tint);
}

.others .soft {
  font-size: 13px;
}

details ul {
  margin: 6px 0 0;
  padding-left: 18px;
  font-size: 13px;
  color: var(--soft);
}
</style>
