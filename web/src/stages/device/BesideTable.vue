<script setup lang="ts">
// What else draws while the device runs: a lamp, a fan, a meter, a second output. It adds to every level.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { Beside, Known } from '../../api/types'
import FigureText from '../../ui/FigureText.vue'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { usePlan } from '../../state/plan'
import { drawItems, draws, firstDraw, valueOf, type DrawKind } from './drawn'

const FIRST_A = 0.1

const { plan, set, figure } = usePlan()
const items = computed<Beside[]>(() => plan.value?.feed?.beside ?? [])
const regulated = computed(
  () => plan.value?.nodes.find((n) => n.kind === 'converter')?.part.state === 'chosen',
)
const at = (index: number) => `/feed/beside/${index}`

const feeds = [
  { value: 'battery', title: 'the battery' },
  { value: 'output', title: 'the converter’s output' },
]
const always = [
  { value: false, title: 'only while it runs' },
  { value: true, title: 'day and night' },
]

const invented = (item: Beside) => {
  const { how, value } = valueOf(item.draw)
  return how === 'assumed' && (value === draws[item.draw.as].first || value === FIRST_A)
}

function setValue(index: number, item: Beside, value: Known | null | undefined): void {
  if (value) set(`${at(index)}/draw/${draws[item.draw.as].field}`, value)
}

function add(): void {
  const taken = new Set(items.value.map((b) => b.id))
  let number = 1
  while (taken.has(`beside-${number}`)) number++
  const item = { id: `beside-${number}`, name: 'lamp', draw: firstDraw('current', FIRST_A) }
  set('/feed/beside', [...items.value, item])
}

function remove(index: number): void {
  set(
    '/feed/beside',
    items.value.filter((_, i) => i !== index),
  )
}
</script>

<template>
  <FoldSection
    name="beside"
    title="Also connected"
    :summary="items.map((b) => b.name).join(', ') || 'nothing'"
    :away="!items.length"
    data-testid="beside"
  >
    <p class="lead">Lamp, fan, panel meter, second output: each adds to the current of every level.</p>
    <div v-for="(item, i) in items" :key="item.id" class="item" :data-at="at(i)">
      <v-text-field
        label="What"
        :model-value="item.name"
        maxlength="120"
        @update:model-value="$event.trim() && set(`${at(i)}/name`, $event)"
      />
      <v-select
        label="As"
        :items="drawItems"
        :model-value="item.draw.as"
        @update:model-value="set(`${at(i)}/draw`, firstDraw($event as DrawKind))"
      />
      <KnownField
        :key="item.draw.as"
        label="Draws"
        :range="draws[item.draw.as].range"
        required
        :invented="invented(item)"
        :model-value="valueOf(item.draw)"
        :data-at="`${at(i)}/draw`"
        @update:model-value="setValue(i, item, $event)"
      />
      <v-select
        v-if="regulated"
        label="Connected to"
        :items="feeds"
        :model-value="item.fed ?? 'battery'"
        :data-at="`${at(i)}/fed`"
        @update:model-value="set(`${at(i)}/fed`, $event)"
      />
      <QuantityField
        label="Own regulator, output"
        placeholder="none"
        range="device_volts"
        :model-value="item.own_v"
        :data-at="`${at(i)}/own_v`"
        @update:model-value="set(`${at(i)}/own_v`, $event)"
      />
      <QuantityField
        v-if="item.own_v != null"
        label="Its efficiency"
        placeholder="85 % typical"
        range="efficiency"
        :model-value="item.efficiency"
        @update:model-value="set(`${at(i)}/efficiency`, $event)"
      />
      <v-select
        label="When"
        :items="always"
        :model-value="item.always ?? false"
        :data-at="`${at(i)}/always`"
        @update:model-value="set(`${at(i)}/always`, $event)"
      />
      <v-btn
        :icon="mdiDeleteOutline"
        variant="text"
        size="small"
        :aria-label="`Remove ${item.name}`"
        @click="remove(i)"
      />
    </div>
    <FigureText v-if="figure('load.beside_a')" id="load.beside_a" label="Together, at the battery" />
    <v-btn class="after" :prepend-icon="mdiPlus" size="small" @click="add">Another consumer</v-btn>
  </FoldSection>
</template>

<style scoped>
.item {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 190px), 1fr));
  gap: 10px 6px;
  align-items: start;
  padding: 10px 0;
  border-bottom: 1px solid var(--line);
}
</style>
