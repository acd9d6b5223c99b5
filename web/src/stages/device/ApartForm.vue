<script setup lang="ts">
// Taking the device apart: the steps in order, what to do before each, where the way back ends, and the photographs.
import { mdiArrowUp, mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { ApartStep } from '../../api/types'
import { usePlan } from '../../state/plan'
import FoldSection from '../../ui/FoldSection.vue'
import PhotoStrip from './PhotoStrip.vue'

const { plan, assessment, set, edit } = usePlan()
const list = '/device/apart'
const steps = computed<ApartStep[]>(() => plan.value?.device.apart ?? [])
const apart = computed(() => assessment.value?.apart)
const says = (step: string) => apart.value?.prompts.find((p) => p.step === step)?.says ?? []

const lives = [
  { value: null, title: 'not measured' },
  { value: 'always', title: 'always live' },
  { value: 'when_on', title: 'live when on' },
  { value: 'not_connected', title: 'not connected' },
]

function add(): void {
  const taken = new Set(steps.value.map((s) => s.id))
  let number = 1
  while (taken.has(`step-${number}`)) number++
  const fresh: ApartStep = { id: `step-${number}`, what: 'Pull a wire', pulls_wire: true }
  set(list, [...steps.value, fresh])
}

/** The photographs of a step stay, as photographs of the device. */
function remove(step: ApartStep): void {
  const photos = plan.value?.device.photos ?? []
  edit([
    { at: list, value: steps.value.filter((s) => s !== step) },
    { at: '/device/photos', value: photos.map((p) => (p.step === step.id ? { ...p, step: null } : p)) },
  ])
}

function moveUp(index: number): void {
  const order = [...steps.value]
  order.splice(index - 1, 2, order[index]!, order[index - 1]!)
  set(list, order)
}

const summary = computed(() => {
  const done = steps.value.filter((s) => s.done).length
  return steps.value.length ? `${done} of ${steps.value.length} steps done` : 'no steps yet'
})
</script>

<template>
  <FoldSection name="apart" title="Disassembly" :summary="summary" :away="!steps.length">
    <p class="lead">
      Photograph and measure every wire before it comes off. Do every test before the first step that cannot
      be undone.
    </p>
    <PhotoStrip :step="null" label="Photograph of the device" />
    <ol class="steps">
      <li
        v-for="(step, i) in steps"
        :key="step.id"
        :class="{ done: step.done }"
        :data-step="step.id"
        :data-at="`${list}/${i}`"
      >
        <div class="row">
          <span class="tick">
            <v-checkbox-btn
              :model-value="step.done ?? false"
              :aria-label="`${step.what}: done`"
              density="compact"
              color="primary"
              @update:model-value="set(`${list}/${i}/done`, $event)"
            />
          </span>
          <v-text-field
            class="what"
            :label="`Step ${i + 1}`"
            :model-value="step.what"
            maxlength="120"
            @update:model-value="$event.trim() && set(`${list}/${i}/what`, $event)"
          />
          <v-select
            label="A wire comes off"
            :items="[
              { value: true, title: 'yes' },
              { value: false, title: 'no' },
            ]"
            :model-value="step.pulls_wire ?? false"
            @update:model-value="set(`${list}/${i}/pulls_wire`, $event)"
          />
          <v-select
            label="Can be undone"
            :items="[
              { value: true, title: 'yes' },
              { value: false, title: 'no' },
            ]"
            :model-value="step.reversible ?? null"
            @update:model-value="set(`${list}/${i}/reversible`, $event)"
          />
          <v-select
            v-if="step.pulls_wire"
            class="live"
            label="That wire is"
            :items="lives"
            :model-value="step.live ?? null"
            @update:model-value="set(`${list}/${i}/live`, $event)"
          />
          <span class="ends">
            <v-btn
              :icon="mdiArrowUp"
              variant="text"
              size="small"
              :disabled="i === 0"
              :aria-label="`${step.what}: earlier`"
              @click="moveUp(i)"
            />
            <v-btn
              :icon="mdiDeleteOutline"
              variant="text"
              size="small"
              :aria-label="`Remove ${step.what}`"
              @click="remove(step)"
            />
          </span>
        </div>
        <ul v-if="says(step.id).length" class="says">
          <li v-for="words in says(step.id)" :key="words">{{ words }}</li>
        </ul>
        <PhotoStrip
          v-if="step.pulls_wire"
          class="photos"
          :step="step.id"
          :label="`Photograph before “${step.what}”`"
        />
        <p v-if="apart?.last_reversible === step.id" class="line" data-testid="last-reversible">
          Last step that can be undone. Do every test before you go on.
        </p>
      </li>
    </ol>
    <v-btn class="after" :prepend-icon="mdiPlus" size="small" @click="add">Step</v-btn>
  </FoldSection>
</template>

<style scoped>
.steps {
  list-style: none;
  margin: 10px 0 0;
  padding: 0;
}

.steps > li {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}

.row {
  display: grid;
  grid-template-columns: 36px minmax(150px, 1fr) 126px 118px 158px 76px;
  gap: 6px;
  align-items: center;
}

.ends {
  grid-column: -2;
  white-space: nowrap;
}

.done {
  opacity: 0.85;
}

.says,
.photos {
  margin: 6px 0 0 42px;
}

.says {
  padding: 4px 10px 4px 26px;
  border-left: 5px solid var(--caution);
  background: var(--caution-tint);
  font-size: 14px;
}

.line {
  margin: 12px 0 4px;
  padding-top: 8px;
  border-top: 3px solid var(--copper);
  color: var(--copper-text);
  font-weight: 700;
}

@media (max-width: 1100px) {
  .row {
    grid-template-columns: 36px 1fr 1fr;
  }

  .what {
    grid-column: 2 / -1;
  }

  .row > :nth-child(3) {
    grid-column: 2;
  }

  .live {
    grid-column: 2;
  }

  .ends {
    grid-column: 3;
    justify-self: end;
  }

  .says,
  .photos {
    margin-left: 0;
  }
}
</style>
