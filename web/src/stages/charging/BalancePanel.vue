<script setup lang="ts">
// The groups as read at rest, in charge, and what each school of balancing makes of their difference.
import { computed } from 'vue'
import type { Known, Leveller } from '../../api/types'
import { show, showFine } from '../../format/show'
import { useAnswer } from '../../state/answer'
import { usePlan } from '../../state/plan'
import AnswerNote from '../../ui/AnswerNote.vue'
import FigureText from '../../ui/FigureText.vue'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import VerdictMark from '../../ui/VerdictMark.vue'

const { plan, set, figure } = usePlan()
const { answer: balance, stale, problem } = useAnswer(() => ({ about: 'balance' }))

const series = computed(() => plan.value?.packs[0]?.series ?? 0)
const read = computed(() => plan.value?.packs[0]?.group_v ?? [])

/** Readings are kept from pack minus on without gaps: the next one is asked when the one before is there. */
const asking = computed(() => Math.min(series.value, read.value.length + 1))

function write(index: number, value: Known | null | undefined): void {
  const before = read.value.slice(0, index)
  set('/packs/0/group_v', value ? [...before, value, ...read.value.slice(index + 1)] : before)
}

const names: Record<Leveller, string> = {
  hobby_charger: 'hobby charger at the taps',
  bleeders: 'the board’s balancer',
  nobody: 'nobody',
}

const [WIDTH, HEIGHT, LEFT, RIGHT] = [720, 26, 54, 24]
const groups = computed(() => balance.value?.spread?.groups ?? [])
const x = (soc: number) => LEFT + soc * (WIDTH - LEFT - RIGHT)

const summary = computed(() => {
  const apart = figure('balance.apart_v')
  if (read.value.length < series.value) return `${read.value.length} of ${series.value} groups measured`
  return apart ? `${show(apart.value, 'v')} apart` : `${series.value} groups measured`
})
</script>

