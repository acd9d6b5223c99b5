<script setup lang="ts">
// Files for a cutter, a printer, a simulator. They are made from the plan as it is saved.
import { ref, watch } from 'vue'
import { api, files } from '../../api/client'
import type { PartFile } from '../../api/types'
import { usePlan } from '../../state/plan'
import HolderForm from './HolderForm.vue'

const { id, changed, revision, saving } = usePlan()
const list = ref<PartFile[]>([])

async function load(): Promise<void> {
  if (!id.value || changed.value) return
  const answer = await api.partFiles(id.value)
  if (answer.ok) list.value = answer.value
}
watch([id, changed, revision, saving], load, { immediate: true })
</script>

<template>
  <section class="section" data-testid="files">
    <h2>Cut, print, simulate</h2>
    <ul class="rows">
      <li v-for="f in list" :key="f.name">
        <a v-if="!f.refused" :href="files.part(id ?? '', f.name)" :data-file="f.name" download>{{
          f.name
        }}</a>
        <b v-else>{{ f.name }}</b>
        <span class="soft">{{ f.what }}</span>
        <span v-if="f.refused" class="refused" :data-refused="f.name">Not yet: {{ f.refused }}.</span>
      </li>
    </ul>
    <details>
      <summary>Sizes of the cell holder</summary>
      <HolderForm />
    </details>
  </section>
</template>

<style scoped>
li a,
li b {
  min-width: 110px;
}

.refused {
  flex-basis: 100%;
}

summary {
  cursor: pointer;
  margin-top: 8px;
}
</style>
