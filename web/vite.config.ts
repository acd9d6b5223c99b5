import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vitest/config'
import vuetify from 'vite-plugin-vuetify'

const server = process.env.BRICK_API ?? 'http://127.0.0.1:8100'

export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true })],
  test: { setupFiles: ['src/test/browser.ts'] },
  html: { cspNonce: '__CSP_NONCE__' },
  // scripts/build.sh puts it in the place of dist once all of it is there.
  build: { outDir: 'dist.making', target: 'es2022', assetsInlineLimit: 0, chunkSizeWarningLimit: 800 },
  // The server takes requests of its own address only: what Vite passes on says that it comes from there.
  server: {
    proxy: {
      '/api': {
        target: server,
        changeOrigin: true,
        configure: (proxy) => proxy.on('proxyReq', (request) => request.setHeader('origin', server)),
      },
    },
  },
})
