import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { pageFolder, pagePolicy } from '@mellow-abacus/desk'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [
    react(),
    { name: 'policy', transformIndexHtml: (html) => html.replace('%POLICY%', pagePolicy) },
    { name: 'compress', apply: 'build', closeBundle: () => compressPage(pageFolder) },
  ],
  worker: { format: 'es' },
  build: {
    target: 'es2023',
    chunkSizeWarningLimit: 1600,
    outDir: pageFolder,
    emptyOutDir: true,
    rolldownOptions: { checks: { bundlerTimings: false } },
  },
  preview: { headers: { 'Content-Security-Policy': pagePolicy } },
})

/** Bytes below which compressing gains nothing. */
const LEAST_BYTES = 1_024

/** Puts compressed files beside those of a built page, so that whoever serves it compresses nothing and tells the length. */
function compressPage(folder: string): void {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !/\.(?:js|css|html|wasm)$/.test(entry.name)) continue
    const path = join(entry.parentPath, entry.name)
    const bytes = readFileSync(path)
    if (bytes.length < LEAST_BYTES) continue
    writeFileSync(`${path}.gz`, gzipSync(bytes, { level: 9 }))
  }
}
