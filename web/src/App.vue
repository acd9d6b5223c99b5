<script setup lang="ts">
import { onMounted, watch } from 'vue'
import { useTheme } from 'vuetify'
import { unpaired } from './api/client'
import PairingView from './frame/PairingView.vue'
import { loadReference } from './state/reference'
import { theme } from './state/preferences'

const vuetifyTheme = useTheme()

watch(
  theme,
  (now) => {
    vuetifyTheme.change(now)
    document.documentElement.dataset.theme = now
  },
  { immediate: true },
)
onMounted(loadReference)
</script>

<template>
  <v-app>
    <PairingView v-if="unpaired" />
    <router-view v-else />
  </v-app>
</template>
