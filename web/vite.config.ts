import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

/** Lists the files of the build, so that the service worker can keep them all for a bench without a network. */
const fileList: Plugin = {
  name: 'file-list',
  generateBundle(_, bundle) {
    const files = Object.keys(bundle).filter((f) => f !== 'index.html')
    this.emitFile({
      type: 'asset',
      fileName: 'files.json',
      source: JSON.stringify(['/', '/bench.wasm', '/wasm_exec.js', ...files.map((f) => `/${f}`)]),
    })
  },
}

export default defineConfig({
  plugins: [vue(), fileList],
  build: { target: 'es2022', chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
})
