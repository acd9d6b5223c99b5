<script setup lang="ts">
// Photographs of the device or of one step: taken in, shown small, opened large, named.
import { mdiCameraOutline, mdiClose } from '@mdi/js'
import { computed, ref } from 'vue'
import { api, files } from '../../api/client'
import type { Photo } from '../../api/types'
import { usePlan } from '../../state/plan'

const props = defineProps<{ step: string | null; label: string }>()

const { plan, set } = usePlan()
const list = '/device/photos'
const chooser = ref<HTMLInputElement>()
const keeping = ref(false)
const refused = ref<string[]>([])
const missing = ref(new Set<string>())

const all = computed<Photo[]>(() => plan.value?.device.photos ?? [])
const shown = computed(() =>
  all.value
    .map((photo, index) => ({ photo, index }))
    .filter(({ photo }) => (photo.step ?? null) === props.step),
)

async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = [...(input.files ?? [])]
  input.value = ''
  refused.value = []
  keeping.value = true
  for (const file of chosen) {
    const answer = await api.keepPhoto(file)
    if (answer.ok) {
      const photo: Photo = { sha256: answer.value.sha256, shows: '', step: props.step }
      missing.value.delete(photo.sha256)
      set(list, [...all.value, photo])
    } else {
      refused.value.push(`${file.name}: ${answer.problem.detail}`)
    }
  }
  keeping.value = false
}

function remove(index: number): void {
  set(
    list,
    all.value.filter((_, i) => i !== index),
  )
}
</script>

<template>
  <div class="strip">
    <figure v-for="{ photo, index } in shown" :key="index" data-testid="photo">
      <p v-if="missing.has(photo.sha256)" class="gone">
        This picture is not stored here: a plan file carries only its name.
      </p>
      <a v-else :href="files.photo(photo.sha256)" target="_blank" rel="noopener">
        <img
          :src="files.photo(photo.sha256)"
          :alt="photo.shows || 'photograph'"
          loading="lazy"
          @error="missing.add(photo.sha256)"
        />
      </a>
      <figcaption>
        <v-text-field
          label="Shows"
          :model-value="photo.shows"
          maxlength="400"
          @update:model-value="set(`${list}/${index}/shows`, $event ?? '')"
        />
        <v-btn
          :icon="mdiClose"
          variant="text"
          size="x-small"
          :aria-label="`Remove the photograph ${photo.shows}`"
          @click="remove(index)"
        />
      </figcaption>
    </figure>
    <v-btn :prepend-icon="mdiCameraOutline" size="small" :loading="keeping" @click="chooser?.click()">
      {{ step ? 'Photograph…' : 'Photograph of the device…' }}
    </v-btn>
    <input
      ref="chooser"
      class="visually-hidden"
      type="file"
      multiple
      accept="image/png,image/jpeg,image/webp"
      :aria-label="label"
      tabindex="-1"
      :data-testid="`photo-of-${step ?? 'device'}`"
      @change="take"
    />
    <ul v-if="refused.length" class="refused" role="alert" data-testid="photo-refused">
      <li v-for="words in refused" :key="words">{{ words }}</li>
    </ul>
  </div>
</template>

<style scoped>
.strip {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 10px;
}

figure {
  width: 200px;
  margin: 0;
}

img,
.gone {
  display: block;
  width: 200px;
  height: 132px;
  border: 1px solid var(--line-strong);
  border-radius: 4px;
  object-fit: cover;
}

.gone {
  padding: 8px;
  color: var(--soft);
  font-size: 14px;
}

figcaption {
  display: flex;
  align-items: center;
  gap: 2px;
  margin-top: 6px;
}

.refused {
  width: 100%;
  margin: 0;
  padding: 6px 10px 6px 26px;
  border-left: 5px solid var(--stop);
  background: var(--stop-tint);
  font-size: 14px;
}
</style>
