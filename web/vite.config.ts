import { fileURLToPath } from 'node:url'

import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    outDir: '../skeinwork/server/static',
    emptyOutDir: true,
    chunkSizeWarningLimit: 700,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'vue', test: /node_modules[\\/](@vue|vue|vue-router|@tanstack)/, priority: 20 },
            { name: 'components', test: /node_modules[\\/](primevue|@primevue|@primeuix)/, priority: 10 },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': { target: 'http://127.0.0.1:8642', changeOrigin: true } } },
})
