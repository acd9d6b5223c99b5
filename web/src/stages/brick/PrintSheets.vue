<script setup lang="ts">
// The sheets to print at 1:1. They are drawn from the plan as it is saved.
import { ref, watch } from 'vue'
import { api, files } from '../../api/client'
import type { Sheet } from '../../api/types'
import { usePlan } from '../../state/plan'

const { id, changed, revision, saving } = usePlan()
const sheets = ref<Sheet[]>([])

async function load(): Promise<void> {
  if (!id.value || changed.value) return
  const answer = await api.sheets(id.value)
  if (answer.ok) sheets.value = answer.value
}
watch([id, changed, revision, saving], load, { immediate: true })
</script>

<template>
  <section class="section" data-testid="sheets">
    <h2>Print 1:1</h2>
    <p class="soft">
      A4 pages in SVG, each with a line that must measure 50 mm. {{ changed ? 'Saving first…' : '' }}
    </p>
    <ul>
      <li v-for="s in sheets" :key="s.name">
        <a :href="files.sheet(id, s.name)" target="_blank" rel="noopener" :data-sheet="s.name">{{
          s.title.split(': ').at(-1)
        }}</a>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  margin: 6px 0 0;
  padding-left: 18px;
  columns: 2 200px;
}
</style>
