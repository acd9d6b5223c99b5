<script setup lang="ts">
// The one next step of the plan, always in sight; it leads to the very field.
import { mdiArrowRight } from '@mdi/js'
import { computed, nextTick } from 'vue'
import { useRouter } from 'vue-router'
import { goTo } from '../state/place'
import { usePlan } from '../state/plan'

const emit = defineEmits<{ finding: [key: string] }>()

const router = useRouter()
const { plan, assessment } = usePlan()
const next = computed(() => assessment.value?.next)

async function go(): Promise<void> {
  const step = next.value
  if (!step || !plan.value) return
  if (step.kind === 'build') {
    await router.push({ name: 'build' })
  } else if (step.finding) {
    if (step.stage) await router.push({ name: step.stage })
    emit('finding', step.finding)
    await nextTick()
    const card = document.querySelector<HTMLElement>(`[data-finding="${CSS.escape(step.finding)}"]`)
    card?.scrollIntoView({ block: 'center' })
    card?.querySelector<HTMLElement>('button')?.focus({ preventScroll: true })
  } else if (step.at) await goTo(router, plan.value, step.at)
}
</script>

<template>
  <button
    v-if="next"
    type="button"
    class="next"
    :class="next.kind"
    data-testid="next"
    :data-next-at="next.at ?? ''"
    @click="go"
  >
    <b>Next</b>
    <span class="says">{{ next.says }}</span>
    <span v-if="next.settles" class="soft settles">settles {{ next.settles }}</span>
    <v-icon :icon="mdiArrowRight" size="18" />
  </button>
</template>

<style scoped>
.next {
  display: flex;
  gap: 10px;
  align-items: center;
  width: 100%;
  min-height: 36px;
  padding: 4px 16px;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  background: var(--petrol-tint);
  color: var(--ink);
  font: inherit;
  text-align: left;
  cursor: pointer;
}

.next.clear_stop {
  background: var(--stop-tint);
}

.says {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.settles {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.next > :last-child {
  margin-left: auto;
}

@media (max-width: 900px) {
  .next {
    min-height: 48px;
    padding: 4px 12px;
    border-top: 1px solid var(--line-strong);
    border-bottom: 0;
    font-size: 15px;
    line-height: 1.25;
  }

  .says {
    display: -webkit-box;
    -webkit-box-orient: vertical;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    white-space: normal;
  }

  .settles {
    display: none;
  }
}
</style>
