import vue from '@vitejs/plugin-vue'
import { defineConfig, type Plugin } from 'vite'

/**
 * Lists the files of the build, so that the service worker can keep them all for a bench without a network: what is
 * large comes once somebody has signed in.
 */
const fileList: Plugin = {
  name: 'file-list',
  generateBundle(_, bundle) {
    const files = Object.keys(bundle).filter((f) => f !== 'index.html')
    const large = (f: string) => f.endsWith('.wasm')
    this.emitFile({
      type: 'asset',
      fileName: 'files.json',
      source: JSON.stringify({
        now: ['/', '/wasm_exec.js', ...files.filter((f) => !large(f)).map((f) => `/${f}`)],
        later: files.filter(large).map((f) => `/${f}`),
      }),
    })
  },
}

export default defineConfig({
  plugins: [vue(), fileList],
  build: { target: 'es2022', chunkSizeWarningLimit: 900, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
})
