<script setup lang="ts">
// A drawing in its frame: whole at first; enlarged by buttons, two fingers or Ctrl and the wheel; moved by scrolling; turned on a narrow page.
import { mdiMagnifyMinusOutline, mdiMagnifyPlusOutline, mdiPhoneRotateLandscape } from '@mdi/js'
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from 'vue'

/** Width over height of the drawing. */
const props = defineProps<{ ratio: number }>()

const MOST = 10
const STEP = 1.5
/** No higher than this while it is whole, so that the readings below stay in sight. */
const HIGHEST_PX = 620
const NARROW_PX = 600

const pane = ref<HTMLElement>()
const room = ref(0)
const zoom = ref(1)
const turned = ref(false)

const narrow = computed(() => room.value < NARROW_PX)
const width = computed(() => {
  const across = turned.value ? room.value : Math.min(room.value, HIGHEST_PX * props.ratio)
  return across * zoom.value
})
const height = computed(() => (turned.value ? width.value * props.ratio : width.value / props.ratio))
/** The drawing itself, which lies on its side in the frame where it is turned. */
const lies = computed(() =>
  turned.value
    ? {
        width: `${height.value}px`,
        height: `${width.value}px`,
        transform: `translateX(${width.value}px) rotate(90deg)`,
      }
    : { width: `${width.value}px`, height: `${height.value}px` },
)

/** Enlarges so that what lies under a point of the frame stays there. */
async function zoomTo(wanted: number, x: number, y: number): Promise<void> {
  const frame = pane.value
  const next = Math.min(MOST, Math.max(1, wanted))
  if (!frame || next === zoom.value) return
  const grows = next / zoom.value
  const [left, top] = [(frame.scrollLeft + x) * grows - x, (frame.scrollTop + y) * grows - y]
  zoom.value = next
  await nextTick()
  frame.scrollTo(left, top)
}
const inMiddle = (factor: number) =>
  zoomTo(zoom.value * factor, (pane.value?.clientWidth ?? 0) / 2, (pane.value?.clientHeight ?? 0) / 2)

function turn(): void {
  turned.value = !turned.value
  zoom.value = 1
}

function wheel(event: WheelEvent): void {
  if (!event.ctrlKey) return
  event.preventDefault()
  const box = pane.value!.getBoundingClientRect()
  void zoomTo(
    zoom.value * (event.deltaY < 0 ? 1.2 : 1 / 1.2),
    event.clientX - box.left,
    event.clientY - box.top,
  )
}

/** How far two fingers were apart, and how large it was then. */
let pinched: { apart: number; zoom: number } | null = null
function fingers(event: TouchEvent): void {
  const [a, b] = event.touches
  if (!a || !b) {
    pinched = null
    return
  }
  event.preventDefault()
  const apart = Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY)
  pinched ??= { apart, zoom: zoom.value }
  const box = pane.value!.getBoundingClientRect()
  const [x, y] = [(a.clientX + b.clientX) / 2 - box.left, (a.clientY + b.clientY) / 2 - box.top]
  void zoomTo((pinched.zoom * apart) / pinched.apart, x, y)
}

let watched: ResizeObserver | undefined
onMounted(() => {
  const frame = pane.value!
  watched = new ResizeObserver(() => (room.value = frame.clientWidth))
  watched.observe(frame)
  room.value = frame.clientWidth
  // The page itself must not grow or scroll under two fingers.
  frame.addEventListener('touchmove', fingers, { passive: false })
  frame.addEventListener('touchend', fingers)
  frame.addEventListener('wheel', wheel, { passive: false })
})
onBeforeUnmount(() => watched?.disconnect())
</script>

<template>
  <div class="around">
    <div
      ref="pane"
      class="pane"
      :class="{ large: zoom > 1 }"
      tabindex="0"
      role="region"
      aria-label="Diagram"
      data-testid="diagram"
      :data-zoom="zoom.toFixed(2)"
    >
      <div class="sheet" :style="{ width: `${width}px`, height: `${height}px` }">
        <div class="drawing" :style="lies"><slot /></div>
      </div>
    </div>
    <div class="tools" role="toolbar" aria-label="Size of the drawing">
      <v-btn
        v-if="narrow"
        :icon="mdiPhoneRotateLandscape"
        size="small"
        aria-label="Turn the drawing"
        :aria-pressed="turned"
        @click="turn"
      />
      <v-btn
        :icon="mdiMagnifyMinusOutline"
        size="small"
        aria-label="Smaller"
        :disabled="zoom <= 1"
        @click="inMiddle(1 / STEP)"
      />
      <v-btn
        :icon="mdiMagnifyPlusOutline"
        size="small"
        aria-label="Larger"
        :disabled="zoom >= MOST"
        @click="inMiddle(STEP)"
      />
      <v-btn height="40" :disabled="zoom <= 1" @click="zoom = 1">Whole drawing</v-btn>
    </div>
  </div>
</template>

<style scoped>
.pane {
  overflow: auto;
  border: 1px solid var(--line-strong);
  background: var(--sheet);
  touch-action: pan-x pan-y;
}

.large {
  height: 72vh;
}

.sheet {
  margin: 0 auto;
}

.drawing {
  transform-origin: 0 0;
}

.drawing :deep(svg) {
  height: 100%;
  max-height: none;
}

.tools {
  display: flex;
  justify-content: flex-end;
  gap: 6px;
  margin-top: 6px;
}
</style>
