<script setup lang="ts">
// The packs that were made of this plan, and builds that could become one.
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api } from '../api/client'
import type { BuildSummary, PackRow as Row, Problem } from '../api/types'
import { usePlan } from '../state/plan'
import ProblemList from '../ui/ProblemList.vue'
import PackRow from './PackRow.vue'

const { id } = usePlan()
const router = useRouter()
const packs = ref<Row[] | null>(null)
const builds = ref<BuildSummary[]>([])
const problem = ref<Problem | null>(null)

const here = computed(() => (packs.value ?? []).filter((p) => p.plan_id === id.value))
const open = computed(() => builds.value.filter((b) => !here.value.some((p) => p.build_id === b.id)))

onMounted(async () => {
  const [all, begun] = await Promise.all([api.packs(), api.builds(id.value)])
  if (all.ok) packs.value = all.value
  else problem.value = all.problem
  if (begun.ok) builds.value = begun.value
})

async function make(build: string): Promise<void> {
  const answer = await api.packOfBuild(build)
  if (answer.ok) await router.push({ name: 'pack', params: { id: answer.value.id } })
  else problem.value = answer.problem
}
</script>

<template>
  <header class="page-head">
    <h1>Packs and logs</h1>
  </header>
  <p class="lead">
    A finished build becomes a pack with a number, a label and a log. The log shows how it ages over the
    years.
  </p>
  <ProblemList v-if="problem" :problem="problem" />
  <div class="rows"><PackRow v-for="pack in here" :key="pack.id" :pack="pack" /></div>
  <p v-if="packs && !here.length" class="soft">No pack of this plan yet.</p>
  <ul v-if="open.length" class="builds">
    <li v-for="build in open" :key="build.id">
      <span>Build begun {{ build.started_at.slice(0, 10) }}, revision {{ build.revision }}</span>
      <v-btn size="small" @click="make(build.id)">Finished: make it a pack</v-btn>
    </li>
  </ul>
  <p v-else-if="packs && !here.length">
    Begin a <router-link :to="{ name: 'build' }">build</router-link> first, or add a pack
    <router-link to="/packs">by hand</router-link>.
  </p>
</template>

<style scoped>
.rows {
  margin: 12px 0;
}

.builds {
  padding: 0;
  list-style: none;
}

.builds li {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  padding: 8px 0;
}
</style>
