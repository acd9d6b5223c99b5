<script setup lang="ts">
// One place of the plan: the part chosen, those that fit best first, each misfit with its reason, or typed by hand.
import { mdiDotsVertical } from '@mdi/js'
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue'
import type { Change, Item, Suggestion } from '../api/types'
import { money, show } from '../format/show'
import { useAnswer } from '../state/answer'
import { alongList } from '../state/keys'
import { usePlan } from '../state/plan'
import { withChanges } from '../state/pointer'
import AnswerNote from './AnswerNote.vue'
import PartFields from './PartFields.vue'
import PhraseText from './PhraseText.vue'
import VerdictMark from './VerdictMark.vue'
import { wanting, placeOf } from './parts'

const ListingDialog = defineAsyncComponent(() => import('../parts/ListingDialog.vue'))

const props = defineProps<{ place: string; title: string; none?: string; intro?: string }>()

const { plan, edit, set, at } = usePlan()

const spot = computed(() => (plan.value ? placeOf(plan.value, props.place) : null))
const state = computed(() =>
  spot.value ? ((at(`${spot.value.choice}/state`) as string | undefined) ?? 'open') : 'open',
)
const name = computed(() =>
  spot.value && state.value === 'chosen' ? (at(`${spot.value.part}/offer/name`) as string) : '',
)

/** The place whose thing does this, too: one module at several places. */
const servedBy = computed(() => {
  const other = plan.value?.nodes.find((n) => n.id === props.place)?.with
  return other ? plan.value?.nodes.find((n) => n.id === other) : undefined
})

/** Takes another part for this place alone. */
function part(): void {
  if (!spot.value) return
  const node = spot.value.choice.replace(/\/part$/, '')
  edit([
    { at: `${node}/with`, value: null },
    { at: spot.value.choice, value: { state: 'open' } },
  ])
}

const listing = ref(false)
const {
  answer: found,
  stale,
  problem,
} = useAnswer(() => (listing.value && spot.value ? { about: 'suggestions', place: props.place } : null))
const list = computed(() => found.value ?? [])
const typing = ref(false)
/** A part that is being typed, until it is one: no rule speaks of it before its deciding figures are there. */
const draft = shallowRef<unknown>(null)
const misfits = ref(false)

watch(state, (now) => now === 'open' && (listing.value = true), { immediate: true })

const fitting = computed(() => list.value.filter((s) => s.worst !== 'stop'))
const unfit = computed(() => list.value.filter((s) => s.worst === 'stop'))
const shown = computed(() => (misfits.value ? list.value : fitting.value.slice(0, 6)))

function take(suggestion: Suggestion): void {
  edit(suggestion.changes)
  listing.value = false
}

function byHand(): void {
  if (!spot.value) return
  listing.value = false
  if (state.value === 'chosen') {
    typing.value = !typing.value
    return
  }
  draft.value = draft.value ? null : spot.value.empty()
}

/** What the draft needs before it is a part. */
const missing = computed(() =>
  spot.value && draft.value ? wanting(draft.value, inDraft.value, spot.value.fields) : [],
)

const drafting = computed(() => !!draft.value && state.value !== 'chosen')

/** Where the draft's figures stand in it. */
const inDraft = computed(() => spot.value?.part.slice(spot.value.choice.length) ?? '')

function changeDraft(change: Change): void {
  if (!spot.value) return
  draft.value = withChanges(draft.value, [change])
  if (missing.value.length) return
  set(spot.value.choice, draft.value)
  draft.value = null
  typing.value = true
}

const pasting = ref(false)
/** Why a seller's text is none of a part for this place. */
const otherKind = ref(false)

/** Takes the part that was read out of a seller's text: a draft until its deciding figures are typed. */
function pasted(part: Item['part']): void {
  pasting.value = false
  const read = spot.value?.chosen(part)
  otherKind.value = !read
  if (!spot.value || !read) return
  listing.value = false
  const lacks = wanting(read, inDraft.value, spot.value.fields)
  if (lacks.length) {
    if (state.value === 'chosen') decide('open')
    draft.value = read
    listing.value = false
  } else {
    set(spot.value.choice, read)
    typing.value = true
  }
}

function decide(to: 'none' | 'open'): void {
  if (spot.value) set(spot.value.choice, { state: to })
  typing.value = false
  draft.value = null
  listing.value = to === 'open'
}

function price(suggestion: Suggestion): string {
  const { price, arrives_days: days } = suggestion.offer
  const cost = price == null ? 'no price' : money(price, plan.value?.currency)
  if (suggestion.at_hand) return `${cost}, ${suggestion.at_hand} at hand`
  if (days == null) return cost
  return days === 0 ? `${cost}, at hand` : `${cost}, ${show(days, 'days')}`
}
</script>

