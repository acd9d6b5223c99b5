<script setup lang="ts">
// The stages in the order of the work: navigation and progress at once. On a phone: the current one, previous, next.
import { mdiChevronLeft, mdiChevronRight } from '@mdi/js'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Severity, Verdict } from '../api/types'
import { alongList } from '../state/keys'
import { folded, sections, type Section } from '../state/folds'
import PhraseText from '../ui/PhraseText.vue'
import VerdictMark from '../ui/VerdictMark.vue'
import { usePlan } from '../state/plan'
import { steady } from '../state/steady'
import { pageNames, stageNames } from './stages'

const { assessment } = usePlan()
const route = useRoute()

const worst = computed<Severity | 'fine'>(() => {
  const links = assessment.value?.path.links ?? []
  const has = (s: Severity) => links.some((l) => l.severity === s)
  return has('stop') ? 'stop' : has('caution') ? 'caution' : 'fine'
})

const weakest = computed(() => {
  const path = assessment.value?.path
  return path?.links.find((l) => l.id === path.weakest)?.label.toLowerCase()
})

const rows = steady(() =>
  stageNames.map(({ name, title }) => {
    const report = assessment.value?.stages.find((s) => s.stage === name)
    const verdict: Verdict | Severity =
      name === 'path' ? (weakest.value ? worst.value : 'nothing_yet') : (report?.verdict ?? 'nothing_yet')
    return { name, title, verdict, key: report?.key }
  }),
)

const at = computed(() =>
  Math.max(
    0,
    rows.value.findIndex((r) => r.name === route.name),
  ),
)
/** A page that belongs to no stage, where one is open. */
const page = computed(() => pageNames.find((p) => p.name === route.name))

/** Opens a section of the page and puts it under the eyes. */
function lead({ name, root }: Section): void {
  folded.set(name, false)
  root.scrollIntoView({ block: 'start' })
}
const previous = computed(() => rows.value[at.value - 1])
const next = computed(() => rows.value[at.value + 1])
</script>

<template>
  <nav class="rail" aria-label="Stages" @keydown="alongList">
    <template v-for="row in rows" :key="row.name">
      <router-link
        class="stage"
        :class="{ here: row.name === $route.name }"
        :to="{ name: row.name }"
        :aria-current="row.name === $route.name ? 'page' : undefined"
      >
        <VerdictMark :verdict="row.verdict" />
        <span class="words">
          <b>{{ row.title }}</b>
          <span class="soft">
            <PhraseText v-if="row.key" :phrase="row.key" plain />
            <template v-else>{{ weakest ? `weakest: ${weakest}` : 'nothing to draw yet' }}</template>
          </span>
        </span>
      </router-link>
      <ul v-if="row.name === $route.name && sections.length > 1" class="parts" aria-label="On this page">
        <li v-for="s in sections" :key="s.name">
          <button type="button" @click="lead(s)">{{ s.title }}</button>
        </li>
      </ul>
    </template>
    <router-link
      v-for="entry in pageNames"
      :key="entry.name"
      class="page-link"
      :class="{ here: entry.name === $route.name }"
      :to="{ name: entry.name }"
      :aria-current="entry.name === $route.name ? 'page' : undefined"
    >
      {{ entry.title }}
    </router-link>
  </nav>
  <nav class="bar" aria-label="Previous and next stage">
    <router-link v-if="previous" :to="{ name: previous.name }" :aria-label="`Previous: ${previous.title}`">
      <v-icon :icon="mdiChevronLeft" />
    </router-link>
    <span v-else class="gap" />
    <v-menu location="top">
      <template #activator="{ props: menu }">
        <button type="button" class="current" v-bind="menu">
          <span class="visually-hidden">All stages, now</span>
          <VerdictMark v-if="!page" :verdict="rows[at]!.verdict" />
          <b>{{ page?.title ?? rows[at]!.title }}</b>
        </button>
      </template>
      <v-list density="compact">
        <v-list-item v-for="row in rows" :key="row.name" :to="{ name: row.name }">
          <template #prepend><VerdictMark :verdict="row.verdict" class="before" /></template>
          <v-list-item-title>{{ row.title }}</v-list-item-title>
        </v-list-item>
        <v-list-item v-for="entry in pageNames" :key="entry.name" :to="{ name: entry.name }">
          <v-list-item-title>{{ entry.title }}</v-list-item-title>
        </v-list-item>
      </v-list>
    </v-menu>
    <router-link v-if="next" :to="{ name: next.name }" :aria-label="`Next: ${next.title}`">
      <v-icon :icon="mdiChevronRight" />
    </router-link>
    <span v-else class="gap" />
  </nav>
</template>

<style scoped>
.rail {
  padding: 8px 0;
}

.stage {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 48px;
  padding: 3px 12px 3px 14px;
  border-left: 5px solid transparent;
  color: var(--ink);
  text-decoration: none;
}

.page-link {
  display: block;
  padding: 10px 14px 10px 42px;
  border-left: 5px solid transparent;
  color: var(--ink);
  text-decoration: none;
}

.stage + .page-link,
.parts + .page-link {
  margin-top: 8px;
  border-top: 1px solid var(--line);
}

.page-link.here {
  border-left-color: var(--petrol);
  background: var(--petrol-tint);
}

.stage:hover {
  background: var(--paper);
}

.stage.here {
  background: var(--petrol-tint);
  border-left-color: var(--petrol);
}

.parts {
  margin: 0;
  padding: 2px 0 6px;
  list-style: none;
  background: var(--petrol-tint);
  border-left: 5px solid var(--petrol);
}

.parts button {
  width: 100%;
  min-height: 28px;
  padding: 2px 10px 2px 42px;
  font: inherit;
  font-size: 13px;
  text-align: left;
  color: var(--ink);
  background: none;
  border: 0;
  cursor: pointer;
}

.parts button:hover {
  text-decoration: underline;
}

.words {
  display: flex;
  flex-direction: column;
  line-height: 1.3;
  min-width: 0;
}

.words .soft {
  overflow: hidden;
  text-overflow: ellipsis;
}

.bar {
  display: none;
}

@media (max-width: 900px) {
  .rail {
    display: none;
  }

  .bar {
    display: flex;
    justify-content: space-between;
    align-items: center;
    min-height: 52px;
    padding: 0 8px;
  }

  .bar a,
  .gap {
    width: 48px;
    height: 48px;
    display: grid;
    place-items: center;
    color: var(--ink);
  }

  .current {
    display: flex;
    gap: 8px;
    align-items: center;
    min-height: 44px;
    padding: 0 16px;
    font: inherit;
    color: inherit;
    background: none;
    border: 1px solid var(--line-strong);
    border-radius: 4px;
  }
}
</style>
