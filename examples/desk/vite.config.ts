import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

/** The page runs without `unsafe-eval` (the block loops are WebAssembly, which has a permission of its own) and without inline styles; the header is served so that tests see it hold. */
const policy =
  "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self'; img-src 'self' data:; connect-src 'self'"

export default defineConfig({
  plugins: [react()],
  build: { target: 'es2023', chunkSizeWarningLimit: 1100 },
  preview: { headers: { 'Content-Security-Policy': policy } },
})
