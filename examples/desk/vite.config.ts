import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

/**
 * The page runs without `unsafe-eval` (the block loops are WebAssembly, which has a permission of its own) and without scripts and
 * styles inside of it; the header is served so that tests see it hold.
 */
const policy =
  "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; style-src 'self'; img-src 'self' data:; connect-src 'self'"

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  build: { target: 'es2023', chunkSizeWarningLimit: 1600 },
  preview: { headers: { 'Content-Security-Policy': policy } },
})
