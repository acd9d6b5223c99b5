<script setup lang="ts">
// The power path in figures: each limit opens its working and says who set it.
import { computed } from 'vue'
import type { Path } from '../../api/types'
import { saveCsv } from '../../format/csv'
import { plain, show } from '../../format/show'
import { openWorking } from '../../state/working'

const props = defineProps<{ path: Path }>()

const peaks = computed(() => props.path.demands.filter((d) => d.peak))

function save(): void {
  const head = ['link', 'continuous / A', 'set by', ...peaks.value.map((d) => `${d.name} / A`), 'used']
  const rows = props.path.links.map((l) => [
    l.label,
    l.continuous_a,
    l.set_by,
    ...peaks.value.map((d) => l.peaks.find((p) => p.load === d.load)?.limit_a),
    l.used,
  ])
  saveCsv('path', head, rows)
}
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Limits in figures">
    <table>
      <thead>
        <tr>
          <th scope="col">Link</th>
          <th scope="col">Continuous</th>
          <th v-for="d in peaks" :key="d.load" scope="col">
            {{ d.name }}, {{ show(d.duration_s ?? 0, 's') }}
          </th>
          <th scope="col">Used</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="link in path.links" :key="link.id">
          <th scope="row">{{ link.label }}</th>
          <td>
            <button v-if="link.figure" type="button" class="textlink" @click="openWorking(link.figure)">
              {{ show(link.continuous_a ?? 0, 'a') }}
            </button>
            <template v-else>–</template>
            <span class="soft">{{ link.set_by }}</span>
          </td>
          <td v-for="peak in link.peaks" :key="peak.load">
            <button v-if="peak.figure" type="button" class="textlink" @click="openWorking(peak.figure)">
              {{ show(peak.limit_a ?? 0, 'a') }}
            </button>
            <template v-else>–</template>
            <span class="soft">{{ peak.set_by }}</span>
          </td>
          <td>
            <button
              v-if="link.used != null"
              type="button"
              class="textlink"
              @click="openWorking(`link.used@${link.id}`)"
            >
              {{ plain(link.used * 100, 0) }} %
            </button>
            <template v-else>–</template>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <v-btn size="small" class="after" @click="save">Save as CSV</v-btn>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  margin-top: 8px;
}

table {
  width: 100%;
  border-collapse: collapse;
}

th,
td {
  text-align: left;
  vertical-align: top;
  padding: 5px 12px 5px 0;
  border-bottom: 1px solid var(--line);
}

td .soft {
  display: block;
}
</style>
