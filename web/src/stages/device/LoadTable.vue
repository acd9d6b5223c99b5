<script setup lang="ts">
// What the device draws: levels with how long and how often.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { Known, Load } from '../../api/types'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import QuantityField from '../../ui/QuantityField.vue'
import { usePlan } from '../../state/plan'
import { show } from '../../format/show'
import { drawItems, draws, firstDraw, valueOf, type DrawKind } from './drawn'

const LoadLogDialog = defineAsyncComponent(() => import('./LoadLogDialog.vue'))
const RechargeDialog = defineAsyncComponent(() => import('./RechargeDialog.vue'))

const { plan, set } = usePlan()
const logging = ref(false)
const recharging = ref(false)

const loads = computed<Load[]>(() => plan.value?.device.loads ?? [])

const FIRST_PEAK = 10

const at = (index: number) => `/device/loads/${index}`

/** Whether a level still has the value that it began with. */
function invented(load: Load): boolean {
  const { value, how } = valueOf(load.draw)
  return how === 'assumed' && (value === draws[load.draw.as].first || value === FIRST_PEAK)
}

const said = (load: Load) => `${load.name} ${show(valueOf(load.draw).value, draws[load.draw.as].unit)}`

function setValue(index: number, load: Load, value: Known | null | undefined): void {
  if (value) set(`${at(index)}/draw/${draws[load.draw.as].field}`, value)
}

function setKind(index: number, kind: DrawKind): void {
  set(`${at(index)}/draw`, firstDraw(kind))
}

function add(peak: boolean): void {
  const taken = new Set(loads.value.map((l) => l.id))
  let number = 1
  while (taken.has(`load-${number}`)) number++
  const load = {
    id: `load-${number}`,
    name: peak ? 'start' : loads.value.length ? 'hard use' : 'usual use',
    draw: firstDraw('current', peak ? FIRST_PEAK : undefined),
    duration_s: peak ? 0.5 : loads.value.length ? 20 : null,
    every_s: null,
  }
  set('/device/loads', [...loads.value, load])
}

function remove(index: number): void {
  set(
    '/device/loads',
    loads.value.filter((_, i) => i !== index),
  )
}

function rename(index: number, name: string): void {
  if (name.trim()) set(`${at(index)}/name`, name)
}
</script>

<template>
  <FoldSection
    name="loads"
    title="What it draws"
    :summary="loads.map(said).join(', ') || 'nothing known yet'"
  >
    <p class="lead">
      The first level without a duration is the usual one. Up to 10 s counts as a peak; a hand meter reads it
      too low: mark it “at least”.
    </p>
    <p v-if="!loads.length" class="soft none">Nothing measured yet. Put a meter in series and run it.</p>
    <div v-for="(load, i) in loads" :key="load.id" class="load" :data-load="load.id" :data-at="at(i)">
      <v-text-field
        label="Level"
        :model-value="load.name"
        maxlength="120"
        @update:model-value="rename(i, $event)"
      />
      <v-select
        label="As"
        :items="drawItems"
        :model-value="load.draw.as"
        @update:model-value="setKind(i, $event as DrawKind)"
      />
      <KnownField
        :key="load.draw.as"
        label="Draws"
        :range="draws[load.draw.as].range"
        required
        :invented="invented(load)"
        :model-value="valueOf(load.draw)"
        :data-at="`${at(i)}/draw`"
        @update:model-value="setValue(i, load, $event)"
      />
      <QuantityField
        label="Lasts"
        placeholder="no end"
        range="duration"
        :model-value="load.duration_s"
        :data-at="`${at(i)}/duration_s`"
        @update:model-value="set(`${at(i)}/duration_s`, $event)"
      />
      <QuantityField
        label="Every"
        placeholder="–"
        range="duration"
        :model-value="load.every_s"
        @update:model-value="set(`${at(i)}/every_s`, $event)"
      />
      <v-btn
        :icon="mdiDeleteOutline"
        variant="text"
        size="small"
        :aria-label="`Remove ${load.name}`"
        @click="remove(i)"
      />
    </div>
    <div class="add">
      <v-btn :prepend-icon="mdiPlus" size="small" @click="add(false)">
        {{ loads.length ? 'Another level' : 'Usual current' }}
      </v-btn>
      <v-btn v-if="loads.length" :prepend-icon="mdiPlus" size="small" @click="add(true)"
        >Start or stall peak</v-btn
      >
      <v-btn size="small" @click="logging = true">From a log of readings…</v-btn>
      <v-btn size="small" @click="recharging = true">From a recharge…</v-btn>
    </div>
    <LoadLogDialog v-if="logging" v-model="logging" />
    <RechargeDialog v-if="recharging" v-model="recharging" />
  </FoldSection>
</template>

<style scoped>
.none {
  margin: 8px 0;
}

.load {
  display: grid;
  grid-template-columns:
    minmax(140px, 1.8fr) 112px minmax(190px, 1.4fr) minmax(84px, 0.8fr) minmax(76px, 0.7fr)
    40px;
  gap: 6px;
  align-items: start;
  padding: 10px 0;
  border-bottom: 1px solid var(--line);
}

.add {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin-top: 12px;
}

@media (max-width: 1100px) {
  .load {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
