<script setup lang="ts">
// A plan in the list: what it is, what is against it, what is at hand; and what can be done with it.
import {
  mdiContentDuplicate,
  mdiDeleteOutline,
  mdiDotsVertical,
  mdiPencilOutline,
  mdiTrayArrowDown,
} from '@mdi/js'
import { files } from '../api/client'
import type { PlanSummary } from '../api/types'
import { moment } from '../format/moment'
import { money, show } from '../format/show'
import VerdictMark from '../ui/VerdictMark.vue'

defineProps<{ plan: PlanSummary }>()
const emit = defineEmits<{ rename: []; copy: []; remove: [] }>()

/** Stages of a plan. */
const STAGES = 8

function atHand(plan: PlanSummary): string {
  const { lines, to_buy_lines: missing } = plan
  return lines == null || missing == null ? '–' : `${lines - missing} of ${lines}`
}

function toBuy(plan: PlanSummary): string {
  if (plan.to_buy_lines == null) return 'no parts yet'
  const left = plan.to_buy_price ? `, ${money(plan.to_buy_price, plan.currency, 0)} to spend` : ''
  return `at hand${left}`
}

const verdict = (plan: PlanSummary) =>
  plan.stops || !plan.readable
    ? 'stop'
    : plan.cautions
      ? 'caution'
      : plan.done_stages === STAGES
        ? 'fine'
        : 'open'

function verdictWords(plan: PlanSummary): string {
  if (!plan.readable) return 'damaged: this plan cannot be read'
  const many = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
  const said = [plan.stops && many(plan.stops, 'stop'), plan.cautions && many(plan.cautions, 'caution')]
  const done = `, ${plan.done_stages} of ${STAGES} stages done`
  return (said.filter(Boolean).join(', ') || 'no findings') + done
}
</script>

<template>
  <li class="plan">
    <router-link class="open" :to="{ name: 'path', params: { id: plan.id } }">
      <VerdictMark :verdict="verdict(plan)" :size="22" />
      <span class="what">
        <b>{{ plan.name }}</b>
        <span class="soft">{{ verdictWords(plan) }}</span>
        <span v-if="plan.next" class="soft next">Next: {{ plan.next }}</span>
      </span>
      <span class="pack">
        <b>{{ plan.counts }}</b>
        <span class="soft">{{ plan.chemistry ?? 'no chemistry yet' }}</span>
      </span>
      <span class="pack wide">
        <b>{{ plan.pack_wh ? show(plan.pack_wh, 'wh') : '–' }}</b>
        <span class="soft">{{ plan.run_s ? show(plan.run_s, 's') : 'run time not known' }}</span>
      </span>
      <span class="pack wide" :data-at-hand="plan.at_hand_share ?? -1">
        <b>{{ atHand(plan) }}</b>
        <span class="soft">{{ toBuy(plan) }}</span>
      </span>
      <span class="soft wide when">{{ moment(plan.updated_at) }}<br />revision {{ plan.revision }}</span>
    </router-link>
    <v-menu>
      <template #activator="{ props: menu }">
        <v-btn
          v-bind="menu"
          :icon="mdiDotsVertical"
          variant="text"
          size="small"
          :aria-label="`More for ${plan.name}`"
        />
      </template>
      <v-list density="compact">
        <v-list-item
          :prepend-icon="mdiPencilOutline"
          title="Rename"
          :aria-label="`Rename ${plan.name}`"
          @click="emit('rename')"
        />
        <v-list-item
          :prepend-icon="mdiContentDuplicate"
          title="Make a copy"
          :aria-label="`Copy ${plan.name}`"
          @click="emit('copy')"
        />
        <v-list-item
          :prepend-icon="mdiTrayArrowDown"
          title="Export as a file"
          :aria-label="`Export ${plan.name}`"
          :href="files.plan(plan.id)"
        />
        <v-list-item
          :prepend-icon="mdiDeleteOutline"
          title="Delete"
          :aria-label="`Delete ${plan.name}`"
          @click="emit('remove')"
        />
      </v-list>
    </v-menu>
  </li>
</template>

<style scoped>
.plan {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--line-strong);
  background: var(--sheet);
  padding-right: 6px;
}

.open {
  flex: 1;
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr) 120px 110px 150px 164px;
  gap: 14px;
  align-items: center;
  padding: 13px 14px;
  color: inherit;
  text-decoration: none;
  min-width: 0;
}

.open:hover {
  background: var(--petrol-tint);
}

.what,
.pack {
  display: flex;
  flex-direction: column;
  min-width: 0;
}

.what b,
.pack b {
  font-size: 17px;
}

@media (max-width: 1000px) {
  .open {
    grid-template-columns: 22px minmax(0, 1fr) 110px 90px 140px;
  }

  .when {
    display: none;
  }
}

@media (max-width: 760px) {
  .open {
    grid-template-columns: 22px minmax(0, 1fr) 96px;
    gap: 10px;
    padding: 11px 8px;
  }

  .wide {
    display: none;
  }
}
</style>
