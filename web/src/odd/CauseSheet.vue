<script setup lang="ts">
// One cause: how to prove it, what to do, what may have been harmed, where it is in the diagram; and into the record with it.
import { computed } from 'vue'
import type { Cause, CauseLine, PointName } from '../api/types'
import CircuitDrawing from '../diagram/CircuitDrawing.vue'
import { around } from '../build/crop'
import { useAnswer } from '../state/answer'
import IntoRecord from './IntoRecord.vue'
import type { Known } from './evidence'
import { percent } from './words'

const props = defineProps<{
  cause: Cause
  /** The line of the list that it stands for: one place of several is not drawn. */
  line: CauseLine | null
  known: Known
  points: PointName[]
}>()

const { answer: diagram } = useAnswer(() => ({
  about: 'diagram',
  shown: { condition: 'rest', held: 'half', in_series: null },
}))
const title = computed(() => props.line?.says ?? props.cause.says)
const placed = computed(() => {
  const { blocks, nodes } = props.cause.place
  return title.value === props.cause.says && blocks.length + nodes.length > 0
})
/** The part of the diagram that it is in; nodes of the pack stand in its block. */
const crop = computed(() => {
  const { blocks, nodes } = props.cause.place
  const shown = nodes.length && !blocks.length ? ['pack'] : blocks
  return diagram.value && around(diagram.value.drawing, shown)
})
</script>

<template>
  <section class="cause" data-testid="cause">
    <h2>{{ title }}</h2>
    <figure v-if="diagram && placed && crop">
      <CircuitDrawing
        :diagram="diagram"
        :red="null"
        :black="null"
        :touched="null"
        :fault="cause.place"
        :crop="crop"
        quiet
      />
    </figure>
    <dl>
      <dt>Check it</dt>
      <dd>{{ cause.proof }}</dd>
      <dt>Repair</dt>
      <dd>{{ cause.cure }}</dd>
      <template v-if="cause.harmed">
        <dt>May be damaged</dt>
        <dd>{{ cause.harmed }}</dd>
      </template>
      <template v-if="cause.reasons.length">
        <dt>Why</dt>
        <dd>
          <ul class="rows">
            <li v-for="r in cause.reasons" :key="r.fault" :data-reason="r.fault">
              <b>{{ percent(r.probability) }}</b> <span>{{ r.says }}</span>
            </li>
          </ul>
        </dd>
      </template>
    </dl>
    <IntoRecord :cause="cause" :known="known" :points="points" />
  </section>
</template>

<style scoped>
.cause {
  margin-top: 20px;
}

figure {
  margin: 10px 0;
  padding: 6px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  overflow-x: auto;
}

dl {
  display: grid;
  grid-template-columns: 108px minmax(0, 1fr);
  gap: 8px 14px;
  margin: 10px 0;
}

dt {
  color: var(--soft);
}

dd {
  margin: 0;
  max-width: 62ch;
}

@media (max-width: 600px) {
  dl {
    grid-template-columns: minmax(0, 1fr);
    gap: 2px;
  }

  dd {
    margin-bottom: 8px;
  }
}
</style>
