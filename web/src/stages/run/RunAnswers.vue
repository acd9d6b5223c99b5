<script setup lang="ts">
// The answers of every variant side by side, and of the original battery.
import { computed } from 'vue'
import type { OldRun, RunOutcome } from '../../api/types'
import { show, showRange } from '../../format/show'
import { usePlan } from '../../state/plan'
import { named } from './useRun'

const { figure } = usePlan()

const props = defineProps<{ runs: RunOutcome[]; kept: number; original: OldRun | null }>()
const emit = defineEmits<{ drop: [kept: number] }>()

/** Behind a converter what it takes and what the device gets are two figures. */
const converted = computed(() => props.runs.some((run) => run.output_wh != null))

const peak = (run: RunOutcome): string => {
  if (run.peak_least_v == null && run.peak_borne_s == null) return 'none surveyed'
  const down = run.peak_least_v == null ? '' : `, down to ${show(run.peak_least_v, 'v')}`
  if (run.peak_borne_s == null) return `always delivered${down}`
  return run.peak_borne_s <= 0
    ? `not even when full${down}`
    : `delivered until ${show(run.peak_borne_s, 's')}${down}`
}
</script>

<template>
  <div class="sideways" tabindex="0" role="region" aria-label="Results of every run">
    <table class="answers" data-testid="answers">
      <thead>
        <tr>
          <td></td>
          <th v-for="(run, i) in runs" :key="i" scope="col">
            {{ named(run.what) }}
            <button
              v-if="i > 0 && i <= kept"
              type="button"
              class="textlink"
              :aria-label="`Remove ${named(run.what)}`"
              @click="emit('drop', i - 1)"
            >
              remove
            </button>
          </th>
          <th v-if="original" scope="col">Old battery, when good</th>
        </tr>
      </thead>
      <tbody>
        <tr class="time">
          <th scope="row">Runs</th>
          <td v-for="(run, i) in runs" :key="i" data-testid="runs">
            <b>{{ show(run.time_s, 's') }}</b>
            <span class="band">{{ showRange(run.low_s, run.high_s, 's') }}</span>
          </td>
          <td v-if="original">
            <b>{{ show(original.time_s, 's') }}</b>
            <span class="band">{{ showRange(original.low_s, original.high_s, 's') }}</span>
            <span v-if="figure('original.run_s')" class="band">
              surveyed {{ show(figure('original.run_s')!.value, 's') }}
            </span>
          </td>
        </tr>
        <tr class="why">
          <th scope="row">Then</th>
          <td v-for="(run, i) in runs" :key="i" data-testid="ends">{{ run.says }}</td>
          <td v-if="original" class="soft">
            By Peukert’s law, and rules of thumb for the other chemistries.
          </td>
        </tr>
        <tr>
          <th scope="row">{{ converted ? 'Into the converter' : 'Into the device' }}</th>
          <td v-for="(run, i) in runs" :key="i">{{ show(run.feed_wh, 'wh') }}</td>
          <td v-if="original">{{ converted ? '–' : show(original.pack_wh, 'wh') }}</td>
        </tr>
        <tr v-if="converted">
          <th scope="row">Into the device</th>
          <td v-for="(run, i) in runs" :key="i" data-testid="output">
            {{ show(run.output_wh ?? 0, 'wh') }}
            <span class="soft">{{ show(run.output_ah ?? 0, 'ah') }} at its voltage</span>
          </td>
          <td v-if="original">{{ show(original.pack_wh, 'wh') }}</td>
        </tr>
        <tr>
          <th scope="row">{{ converted ? 'Lowest voltage at the converter' : 'Lowest voltage there' }}</th>
          <td v-for="(run, i) in runs" :key="i">
            {{ show(run.least_v, 'v') }} <span class="soft">after {{ show(run.least_at_s, 's') }}</span>
          </td>
          <td v-if="original">–</td>
        </tr>
        <tr>
          <th scope="row">A peak now and then</th>
          <td v-for="(run, i) in runs" :key="i" data-testid="peak">{{ peak(run) }}</td>
          <td v-if="original">–</td>
        </tr>
        <tr>
          <th scope="row">Hottest cell</th>
          <td v-for="(run, i) in runs" :key="i">
            {{ show(run.hottest_c, 'c') }}
            <span class="soft">{{ run.hottest ?? 'the pack as one block' }}</span>
          </td>
          <td v-if="original">–</td>
        </tr>
        <tr>
          <th scope="row">Left in the pack</th>
          <td v-for="(run, i) in runs" :key="i">
            {{ show(run.left_share, 'share') }}
            <span class="soft">weakest group {{ show(run.above_floor_v, 'v') }} above its minimum</span>
          </td>
          <td v-if="original">–</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.answers {
  border-collapse: collapse;
  width: 100%;
}

.answers th,
.answers td {
  text-align: left;
  vertical-align: top;
  padding: 5px 16px 5px 0;
  border-bottom: 1px solid var(--line);
  min-width: 150px;
}

.answers tbody th {
  font-weight: 400;
  color: var(--soft);
  font-size: 14px;
  min-width: 120px;
}

.time b {
  font-size: 24px;
  line-height: 1.2;
}

.band {
  display: block;
  color: var(--soft);
  font-size: 13px;
}

.why td {
  font-size: 14px;
}
</style>
