<script setup lang="ts">
// Every term of the trade in one line, with the figures it belongs to.
import { mdiArrowLeft } from '@mdi/js'
import { computed, nextTick, onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useReference } from '../state/reference'

const route = useRoute()
const router = useRouter()
const { terms, label } = useReference()
const search = ref('')

const shown = computed(() => {
  const wanted = search.value.trim().toLowerCase()
  return terms().filter((t) => `${t.term} ${t.says}`.toLowerCase().includes(wanted))
})

onMounted(async () => {
  await nextTick()
  const at = terms().findIndex((t) => t.term === route.query.term)
  if (at >= 0) document.getElementById(`term-${at}`)?.scrollIntoView({ block: 'center' })
})
</script>

<template>
  <main class="glossary">
    <v-btn :prepend-icon="mdiArrowLeft" size="small" variant="text" @click="router.back()">Back</v-btn>
    <h1>Glossary</h1>
    <p class="lead">Each term in one line, with the figures it belongs to.</p>
    <v-text-field v-model="search" class="after search" label="Find a term" clearable hide-details />
    <dl>
      <div
        v-for="t in shown"
        :id="`term-${terms().indexOf(t)}`"
        :key="t.term"
        :class="{ asked: t.term === route.query.term }"
      >
        <dt>{{ t.term }}</dt>
        <dd>
          {{ t.says }}
          <span v-if="t.figures.length" class="soft figures">
            {{ t.figures.map((id) => label(id)).join(' · ') }}
          </span>
        </dd>
      </div>
    </dl>
    <p v-if="!shown.length" class="soft after">No term matches.</p>
  </main>
</template>

<style scoped>
.glossary {
  max-width: 860px;
  margin: 0 auto;
  padding: 16px 18px 48px;
}

.search {
  max-width: 380px;
}

dl > div {
  padding: 10px 8px;
  border-bottom: 1px solid var(--line);
}

dl > .asked {
  background: var(--sheet);
  border-left: 4px solid var(--petrol);
}

dt {
  font-weight: 700;
}

dd {
  margin: 2px 0 0;
}

.figures {
  display: block;
  font-size: 14px;
}
</style>