<template>
  <FoldSection
    v-if="series > 1"
    name="balance"
    title="Are the groups in balance?"
    :summary="summary"
    :away="!read.length"
    data-testid="balance"
  >
    <p class="lead">
      After an hour of rest, each group over its two taps, from pack minus. Read to a few millivolts; on a
      flat plateau even that says little.
    </p>
    <div class="fields after">
      <KnownField
        v-for="i in asking"
        :key="i"
        as="measured"
        :label="`Group ${i}, B${i - 1} to B${i}`"
        range="tap_volts"
        :model-value="read[i - 1] ?? null"
        @update:model-value="write(i - 1, $event)"
      />
    </div>
    <AnswerNote :stale="stale" :problem="problem" />
    <p v-if="balance?.missing" class="soft after">{{ balance.missing }}</p>
    <template v-else-if="balance?.spread">
      <div class="sideways" tabindex="0" role="region" aria-label="Charge of each group">
        <svg
          :viewBox="`0 0 ${WIDTH} ${groups.length * HEIGHT + 26}`"
          role="img"
          aria-label="Charge of each group, with the meter's uncertainty; the values are in the table below"
        >
          <g v-for="tenth in 11" :key="tenth" class="grid">
            <path :d="`M${x((tenth - 1) / 10)} 0 V${groups.length * HEIGHT}`" />
            <text :x="x((tenth - 1) / 10)" :y="groups.length * HEIGHT + 17" text-anchor="middle">
              {{ show((tenth - 1) / 10, 'share') }}
            </text>
          </g>
          <g v-for="(g, i) in groups" :key="i" :transform="`translate(0 ${i * HEIGHT})`">
            <text x="0" y="17">B{{ i }}–B{{ i + 1 }}</text>
            <rect class="open" :x="x(g.soc_low)" y="5" :width="x(g.soc_high) - x(g.soc_low)" height="16" />
            <path class="mark" :d="`M${x(g.soc)} 2 V24`" />
          </g>
        </svg>
      </div>
      <details>
        <summary>Every value</summary>
        <table class="values">
          <thead>
            <tr>
              <th>Group</th>
              <th class="n">Measured</th>
              <th class="n">Charge</th>
              <th class="n">Range</th>
              <th class="n">Above the emptiest</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(g, i) in groups" :key="i">
              <td>B{{ i }}–B{{ i + 1 }}</td>
              <td class="n">{{ showFine(g.rested_v) }}</td>
              <td class="n">{{ show(g.soc, 'share') }}</td>
              <td class="n">{{ show(g.soc_low, 'share') }} and {{ show(g.soc_high, 'share') }}</td>
              <td class="n">{{ show(g.above_ah, 'ah') }}</td>
            </tr>
          </tbody>
        </table>
      </details>
      <div class="halves after">
        <div>
          <FigureText id="balance.apart_v" />
          <FigureText id="balance.apart_ah" label="In charge" />
          <FigureText id="balance.at_full_v" label="At the end of the charge" />
        </div>
        <div v-if="figure('balance.heat_w')">
          <FigureText id="balance.level_s" label="Hours of bleeding" />
          <FigureText id="balance.charges" label="Charges" />
          <FigureText id="balance.heat_w" />
        </div>
      </div>
      <p v-if="balance.spread.to_move_ah > 0" class="after" data-testid="to-move">
        In total {{ show(balance.spread.to_move_ah, 'ah') }} must leave the groups above the emptiest.
      </p>
      <h3 class="after">Three methods</h3>
      <ul class="rows schools">
        <li v-for="s in balance.schools" :key="s.way.school" :data-school="s.way.school">
          <b>{{ names[s.way.school] }}</b>
          <span>
            <template v-if="s.way.bleed_a > 0">
              {{ show(s.way.bleed_a, 'a')
              }}<template v-if="s.way.level_s">, {{ show(s.way.level_s, 's') }}</template
              ><template v-if="(s.way.charges ?? 0) > 1"> , or {{ s.way.charges }} full charges</template
              ><template v-if="s.way.trickle_s">
                , or {{ show(s.way.trickle_s, 's') }} through the trickle path</template
              ><template v-if="s.way.heat_all_w">, {{ show(s.way.heat_all_w, 'w') }} of heat</template>;
            </template>
            <template v-else-if="s.way.school === 'bleeders'">this board has none; </template>
            after one charge {{ show(s.left_v, 'v') }} apart at the end.
            <span class="soft">{{ s.way.says }}</span>
          </span>
        </li>
      </ul>
      <p v-if="balance.holds != null" class="after holds">
        <VerdictMark :verdict="balance.holds ? 'fine' : 'caution'" />
        <span v-if="balance.holds">The balancer holds a full cell at the end of the charge.</span>
        <span v-else>
          The balancer holds a full cell only below a charge current of {{ show(balance.limit_a ?? 0, 'a') }}:
          limit the supply to that for one long charge, under watch.
        </span>
      </p>
      <p v-if="balance.assumed" class="soft">
        No published curve for this chemistry: the charge is a line through common figures.
      </p>
    </template>
  </FoldSection>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  min-width: 460px;
  max-width: 760px;
  margin-top: 12px;
}

text {
  fill: var(--ink);
  font-size: 13px;
}

.grid path {
  stroke: var(--line);
}

.grid text {
  fill: var(--soft);
  font-size: 12px;
}

.open {
  fill: var(--copper);
  fill-opacity: 0.35;
}

.mark {
  stroke: var(--copper);
  stroke-width: 3;
}

.schools > li {
  flex-wrap: nowrap;
  align-items: flex-start;
}

.schools b {
  flex: 0 0 190px;
}

.holds {
  display: flex;
  gap: 10px;
  align-items: center;
}

@media (max-width: 700px) {
  .schools > li {
    flex-wrap: wrap;
  }
}
</style>
