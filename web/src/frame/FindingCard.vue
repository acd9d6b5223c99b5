<script setup lang="ts">
// One finding: what is wrong, why it hurts, the smallest changes that clear it as buttons, or accepting it by name.
import { computed, ref } from 'vue'
import type { Finding, Fix } from '../api/types'
import { useFixes } from '../state/fixes'
import { usePlan } from '../state/plan'
import { useReference } from '../state/reference'
import { openWorking } from '../state/working'
import FixButton from '../ui/FixButton.vue'
import PhraseText from '../ui/PhraseText.vue'
import VerdictMark from '../ui/VerdictMark.vue'

const props = defineProps<{ finding: Finding; consequences?: Finding[]; here: boolean }>()
const emit = defineEmits<{ accept: [finding: Finding]; away: [] }>()

const { unaccept, figure } = usePlan()
const { source } = useReference()

/** Whether all of it is shown; of another stage only the short form is, until it is asked for. */
const unfolded = ref(false)
const short = computed(() => !props.here && !unfolded.value)

const { fixes, current } = useFixes(() => props.finding.key)
const wanted = computed(
  () => !props.finding.accepted && (props.finding.severity !== 'note' || !!fixes.value?.length),
)

/** The figure whose working shows best why: the deciding one, else the first that is named. */
const working = computed(() => {
  const named = props.finding.why.pieces.find((p) => p.is === 'quantity' && p.figure)
  const id = props.finding.deciding?.figure ?? (named?.is === 'quantity' ? named.figure : null)
  return id && figure(id) ? id : null
})

const alsoWords = computed(() => {
  const titles = (props.consequences ?? []).map((f) => f.title.text)
  return titles.map((t) => t.charAt(0).toLowerCase() + t.slice(1)).join('; ')
})

/** The best fix in the short form, three before the rest is asked for. */
const MOST = 3
const offered = computed(() => {
  const all = fixes.value ?? []
  return unfolded.value ? all : all.slice(0, short.value ? 1 : MOST)
})
const hidden = computed(() => (fixes.value?.length ?? 0) - offered.value.length)

const brings = (fix: Fix) => fix.brings.map((phrase) => phrase.text.toLowerCase()).join('; ')
</script>

<template>
  <article
    class="finding"
    :class="[finding.severity, { accepted: finding.accepted, short }]"
    :data-finding="finding.key"
  >
    <VerdictMark :verdict="finding.severity" />
    <div>
      <h3><PhraseText :phrase="finding.title" plain /></h3>
      <p><PhraseText :phrase="finding.why" /></p>
      <details v-if="consequences?.length" class="follows" data-testid="follows">
        <summary>Consequences: {{ alsoWords }}</summary>
        <p v-for="f in consequences" :key="f.key" :data-follows="f.key"><PhraseText :phrase="f.why" /></p>
      </details>
      <p v-if="finding.accepted" class="reason">Accepted: {{ finding.accepted }}</p>
      <div v-if="wanted && (fixes?.length || finding.severity === 'caution')" class="fixes">
        <!-- They stay while those of the last change are looked for, so that nothing jumps; but nobody can press them. -->
        <div v-if="offered.length" class="offered" :inert="!current">
          <template v-for="fix in offered" :key="fix.label">
            <FixButton class="fix" :fix="fix" />
            <span v-if="fix.brings.length" class="brings">side effect: {{ brings(fix) }}</span>
          </template>
        </div>
        <v-btn v-if="hidden > 0" size="small" variant="text" class="fix" @click="unfolded = true">
          {{ hidden }} more
        </v-btn>
        <v-btn
          v-if="finding.severity === 'caution'"
          size="small"
          variant="text"
          class="fix"
          :aria-label="`Accept: ${finding.title.text}`"
          @click="emit('accept', finding)"
        >
          Accept…
        </v-btn>
      </div>
      <p v-if="wanted && fixes?.length === 0 && finding.severity === 'stop'" class="source">
        No single change in the plan or the catalogue clears it.
      </p>
      <p class="foot">
        <button v-if="short" type="button" class="textlink" @click="unfolded = true">Details</button>
        <button v-if="working" type="button" class="textlink" @click="openWorking(working)">
          Show the calculation
        </button>
        <router-link v-if="finding.stage !== $route.name" :to="{ name: finding.stage }" @click="emit('away')">
          Go to {{ finding.stage }}
        </router-link>
        <button v-if="finding.accepted" type="button" class="textlink" @click="unaccept(finding.key)">
          Withdraw
        </button>
      </p>
      <p v-if="!short" class="source">{{ source(finding.source) }}</p>
    </div>
  </article>
</template>

<style scoped>
.finding {
  display: flex;
  gap: 8px;
  padding: 9px 10px;
  border: 1px solid var(--line-strong);
  border-left-width: 5px;
  border-radius: 4px;
  background: var(--sheet);
}

.finding > div {
  min-width: 0;
  flex: 1;
}

.finding.stop {
  background: var(--stop-tint);
  border-left-color: var(--stop);
}

.finding.caution {
  background: var(--caution-tint);
  border-left-color: var(--caution);
}

.finding.caution.accepted {
  background: var(--sheet);
}

.finding.note {
  border-left-color: var(--note);
}

.finding p {
  font-size: 14px;
  margin-top: 3px;
}

.short > div > h3 + p {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
}

.follows {
  margin-top: 5px;
  font-size: 13px;
}

.follows summary {
  cursor: pointer;
  min-height: 24px;
}

.reason {
  font-weight: 600;
}

.fixes {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px;
  margin: 7px 0 4px;
}

.offered {
  display: contents;
}

.fix {
  height: auto !important;
  min-height: 30px;
  padding: 4px 10px !important;
  font-size: 13.5px !important;
  max-width: 100%;
}

.fix :deep(.v-btn__content) {
  white-space: normal;
  text-align: left;
}

.brings {
  font-size: 12.5px;
  line-height: 1.25;
  flex-basis: 100%;
}

.foot {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
}

.source {
  font-size: 12.5px !important;
}
</style>
