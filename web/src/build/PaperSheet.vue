<script setup lang="ts">
// The whole sheet on paper: boxes to tick and to write readings into; what was read already stands in them.
import type { OpenBuild } from '../api/types'
import { moment } from '../format/moment'
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

/** What was read there first: it stands beside what counts. */
function earlier(build: OpenBuild, step: number, ask: number): string {
  const expects = build.sheet.steps[step]?.asks[ask]?.expects
  const before = build.progress.steps[step]?.asks[ask]?.before ?? []
  return expects && expects.as !== 'yes' ? before.map((v) => show(v, expects.unit)).join(', ') : ''
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
        {{ step.title }}
        <small>
          {{ phaseNames[step.phase]
          }}<template v-if="build.progress.steps[i]?.at"
            >, {{ moment(build.progress.steps[i]!.at!) }}</template
          >
        </small>
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
            <td class="written">
              {{ read(build, i, k) }}
              <small v-if="build.progress.steps[i]?.asks[k]?.before.length">
                before: {{ earlier(build, i, k) }}
              </small>
            </td>
          </tr>
        </tbody>
      </table>
      <table v-if="step.logs">
        <thead>
          <tr>
            <th v-for="head in ['After', 'Cells', 'Current', 'Groups apart', 'Charger’s side']" :key="head">
              {{ head }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in build.charge?.lines" :key="line.after_s">
            <td>{{ show(line.after_s, 's') }}</td>
            <td>{{ line.pack_v == null ? '' : show(line.pack_v, 'v') }}</td>
            <td>{{ line.current_a == null ? '' : show(line.current_a, 'a') }}</td>
            <td>{{ line.apart_v == null ? '' : show(line.apart_v, 'v') }}</td>
            <td>{{ line.input_v == null ? '' : show(line.input_v, 'v') }}</td>
          </tr>
          <tr v-for="row in build.charge?.lines.length ? 0 : 8" :key="`empty-${row}`" class="empty">
            <td v-for="k in 5" :key="k">&nbsp;</td>
          </tr>
        </tbody>
      </table>
      <p v-if="step.logs && build.charge?.ended">{{ build.charge.says }}</p>
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
