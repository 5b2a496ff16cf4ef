// Loads a module of the library that no door gives out, for scripts of this repository: bundled on the fly, from its source.
import { mkdtempSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'
import { build } from 'esbuild'

const root = fileURLToPath(new URL('../', import.meta.url))

/** The exports of a module, by its path from the root. */
export async function internals(path) {
  // Inside the repository, so that the packages of the registry are found.
  const folder = mkdtempSync(join(root, 'node_modules/.internals-'))
  try {
    const outfile = join(folder, 'module.mjs')
    await build({ entryPoints: [join(root, path)], outfile, bundle: true, format: 'esm', platform: 'node', packages: 'external' })
    return await import(pathToFileURL(outfile).href)
  } finally {
    rmSync(folder, { recursive: true })
  }
}
