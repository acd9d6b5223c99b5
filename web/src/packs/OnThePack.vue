<script setup lang="ts">
// What goes onto paper: the label, and the sheet for whoever has the pack next; and its card.
import { mdiPencilOutline, mdiPrinterOutline } from '@mdi/js'
import { nextTick, ref, watch } from 'vue'
import { api } from '../api/client'
import type { HandOnSheet, OpenPack, Problem } from '../api/types'
import PackPaper from './PackPaper.vue'

const props = defineProps<{ pack: OpenPack }>()
const emit = defineEmits<{ card: []; remove: []; problem: [problem: Problem] }>()

const sheet = ref<HandOnSheet | null>(null)
const labelOnly = ref(false)

/** What the square of the label says: the address of this workshop, unless nobody else can come here by it. */
const origin = /^(localhost|127\.|\[::1\])/.test(location.hostname) ? '' : location.origin

// Label and sheet follow the pack: what is printed is what was last logged.
watch(
  () => props.pack,
  async (pack) => {
    const answer = await api.handOn(pack.id, origin)
    if (answer.ok) sheet.value = answer.value
    else emit('problem', answer.problem)
  },
  { immediate: true },
)

async function print(only: boolean): Promise<void> {
  labelOnly.value = only
  await nextTick()
  window.print()
}
</script>

<template>
  <section>
    <div class="screen">
      <h2>On the pack</h2>
      <!-- eslint-disable-next-line vue/no-v-html -- drawn by core, its words escaped there -->
      <div v-if="sheet" class="label" v-html="sheet.label" />
      <p v-if="!origin" class="soft">
        The QR code holds these words. Opened through the workshop’s network (<code>--lan</code>) it holds the
        address of this page.
      </p>
      <div class="papers">
        <v-btn size="small" :prepend-icon="mdiPrinterOutline" @click="print(true)">Print the label</v-btn>
        <v-btn size="small" :prepend-icon="mdiPrinterOutline" @click="print(false)"
          >Sheet for the next owner</v-btn
        >
        <v-btn size="small" :prepend-icon="mdiPencilOutline" @click="emit('card')">Card</v-btn>
        <v-btn size="small" variant="text" @click="emit('remove')">Delete</v-btn>
      </div>
      <p v-if="pack.card.notes" class="soft">{{ pack.card.notes }}</p>
    </div>
    <PackPaper v-if="sheet" :sheet="sheet" :label-only="labelOnly" />
  </section>
</template>

<style scoped>
.label {
  margin: 8px 0;
}

.label :deep(svg) {
  display: block;
  width: 100%;
  height: auto;
}

.papers {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0;
}

@media print {
  .screen {
    display: none;
  }
}
</style>
