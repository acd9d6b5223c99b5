<script setup lang="ts">
// The revisions of the plan with what each changed, and going back to one.
import { ref, watch } from 'vue'
import { api } from '../api/client'
import type { Difference, RevisionSummary } from '../api/types'
import { moment } from '../format/moment'
import { usePlan } from '../state/plan'

const open = defineModel<boolean>({ required: true })

/** Changes of one revision that are told before the rest is counted. */
const TOLD = 6

const { id, revision, save, goBackTo } = usePlan()
const history = ref<RevisionSummary[]>([])
const trouble = ref('')

watch(open, async (now) => {
  if (!now) return
  await save()
  const answer = await api.revisions(id.value)
  trouble.value = answer.ok ? '' : answer.problem.detail
  history.value = answer.ok ? answer.value : []
})

async function back(number: number): Promise<void> {
  const answer = await api.revision(id.value, number)
  if (!answer.ok) {
    trouble.value = answer.problem.detail
    return
  }
  open.value = false
  await goBackTo(answer.value)
}

function words({ before, after }: Difference): string {
  if (before == null) return `set to ${after}`
  return after == null ? `${before} removed` : `${before} → ${after}`
}
</script>

<template>
  <v-dialog v-model="open" max-width="640" scrollable aria-labelledby="history-title">
    <v-card class="panel">
      <h2 id="history-title">History</h2>
      <p class="lead">
        Ten minutes of work make one revision. Going back makes a new revision, so nothing is lost.
      </p>
      <p v-if="trouble" role="alert">{{ trouble }}</p>
      <ol class="list">
        <li v-for="r in history" :key="r.revision" :data-revision="r.revision">
          <div class="head">
            <b>Revision {{ r.revision }}</b>
            <span class="soft">{{ moment(r.saved_at) }}</span>
            <span v-if="r.revision === revision" class="soft">current</span>
            <v-btn
              v-else
              size="small"
              :aria-label="`Go back to revision ${r.revision}`"
              @click="back(r.revision)"
            >
              Go back
            </v-btn>
          </div>
          <ul v-if="r.changes.length">
            <li v-for="change in r.changes.slice(0, TOLD)" :key="change.at">
              {{ change.what }}: {{ words(change) }}
            </li>
            <li v-if="r.changes.length > TOLD" class="soft">and {{ r.changes.length - TOLD }} more</li>
          </ul>
          <p v-else class="soft">Start of the plan.</p>
        </li>
      </ol>
      <div><v-btn @click="open = false">Close</v-btn></div>
    </v-card>
  </v-dialog>
</template>

<style scoped>
.list {
  list-style: none;
  padding: 0;
  margin: 12px 0;
  overflow-y: auto;
}

.list > li {
  padding: 8px 0;
  border-top: 1px solid var(--line-strong);
}

.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
  min-height: 32px;
}

.head .soft {
  flex: 1;
}

ul {
  margin: 2px 0 0;
  padding-left: 20px;
  font-size: 14px;
}
</style>
