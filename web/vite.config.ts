import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import vuetify from 'vite-plugin-vuetify'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  html: { cspNonce: '__CSP_NONCE__' },
  // scripts/build.sh puts it in the place of dist once all of it is there.
  build: { outDir: 'dist.making', target: 'es2022', assetsInlineLimit: 0, chunkSizeWarningLimit: 800 },
  server: { proxy: { '/api': 'http://127.0.0.1:8100' } },
})
