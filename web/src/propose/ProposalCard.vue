<script setup lang="ts">
// One whole plan: what it is, what it comes to on the shared scales, why, and what it costs beside the money.
import { computed, ref } from 'vue'
import type { Proposal } from '../api/types'
import { money, show, showRange } from '../format/show'
import PhraseText from '../ui/PhraseText.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { linksOf } from './links'

const props = defineProps<{
  proposal: Proposal
  letter: string
  /** The largest of all, which fills a bar. */
  most: { run_s: number; mass_g: number; price: number }
  currency: string | undefined
  first: boolean
  beside: boolean
  comparable: boolean
}>()
const emit = defineEmits<{ use: []; lay: [wanted: boolean] }>()

const parts = ref(false)
const merits = computed(() => props.proposal.merits)

const scales = computed(() => {
  const m = merits.value
  const wide = (v: number | null | undefined, most: number) => (v && most ? `${(v / most) * 100}%` : '0')
  const band = m.run_low_s != null && m.run_high_s != null ? showRange(m.run_low_s, m.run_high_s, 's') : ''
  const days =
    m.arrives_days == null ? '' : m.arrives_days === 0 ? 'all at hand' : show(m.arrives_days, 'days')
  return [
    {
      key: 'run',
      label: 'Runs',
      wide: wide(m.run_s, props.most.run_s),
      value: m.run_s == null ? 'not known' : show(m.run_s, 's'),
      more: band,
    },
    {
      key: 'mass',
      label: 'Weighs',
      wide: wide(m.mass_g, props.most.mass_g),
      value: m.mass_g == null ? 'not known' : show(m.mass_g, 'g'),
      more: '',
    },
    {
      key: 'price',
      label: 'Costs',
      wide: wide(m.price, props.most.price),
      value: m.price == null ? 'price not known' : money(m.price, props.currency, 0),
      more: days,
    },
  ]
})
</script>

<template>
  <li class="card" :class="{ first }" :data-proposal="letter">
    <VerdictMark class="mark" :verdict="proposal.cautions.length ? 'caution' : 'fine'" />
    <div class="words">
      <h3>{{ letter }} {{ proposal.title }}</h3>
      <p class="name">
        <b>{{ proposal.name }}</b> <span class="soft">{{ proposal.made_of }}</span>
      </p>
    </div>
    <div v-for="s in scales" :key="s.key" class="scale" :class="s.key" :data-scale="s.key">
      <i class="bar" :style="{ width: s.wide }" aria-hidden="true" />
      <span class="visually-hidden">{{ s.label }}</span>
      <b>{{ s.value }}</b> <span v-if="s.more" class="soft">{{ s.more }}</span>
    </div>
    <div class="say">
      <p><PhraseText :phrase="proposal.why" plain /></p>
      <p v-if="proposal.price" class="costs"><PhraseText :phrase="proposal.price" plain /></p>
      <p v-if="proposal.provisional" class="soft provisional">
        Provisional. What would overturn it: {{ proposal.provisional.what }}.
      </p>
      <dl v-if="parts" class="parts">
        <template v-for="link in linksOf(proposal.plan)" :key="link.place">
          <dt class="soft">{{ link.place }}</dt>
          <dd>{{ link.part }}</dd>
        </template>
        <template v-if="proposal.cautions.length">
          <dt class="soft">cautions</dt>
          <dd>
            <span v-for="c in proposal.cautions" :key="c.text" class="caution">{{ c.text }}</span>
          </dd>
        </template>
      </dl>
    </div>
    <div class="act">
      <v-btn
        :variant="first ? 'flat' : 'outlined'"
        :color="first ? 'primary' : undefined"
        @click="emit('use')"
        >Use this</v-btn
      >
      <button type="button" class="textlink" :aria-expanded="parts" @click="parts = !parts">
        {{ parts ? 'Fewer details' : 'All parts' }}
      </button>
      <label v-if="comparable" class="lay">
        <input
          type="checkbox"
          :checked="beside"
          @change="emit('lay', ($event.target as HTMLInputElement).checked)"
        />
        Compare
      </label>
    </div>
  </li>
</template>

<style scoped>
.card {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr) repeat(3, 130px) 132px;
  gap: 2px 20px;
  margin-top: 10px;
  padding: 12px 14px;
  border: 1px solid var(--line);
  border-radius: 4px;
  background: var(--sheet);
}

.card.first {
  border: 2px solid var(--copper);
}

.mark {
  grid-row: 1 / span 2;
  margin-top: 2px;
}

h3 {
  font-size: 17px;
}

.words {
  min-width: 0;
}

.name b {
  font-size: 18px;
}

.scale b,
.scale .soft {
  display: inline-block;
}

.bar {
  display: block;
  height: 13px;
  margin: 6px 0 4px;
  background: var(--copper);
}

.say {
  grid-column: 2 / -2;
  grid-row: 2;
}

.say p {
  margin: 2px 0;
}

.costs {
  color: var(--caution);
}

.act {
  grid-column: -2;
  grid-row: 1 / span 2;
  display: grid;
  gap: 8px;
  align-content: start;
  justify-items: center;
}

.lay {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 24px;
}

.parts {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  gap: 2px 12px;
  margin: 8px 0 4px;
}

dd {
  margin: 0;
}

.caution {
  display: block;
}

@media (width < 1100px) {
  .card {
    grid-template-columns: 24px repeat(3, minmax(0, 1fr));
  }

  .words,
  .say,
  .act {
    grid-column: 2 / -1;
    grid-row: auto;
  }

  .scale.run {
    grid-column: 2;
  }

  .act {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    margin-top: 8px;
  }
}
</style>
