<script setup lang="ts">
// The whole sheet on paper: boxes to tick and to write readings into; what was read already stands in them.
import type { OpenBuild } from '../api/types'
import { show } from '../format/show'
import { files } from '../api/client'
import { predictedOf } from './band'
import { phaseNames } from './phases'

defineProps<{ build: OpenBuild }>()

function read(build: OpenBuild, step: number, ask: number): string {
  const state = build.progress.steps[step]?.asks[ask]
  const expects = build.sheet.steps[step]?.asks[ask]?.expects
  if (state?.yes != null) return state.yes ? 'yes' : 'no'
  return state?.value != null && expects && expects.as !== 'yes' ? show(state.value, expects.unit) : ''
}
</script>

<template>
  <section class="paper" aria-hidden="true">
    <h1>{{ build.sheet.plan }}: build sheet</h1>
    <p>
      Plan revision {{ build.revision }}, begun {{ build.started_at.slice(0, 10) }}. Work over 60 V DC and on
      the mains is for licensed people.
    </p>
    <article v-for="(step, i) in build.sheet.steps" :key="step.key">
      <h2>
        <span class="box">{{ build.progress.steps[i]?.stands === 'done' ? '✓' : '' }}</span> {{ i + 1 }}.
        {{ step.title }} <small>{{ phaseNames[step.phase] }}</small>
      </h2>
      <p v-if="step.hazard">
        <b>Caution: {{ step.hazard }}</b>
      </p>
      <p>{{ step.how.join(' ') }}</p>
      <table v-if="step.asks.length">
        <tbody>
          <tr v-for="(ask, k) in step.asks" :key="ask.key">
            <td>
              {{
                ask.how.length
                  ? `${ask.how.join(' ')} ${ask.what}`
                  : ask.red
                    ? `${ask.what}: red ${ask.red}${ask.black ? `, black ${ask.black}` : ''}`
                    : ask.what
              }}
            </td>
            <td>{{ predictedOf(ask) }}</td>
            <td class="written">{{ read(build, i, k) }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="build.progress.steps[i]?.reason">Gone on with: {{ build.progress.steps[i]?.reason }}</p>
      <p v-for="said in build.progress.steps[i]?.notes" :key="said">Note: {{ said }}</p>
      <p v-if="build.progress.steps[i]?.photos.length">
        <img
          v-for="sha256 in build.progress.steps[i]?.photos"
          :key="sha256"
          :src="files.photo(sha256)"
          alt=""
        />
      </p>
      <p v-if="step.if_not">
        <i>If not: {{ step.if_not }}</i>
      </p>
    </article>
  </section>
</template>

<style scoped>
.paper {
  display: none;
}

@media print {
  .paper {
    display: block;
    color: #000;
    font-size: 10pt;
  }
}

h2 {
  margin-top: 4mm;
  font-size: 11pt;
}

h2 small {
  font-weight: 400;
}

article {
  break-inside: avoid;
}

.box {
  display: inline-block;
  width: 4mm;
  height: 4mm;
  line-height: 4mm;
  border: 0.3mm solid #000;
}

img {
  height: 45mm;
  margin-right: 2mm;
}

table {
  width: 100%;
  border-collapse: collapse;
}

td {
  padding: 0.6mm 1mm;
  border-bottom: 0.2mm solid #999;
}

.written {
  width: 34mm;
  height: 6mm;
  border: 0.3mm solid #000;
}
</style>

<style>
@media print {
  .house:has(.paper) {
    display: block !important;
    height: auto !important;
  }

  .house:has(.paper) > :not(main),
  .house:has(.paper) > main > :not(.paper) {
    display: none !important;
  }

  .house:has(.paper) > main {
    overflow: visible !important;
  }
}
</style>
