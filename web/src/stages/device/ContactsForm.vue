<script setup lang="ts">
// The device's own contacts, and what a meter read at each before anything was connected.
import { mdiDeleteOutline, mdiPlus } from '@mdi/js'
import { computed } from 'vue'
import type { Contact } from '../../api/types'
import FoldSection from '../../ui/FoldSection.vue'
import KnownField from '../../ui/KnownField.vue'
import { usePlan } from '../../state/plan'

const { plan, set } = usePlan()
const list = '/device/contacts'
const contacts = computed<Contact[]>(() => plan.value?.device.contacts ?? [])

const kinds = [
  { value: 'battery_plus', title: 'battery plus' },
  { value: 'battery_minus', title: 'battery minus' },
  { value: 'charge', title: 'charge contact' },
  { value: 'sense', title: 'small contact' },
  { value: null, title: 'not known' },
] as const
const readings = [
  ['off_v', 'Off', 'probe_volts'],
  ['on_v', 'On', 'probe_volts'],
  ['charging_v', 'Charger connected', 'probe_volts'],
  ['old_battery_ohm', 'Old battery, to minus', 'arrival_ohm'],
] as const
/** Minus is what the others are read against. */
const asked = (contact: Contact) => (contact.kind === 'battery_minus' ? [] : readings)

function add(): void {
  const taken = new Set(contacts.value.map((c) => c.id))
  let number = 1
  while (taken.has(`contact-${number}`)) number++
  // Plus and minus are there in every device.
  const missing = (['battery_plus', 'battery_minus'] as const).find(
    (kind) => !contacts.value.some((c) => c.kind === kind),
  )
  const name = kinds.find((k) => k.value === missing)?.title ?? 'contact'
  set(list, [...contacts.value, { id: `contact-${number}`, name, kind: missing ?? null }])
}

const summary = computed(() => {
  const read = contacts.value.filter((c) => readings.some(([field]) => c[field])).length
  return contacts.value.length ? `${read} of ${contacts.value.length} read` : 'none entered'
})
</script>

<template>
  <FoldSection name="contacts" title="Its battery contacts" :summary="summary" :away="!contacts.length">
    <p class="lead" :data-at="list">
      Black probe on battery minus. Read each contact with the device off, on, and with its charger connected
      but no battery in it. A small contact reads a sensor or an identification in the battery: measure there
      how much the old battery has to minus.
    </p>
    <fieldset v-for="(contact, i) in contacts" :key="contact.id" class="contact" :data-at="`${list}/${i}`">
      <legend class="soft">Contact {{ i + 1 }}</legend>
      <div class="fields">
        <v-text-field
          label="Which one"
          :model-value="contact.name"
          maxlength="120"
          @update:model-value="$event.trim() && set(`${list}/${i}/name`, $event)"
        />
        <v-select
          label="It is"
          :items="kinds"
          :model-value="contact.kind ?? null"
          @update:model-value="set(`${list}/${i}/kind`, $event)"
        />
        <KnownField
          v-for="[field, label, range] in asked(contact)"
          :key="field"
          :label="label"
          :range="range"
          as="measured"
          :data-at="`${list}/${i}/${field}`"
          :model-value="contact[field]"
          @update:model-value="set(`${list}/${i}/${field}`, $event)"
        />
      </div>
      <v-btn
        :icon="mdiDeleteOutline"
        variant="text"
        size="small"
        :aria-label="`Remove ${contact.name}`"
        @click="
          set(
            list,
            contacts.filter((c) => c !== contact),
          )
        "
      />
    </fieldset>
    <v-btn class="after" :prepend-icon="mdiPlus" size="small" @click="add">Contact</v-btn>
  </FoldSection>
</template>

<style scoped>
.contact {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 40px;
  gap: 6px;
  align-items: start;
  margin: 0 0 10px;
  padding: 6px 0 10px;
  border: 0;
  border-bottom: 1px solid var(--line);
}

.fields {
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
}
</style>
