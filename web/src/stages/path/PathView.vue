<script setup lang="ts">
// The power path as a head-room corridor: every link is a ceiling over the currents that flow beneath it.
import { computed, ref } from 'vue'
import { usePlan } from '../../state/plan'
import ChargePath from './ChargePath.vue'
import PathCorridor from './PathCorridor.vue'
import PathList from './PathList.vue'
import PathTable from './PathTable.vue'
import { ampScale } from './corridorScale'

const { assessment } = usePlan()
const path = computed(() => assessment.value?.path)
const scale = computed(() => (path.value ? ampScale(path.value) : null))
const table = ref(false)
</script>

<template>
  <h2>Power path</h2>
  <p class="lead">
    The line of each link is its limit; below it is the current through it. Hatched: the peak only. All
    currents are those of the battery; behind a converter they are converted back to it. Click a link to
    change it.
  </p>
  <template v-if="path && scale && path.links.length">
    <PathCorridor class="drawn" :path="path" :scale="scale" />
    <PathList class="stacked" :path="path" />
    <button type="button" class="textlink values" :aria-expanded="table" @click="table = !table">
      {{ table ? 'Hide the values' : 'Show the values and what sets them' }}
    </button>
    <PathTable v-if="table" :path="path" />
  </template>
  <div v-else class="empty">
    <p>The path appears as soon as something is chosen: every limit over every current.</p>
    <p>
      Start by <router-link :to="{ name: 'device' }">surveying the device</router-link>, then
      <router-link :to="{ name: 'voltage' }">choose the voltage</router-link> and
      <router-link :to="{ name: 'cells' }">the cells</router-link>.
    </p>
  </div>
  <ChargePath v-if="path?.charge.length" class="section" :path="path" />
</template>

<style scoped>
.empty {
  margin-top: 16px;
  padding: 18px;
  border: 1px dashed var(--line-strong);
}

@media (min-width: 701px) {
  .values {
    margin-top: 2px;
  }
}

.stacked {
  display: none;
}

@media (max-width: 700px) {
  .drawn {
    display: none;
  }

  .stacked {
    display: block;
  }
}
</style>
