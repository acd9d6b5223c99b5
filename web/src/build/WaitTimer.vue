<script setup lang="ts">
// A wait of a step: started with one tap, counted down, told by a sound; it goes on while the page is closed.
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import type { Wait } from '../api/types'
import { show } from '../format/show'

const props = defineProps<{ wait: Wait; of: string }>()

const MS_PER_S = 1000
const key = computed(() => `dense-brick.wait.${props.of}`)
/** When it is over, in milliseconds; 0 while it was not started. */
const over = ref(0)
const now = ref(Date.now())
const left_s = computed(() => Math.max(0, Math.ceil((over.value - now.value) / MS_PER_S)))
const two = (n: number) => String(n).padStart(2, '0')
const written = computed(() => {
  const [h, min, s] = [
    Math.floor(left_s.value / 3600),
    Math.floor((left_s.value % 3600) / 60),
    left_s.value % 60,
  ]
  return h ? `${h}:${two(min)}:${two(s)}` : `${min}:${two(s)}`
})

function kept(of: string): number {
  try {
    return Number(localStorage.getItem(of) ?? 0)
  } catch {
    return 0
  }
}
function keep(at: number): void {
  over.value = at
  try {
    if (at) localStorage.setItem(key.value, String(at))
    else localStorage.removeItem(key.value)
  } catch {
    // It still counts on this page.
  }
}

let audio: AudioContext | undefined
function start(): void {
  // Browsers let a page sound only after a tap: this is one.
  audio ??= new AudioContext()
  keep(Date.now() + props.wait.for_s * MS_PER_S)
  now.value = Date.now()
}

/** Three short tones. */
function sound(): void {
  if (!audio) return
  for (const [i, pitch_hz] of [660, 660, 880].entries()) {
    const tone = audio.createOscillator()
    tone.frequency.value = pitch_hz
    tone.connect(audio.destination)
    tone.start(audio.currentTime + i * 0.35)
    tone.stop(audio.currentTime + i * 0.35 + 0.2)
  }
}

watch(key, (of) => (over.value = kept(of)), { immediate: true })
const ticking = window.setInterval(() => {
  const running = left_s.value > 0
  now.value = Date.now()
  if (over.value && running && left_s.value === 0) sound()
}, 500)
onBeforeUnmount(() => {
  clearInterval(ticking)
  void audio?.close()
})
</script>

<template>
  <p class="wait" data-testid="wait" role="timer">
    <template v-if="!over">
      <v-btn @click="start">Start {{ show(wait.for_s, 's') }}</v-btn>
      <span class="soft">{{ wait.what }}</span>
    </template>
    <template v-else-if="left_s">
      <b class="mono">{{ written }}</b>
      <span class="soft">{{ wait.what }}</span>
      <v-btn size="small" variant="text" @click="keep(0)">Stop</v-btn>
    </template>
    <template v-else>
      <b>The wait is over.</b>
      <v-btn size="small" variant="text" @click="keep(0)">Reset</v-btn>
    </template>
  </p>
</template>

<style scoped>
.wait {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin-top: 12px;
}

.mono {
  font-size: 28px;
}
</style>
