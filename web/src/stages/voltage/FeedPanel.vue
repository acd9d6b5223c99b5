<script setup lang="ts">
// One thing that hangs on the line: asked for, its figures, taken away again.
import { computed, shallowRef } from 'vue'
import type { Change } from '../../api/types'
import { usePlan } from '../../state/plan'
import { withChanges } from '../../state/pointer'
import FigureText from '../../ui/FigureText.vue'
import PartFields from '../../ui/PartFields.vue'
import PartPicker from '../../ui/PartPicker.vue'
import { wanting } from '../../ui/parts'
import { yesno } from '../device/deviceFields'
import type { FeedSheet } from './feedFields'

const props = defineProps<{ sheet: FeedSheet }>()

const { plan, set, figure } = usePlan()
const pointer = computed(() => `/feed/${props.sheet.place}`)
const there = computed(() => !!plan.value?.feed?.[props.sheet.place])
/** What is being typed, until it has what it cannot be without. */
const draft = shallowRef<unknown>(null)
const missing = computed(() => (draft.value ? wanting(draft.value, '', props.sheet.fields) : []))

function begin(): void {
  draft.value = props.sheet.fresh
  keep()
}

function change(one: Change): void {
  draft.value = withChanges(draft.value, [one])
  keep()
}

function drop(): void {
  if (there.value) set(pointer.value, null)
  draft.value = null
}

function keep(): void {
  if (missing.value.length) return
  set(pointer.value, draft.value)
  draft.value = null
}

/** Behind a converter a gauge that is not led to the pack sees nothing of it. */
const asksLed = computed(() => props.sheet.place === 'gauge' && !there.value && !!figure('output.most_v'))
/** Only the gauge has levels of its own: at which true volts each comes, old and new. */
const alarms = computed(() => {
  if (props.sheet.place !== 'gauge') return []
  return (plan.value?.device.brains?.alarms ?? []).map((alarm, i) => ({
    id: `gauge.alarm_true_v@${i}`,
    label: `“${alarm.name}” comes at`,
  }))
})
const figures = computed(() => [...props.sheet.figures, ...alarms.value].filter(({ id }) => figure(id)))
</script>

<template>
  <section class="section" :data-feed="sheet.place" :data-at="pointer">
    <h2>{{ sheet.title }}</h2>
    <p class="lead">{{ sheet.lead }}</p>
    <template v-if="there || draft">
      <p v-if="!there" class="lead">It counts once these are typed: {{ missing.join(', ') }}.</p>
      <!-- One form for both, so that nothing moves under the fingers when a draft becomes a part of the plan. -->
      <PartFields
        class="after"
        :part="there ? pointer : ''"
        :fields="sheet.fields"
        :draft="there ? undefined : draft"
        @change="change"
      />
      <PartPicker
        v-if="there && sheet.place === 'second'"
        class="after"
        place="second-pack"
        title="A bought pack as the second"
        intro="It then decides the count, capacity and resistance above."
      />
      <PartPicker
        v-if="there && sheet.place === 'second'"
        class="after"
        place="second-guard"
        title="Its own protection"
        intro="A board or cut-off in the second pack: each sees its own cells only."
      />
      <PartPicker
        v-if="there && sheet.place === 'second'"
        class="after"
        place="selector"
        title="The switch between them"
        intro="It carries the whole current, and must break one position before it makes the other."
      />
      <div v-if="there" class="after">
        <FigureText v-for="f in figures" :id="f.id" :key="f.id" :label="f.label" />
      </div>
      <v-btn class="after" size="small" variant="text" @click="drop">{{ sheet.remove }}</v-btn>
    </template>
    <v-btn v-else class="after" size="small" @click="begin">{{ sheet.add }}</v-btn>
    <v-select
      v-if="asksLed"
      class="after led"
      label="Its sense wire goes to the pack, before the converter"
      :items="yesno"
      :model-value="plan?.feed?.gauge_led ?? null"
      data-at="/feed/gauge_led"
      @update:model-value="set('/feed/gauge_led', $event)"
    />
  </section>
</template>

<style scoped>
.led {
  max-width: 480px;
}

/* A reading shares its field with how it is known: narrower, its name would be cut. */
:deep(.fields) {
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 320px), 1fr));
}
</style>
