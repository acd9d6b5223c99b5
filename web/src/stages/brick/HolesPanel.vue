<script setup lang="ts">
// What goes through the walls: how deep it may be, what lies behind the drill, what is seen from outside.
import { computed } from 'vue'
import type { HoleCheck, Sign } from '../../api/types'
import { show } from '../../format/show'
import { usePlan } from '../../state/plan'

const props = defineProps<{ holes: HoleCheck[] }>()
const { plan, set } = usePlan()

const purposes: Record<string, string> = {
  jack: 'Charge jack',
  lamp: 'Lamp',
  switch: 'Switch',
  cable: 'Cable gland',
  gauge: 'Gauge',
}
const signs: { sign: Sign; title: string }[] = [
  { sign: 'charging', title: 'charging' },
  { sign: 'full', title: 'full' },
  { sign: 'on', title: 'on' },
]
const rows = computed(() =>
  props.holes.flatMap((check) => {
    const place = plan.value?.device.compartments?.[check.compartment]
    const opening = place?.openings?.[check.opening]
    if (!place || !opening) return []
    const at = `/device/compartments/${check.compartment}/openings/${check.opening}`
    return [{ check, place, opening, at }]
  }),
)
const seen = (sign: Sign) =>
  rows.value
    .filter((r) => r.opening.shows?.includes(sign))
    .map((r) => purposes[r.opening.purpose]?.toLowerCase())

function toggle(at: string, shows: Sign[], sign: Sign): void {
  set(`${at}/shows`, shows.includes(sign) ? shows.filter((s) => s !== sign) : [...shows, sign])
}
</script>

<template>
  <section class="section" data-testid="holes">
    <h2>Through the walls</h2>
    <p v-if="!rows.length" class="soft">
      No openings yet.
      <router-link :to="{ name: 'device' }">Add jack, lamp, switch or cable to the place</router-link>
    </p>
    <div v-for="r in rows" :key="r.at" class="hole">
      <p>
        <b>{{ purposes[r.opening.purpose] }}</b> {{ show(r.opening.hole_mm, 'mm') }} in {{ r.place.name }}
        <span v-if="r.check.free_mm != null" class="soft">
          · {{ show(Math.max(0, r.check.free_mm), 'mm') }} free behind
        </span>
        <span v-else class="soft">· depth behind not known</span>
      </p>
      <p v-if="r.check.behind.length" class="soft">
        Behind the drill:
        {{ r.check.behind.map((b) => `${b.what} at ${show(Math.max(0, b.depth_mm), 'mm')}`).join(', ') }}
      </p>
      <p v-else-if="!r.opening.wall" class="soft">
        Enter where it goes through; then what lies behind is shown.
      </p>
      <p class="signs">
        Shows
        <label v-for="s in signs" :key="s.sign">
          <input
            type="checkbox"
            :checked="r.opening.shows?.includes(s.sign)"
            @change="toggle(r.at, r.opening.shows ?? [], s.sign)"
          />
          {{ s.title }}
        </label>
      </p>
    </div>
    <p class="soft">
      Seen from outside:
      <template v-for="(s, i) in signs" :key="s.sign"
        >{{ i ? '; ' : '' }}{{ s.title }}: {{ seen(s.sign).join(', ') || 'nowhere in the case' }}</template
      >. A charger outside shows charging and full itself.
    </p>
  </section>
</template>

<style scoped>
.hole {
  padding: 8px 0;
  border-bottom: 1px solid var(--line);
}

.signs {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  font-size: 14px;
}

.signs input {
  accent-color: var(--petrol);
}
</style>