<template>
  <section v-if="spot" class="picker" :data-place="place" :data-at="spot.choice">
    <header>
      <h3>{{ title }}</h3>
      <span v-if="state === 'chosen'" class="now" data-testid="chosen">{{ name }}</span>
      <span v-else-if="state === 'none'" class="now">{{ none ?? 'none' }}</span>
      <span v-else class="soft">not decided yet</span>
      <span class="spring" />
      <template v-if="servedBy">
        <span class="soft">the same module as the {{ servedBy.kind.replace('_', '-') }}</span>
        <v-btn size="small" @click="part">Another one</v-btn>
      </template>
      <v-btn v-else size="small" :aria-expanded="listing" @click="listing = !listing">
        {{ listing ? 'Hide the list' : 'Choose…' }}
      </v-btn>
      <v-btn
        v-if="!servedBy"
        size="small"
        variant="text"
        :data-unfold="state === 'chosen' ? '' : undefined"
        :aria-expanded="typing"
        @click="byHand"
      >
        {{
          state === 'chosen'
            ? typing
              ? 'Hide its figures'
              : 'Its figures'
            : draft
              ? 'Remove it'
              : 'Type by hand'
        }}
      </v-btn>
      <v-menu v-if="!servedBy">
        <template #activator="{ props: menu }">
          <v-btn
            v-bind="menu"
            :icon="mdiDotsVertical"
            size="x-small"
            variant="text"
            :aria-label="`More for ${title}`"
          />
        </template>
        <v-list density="compact">
          <v-list-item title="Paste a seller’s text" @click="pasting = true" />
          <v-list-item v-if="none && state !== 'none'" :title="`Decide: ${none}`" @click="decide('none')" />
          <v-list-item v-if="state !== 'open'" title="Leave it undecided" @click="decide('open')" />
        </v-list>
      </v-menu>
    </header>
    <ListingDialog v-if="pasting" v-model="pasting" @take="pasted" />
    <p v-if="otherKind" class="lead" role="alert">
      That text sells another kind of part: paste it where that is chosen.
    </p>
    <p v-if="intro && state === 'open'" class="lead">{{ intro }}</p>
    <p v-if="drafting" class="lead">
      It counts once these are typed: {{ missing.join(', ') }}. Leave empty what is not stated.
    </p>
    <!-- One form for both, so that nothing moves under the fingers when a draft becomes a part. -->
    <PartFields
      v-if="drafting || (typing && state === 'chosen')"
      class="form"
      :part="drafting ? inDraft : spot.part"
      :fields="spot.fields"
      :draft="drafting ? draft : undefined"
      @change="changeDraft"
    />
    <AnswerNote v-if="listing" :stale="stale" :problem="problem" />
    <!-- Nothing is said of the list before core has answered. -->
    <ol v-if="listing && found" class="list" @keydown="alongList">
      <li v-for="s in shown" :key="s.catalogue_id" :class="{ chosen: s.chosen }">
        <VerdictMark :verdict="s.worst ?? 'fine'" />
        <span class="words">
          <b>{{ s.offer.name }}</b>
          <span v-if="s.parallel" class="why"><PhraseText :phrase="s.parallel" plain /></span>
          <span v-for="(reason, i) in s.reasons" :key="i" class="why against"
            ><PhraseText :phrase="reason" plain
          /></span>
          <span v-if="s.merits.length" class="why merits">
            <template v-for="(merit, i) in s.merits" :key="i"
              ><template v-if="i"> · </template><PhraseText :phrase="merit" plain
            /></template>
          </span>
        </span>
        <span class="soft price">{{ price(s) }}</span>
        <span v-if="s.chosen" class="soft taken">chosen</span>
        <v-btn v-else size="small" :aria-label="`Use ${s.offer.name}`" @click="take(s)">Use</v-btn>
      </li>
      <li v-if="!list.length" class="soft">
        No part of this kind in the catalogue: type it by hand, or add one to your
        <router-link to="/parts">parts</router-link>.
      </li>
    </ol>
    <button
      v-if="listing && list.length > fitting.slice(0, 6).length"
      type="button"
      class="textlink"
      @click="misfits = !misfits"
    >
      {{
        misfits
          ? 'Only the best that fit'
          : `Show all ${list.length}, ${unfit.length} that do not fit and why`
      }}
    </button>
  </section>
</template>

<style scoped>
.picker {
  padding: 11px 0;
  border-top: 1px solid var(--line-strong);
}

header {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
}

h3 {
  min-width: 92px;
}

.now {
  font-weight: 600;
  color: var(--copper-text);
}

.spring {
  flex: 1;
}

.form {
  margin: 14px 0 6px;
}

.list {
  list-style: none;
  margin: 8px 0 6px;
  padding: 0;
}

.list li {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 6px 4px;
  border-top: 1px solid var(--line);
}

.list li.chosen {
  background: var(--copper-tint);
}

.words {
  flex: 1;
  min-width: 0;
  line-height: 1.3;
}

.why {
  display: block;
  font-size: 13px;
  color: var(--soft);
}

.against {
  color: var(--copper-text);
}

.chosen .why,
.chosen .soft {
  color: var(--ink);
}

.price {
  text-align: right;
}

.taken {
  width: 58px;
  text-align: center;
}

@media (max-width: 600px) {
  .price {
    display: none;
  }
}
</style>
