<script setup lang="ts">
// One part of the catalogue in a line: what it is, what tells it from its neighbours, how many are at hand, its price.
import { mdiDeleteOutline } from '@mdi/js'
import { computed } from 'vue'
import type { Item, Known } from '../api/types'
import { money, show } from '../format/show'
import { valueAt } from '../state/pointer'
import { currency } from '../state/preferences'
import { useReference } from '../state/reference'
import { fieldsOf } from '../ui/parts'
import { offerOf } from './offer'

const props = defineProps<{ item: Item }>()
const emit = defineEmits<{ open: []; remove: [] }>()
const { range } = useReference()
const offer = computed(() => offerOf(props.item))

/** A label with a small letter; one of capitals keeps them. */
const inASentence = (label: string) => label.replace(/^[A-Z](?=[a-z ])/, (first) => first.toLowerCase())

/** The first figures of a part, in words: enough to tell it from its neighbours. */
function facts(item: Item): string {
  const { at, fields } = fieldsOf(item.part)
  const told = fields.flatMap((f) => {
    if (!f.range || f.at.startsWith('/offer')) return []
    const found = valueAt(item.part, at + f.at) as number | Known | null | undefined
    const value = typeof found === 'number' ? found : found?.value
    const unit = range(f.range)?.unit
    return value == null || !unit ? [] : [`${inASentence(f.label)} ${show(value, unit)}`]
  })
  return told.slice(0, 4).join(' · ')
}
</script>

<template>
  <li :data-part="item.id">
    <button type="button" class="open" @click="emit('open')">
      <span class="words">
        <b>{{ offer.name }}</b>
        <span class="soft">{{ facts(item) }}</span>
        <span v-if="item.note" class="soft note">{{ item.note }}</span>
      </span>
      <span class="hand" :class="{ none: !item.at_hand }">
        {{ item.at_hand ? `${item.at_hand} at hand` : '' }}
      </span>
      <span class="soft price">
        {{ offer.price == null ? 'no price' : money(offer.price, currency) }}
        <span v-if="offer.arrives_days != null" class="days">{{
          offer.arrives_days ? show(offer.arrives_days, 'days') : 'at once'
        }}</span>
      </span>
    </button>
    <v-btn
      :icon="mdiDeleteOutline"
      variant="text"
      size="small"
      :aria-label="`Delete ${offer.name}`"
      @click="emit('remove')"
    />
  </li>
</template>

<style scoped>
li {
  display: flex;
  align-items: center;
  background: var(--sheet);
  border-bottom: 1px solid var(--line-strong);
}

.open {
  flex: 1;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 92px 92px;
  gap: 12px;
  align-items: center;
  padding: 9px 12px;
  font: inherit;
  color: inherit;
  text-align: left;
  background: none;
  border: 0;
  cursor: pointer;
}

.open:hover {
  background: var(--petrol-tint);
}

.words {
  display: flex;
  flex-direction: column;
  line-height: 1.35;
}

.words .soft {
  font-size: 14px;
}

.note {
  font-style: italic;
}

.hand {
  font-size: 14px;
  font-weight: 600;
  color: var(--copper-text);
}

.price {
  text-align: right;
  font-size: 14px;
}

.days {
  display: block;
}

@media (max-width: 600px) {
  .open {
    grid-template-columns: minmax(0, 1fr);
  }

  .hand.none {
    display: none;
  }

  .price {
    text-align: left;
  }

  .days {
    display: inline;
  }

  .days::before {
    content: ', ';
  }
}
</style>
