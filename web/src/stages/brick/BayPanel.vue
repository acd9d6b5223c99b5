<script setup lang="ts">
// What goes into the compartment beside the brick: each thing with its size, and where it finds a place, seen from above.
import { computed, reactive } from 'vue'
import { usePlan } from '../../state/plan'
import { show } from '../../format/show'
import QuantityField from '../../ui/QuantityField.vue'

const { plan, assessment, set } = usePlan()
const bay = computed(() => assessment.value?.bay ?? null)

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

const placed = computed(() => bay.value?.things.filter((t) => t.at) ?? [])
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
      <QuantityField
        v-for="[side, label] in SIDES"
        :key="side"
        :label="label"
        range="size"
        :model-value="node.size?.[side] ?? drafts[node.id]?.[side] ?? null"
        @update:model-value="put(i, side, $event)"
      />
    </div>
    <template v-if="bay">
      <p v-if="bay.moved" class="after" data-testid="pushed">
        The brick is pushed aside to {{ show(bay.brick.low_mm[0] ?? 0, 'mm') }} from the near end,
        {{ show(bay.brick.low_mm[1] ?? 0, 'mm') }} from the near side and
        {{ show(bay.brick.low_mm[2] ?? 0, 'mm') }} from the floor.
      </p>
      <svg
        class="after"
        :viewBox="`-1 -1 ${bay.space_mm[0]! + 2} ${bay.space_mm[1]! + 2}`"
        role="img"
        :aria-label="`${bay.name} from above`"
      >
        <rect class="walls" x="0" y="0" :width="bay.space_mm[0]" :height="bay.space_mm[1]" />
        <rect
          v-for="(o, k) in bay.in_the_way"
          :key="k"
          class="blocked"
          :x="o.low_mm[0]"
          :y="o.low_mm[1]"
          :width="o.high_mm[0]! - o.low_mm[0]!"
          :height="o.high_mm[1]! - o.low_mm[1]!"
        />
        <rect
          class="brick"
          :x="bay.brick.low_mm[0]"
          :y="bay.brick.low_mm[1]"
          :width="bay.brick.high_mm[0]! - bay.brick.low_mm[0]!"
          :height="bay.brick.high_mm[1]! - bay.brick.low_mm[1]!"
        />
        <g v-for="(t, k) in placed" :key="t.node">
          <rect
            class="part"
            :x="t.at!.low_mm[0]"
            :y="t.at!.low_mm[1]"
            :width="t.at!.high_mm[0]! - t.at!.low_mm[0]!"
            :height="t.at!.high_mm[1]! - t.at!.low_mm[1]!"
          />
          <title>{{ t.name }}</title>
          <text :x="t.at!.low_mm[0]! + 2" :y="t.at!.low_mm[1]! + 7">{{ k + 1 }}</text>
        </g>
      </svg>
      <table class="values">
        <thead>
          <tr>
            <th>Part</th>
            <th class="n">From the end</th>
            <th class="n">From the side</th>
            <th class="n">From the floor</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in bay.things" :key="t.node">
            <td>{{ placed.includes(t) ? `${placed.indexOf(t) + 1}. ` : '' }}{{ t.name }}</td>
            <template v-if="t.at">
              <td v-for="k in [0, 1, 2]" :key="k" class="n">{{ show(t.at.low_mm[k] ?? 0, 'mm') }}</td>
            </template>
            <td v-else colspan="3" class="n">no place</td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.thing {
  display: grid;
  grid-template-columns: minmax(140px, 1.6fr) repeat(3, minmax(90px, 1fr));
  gap: 8px;
  align-items: center;
  padding: 6px 0;
}

svg {
  width: 100%;
  max-width: 560px;
  display: block;
}

.walls {
  fill: var(--sheet);
  stroke: var(--ink);
  stroke-width: 0.8;
}

.blocked {
  fill: var(--line-strong);
}

.brick {
  fill: var(--copper);
  opacity: 0.75;
}

text {
  font-size: 6px;
  font-weight: 700;
  fill: var(--sheet);
}

.part {
  fill: var(--petrol);
  opacity: 0.75;
  stroke: var(--sheet);
  stroke-width: 0.6;
}

@media (max-width: 700px) {
  .thing {
    grid-template-columns: 1fr 1fr 1fr;
  }

  .thing > b {
    grid-column: 1 / -1;
  }
}
</style>
