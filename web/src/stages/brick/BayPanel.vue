<script setup lang="ts">
// What goes into the compartment beside the brick: each thing with its size, and where it sits.
import { computed, reactive } from 'vue'
import { usePlan } from '../../state/plan'
import type { Node } from '../../api/types'
import QuantityField from '../../ui/QuantityField.vue'
import BayDrawing from './BayDrawing.vue'

const { plan, assessment, set, edit } = usePlan()
const bays = computed(() => assessment.value?.bays ?? [])

const SIDES = [
  ['length_mm', 'Length'],
  ['width_mm', 'Width'],
  ['height_mm', 'Height'],
] as const
type Side = (typeof SIDES)[number][0]

/** Chosen parts that could go in: the pack and the device are the brick and the walls. */
const things = computed(() =>
  (plan.value?.nodes ?? [])
    .map((node, i) => ({ node, i }))
    .flatMap(({ node, i }) => {
      const fixed = ['pack', 'device', 'supply'].includes(node.kind)
      if (node.part.state !== 'chosen' || node.with || fixed || !goesIn(node.id, node.kind)) return []
      return [{ node, i, name: nameOf(node.part.part, node.kind) }]
    }),
)
/** A part of a node stands one level below its type. */
function nameOf(part: object, kind: string): string {
  const body = Object.values(part).find((v): v is { offer: { name: string } } => !!v?.offer)
  return body?.offer.name ?? kind.replace('_', '-')
}
/** A wall charger has no pads here, and stays outside. */
const goesIn = (id: string, kind: string) =>
  kind !== 'charger' || !!assessment.value?.things.some((t) => t.node === id)

/** Sides typed so far: a thing has a size once it has all three. */
const drafts = reactive<Record<string, Partial<Record<Side, number | null>>>>({})

function put(index: number, side: Side, value: number | null | undefined): void {
  const node = plan.value?.nodes[index]
  if (!node) return
  const draft = { ...drafts[node.id], ...node.size, [side]: value ?? null }
  drafts[node.id] = draft
  const whole = SIDES.every(([name]) => draft[name] != null)
  if (whole) set(`/nodes/${index}/size`, draft)
  else if (node.size) set(`/nodes/${index}/size`, null)
}

/** Where a thing may sit: a compartment by its id, or a place that is none. */
const places = computed(() => {
  const inside = plan.value?.device.compartments ?? []
  return [
    ...inside.map((c) => ({ value: c.id, title: `in “${c.name}”` })),
    { value: 'outside', title: 'outside' },
    { value: 'on_the_lead', title: 'on the lead' },
    { value: null, title: inside.length > 1 ? 'with the pack' : 'in the device' },
  ]
})
const isPlace = (value: string | null) => value === 'outside' || value === 'on_the_lead'

function sit(index: number, value: string | null): void {
  // A charger that sits inside stays there when its compartment is left open.
  const inside = value !== null || plan.value?.nodes[index]?.sits === 'inside'
  edit([
    { at: `/nodes/${index}/sits`, value: isPlace(value) ? value : inside ? 'inside' : null },
    { at: `/nodes/${index}/compartment`, value: isPlace(value) ? null : value },
  ])
}
const sitsAt = (node: Node) => (node.sits && node.sits !== 'inside' ? node.sits : (node.compartment ?? null))
</script>

<template>
  <section v-if="things.length" class="section" data-testid="bay">
    <h2>Also in the compartment</h2>
    <p class="lead">
      Enter the size of what goes in beside the brick, with its wires. Things without a size, or outside, are
      left out.
    </p>
    <div v-for="{ node, i, name } in things" :key="node.id" class="thing" :data-at="`/nodes/${i}/size`">
      <b>{{ name }}</b>
      <v-select
        label="It sits"
        :items="places"
        :model-value="sitsAt(node)"
        :data-at="`/nodes/${i}/sits`"
        @update:model-value="sit(i, $event)"
      />
      <QuantityField
        v-for="[side, label] in SIDES"
        :key="side"
        :label="label"
        range="size"
        :model-value="node.size?.[side] ?? drafts[node.id]?.[side] ?? null"
        @update:model-value="put(i, side, $event)"
      />
    </div>
    <BayDrawing v-for="bay in bays" :key="bay.id" :bay="bay" />
  </section>
</template>

<style scoped>
.thing {
  display: grid;
  grid-template-columns: minmax(140px, 1.4fr) minmax(150px, 1.2fr) repeat(3, minmax(84px, 0.8fr));
  gap: 8px;
  align-items: center;
  padding: 6px 0;
}

@media (max-width: 700px) {
  .thing {
    grid-template-columns: 1fr 1fr 1fr;
  }

  .thing > b,
  .thing > b + * {
    grid-column: 1 / -1;
  }
}
</style>
