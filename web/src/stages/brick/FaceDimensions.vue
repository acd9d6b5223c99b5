<script setup lang="ts">
// Width and height of a face, as dimension lines above and left of it.
import type { Face } from '../../api/types'
import { show } from '../../format/show'

defineProps<{ face: Face; letters: number }>()
</script>

<template>
  <g class="dimension">
    <path :d="`M0 -6 H${face.width_mm} M0 -7.5 V-4.5 M${face.width_mm} -7.5 V-4.5`" />
    <text :x="face.width_mm / 2" y="-7.5" :font-size="letters" text-anchor="middle">
      {{ show(face.width_mm, 'mm') }}
    </text>
    <path :d="`M-6 0 V${face.height_mm} M-7.5 0 H-4.5 M-7.5 ${face.height_mm} H-4.5`" />
    <text
      :x="-7.5"
      :y="face.height_mm / 2"
      :font-size="letters"
      text-anchor="middle"
      :transform="`rotate(-90 -7.5 ${face.height_mm / 2})`"
    >
      {{ show(face.height_mm, 'mm') }}
    </text>
  </g>
</template>

<style scoped>
.dimension {
  fill: var(--soft);
}

path {
  stroke: var(--soft);
  stroke-width: 0.25;
  fill: none;
}
</style>
