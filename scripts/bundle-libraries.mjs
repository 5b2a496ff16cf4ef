// Bundles each library into one file: hundreds of small modules cost a second at every import, one file a tenth of that.
// Packages of the registry stay outside. Types come from `tsc -b`, which runs first.
import { readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'

const root = fileURLToPath(new URL('../', import.meta.url))

/** What all bundles have in common. Maps name the sources and do not hold them. */
const common = {
  bundle: true,
  splitting: true,
  format: 'esm',
  target: ['node20', 'es2023'],
  packages: 'external',
  sourcemap: true,
  sourcesContent: false,
  minifyWhitespace: true,
  minifySyntax: true,
  logLevel: 'warning',
}

/** Puts what browsers have in place of what only Node has. */
const forBrowsers = {
  name: 'for-browsers',
  setup: (at) =>
    at.onResolve({ filter: /\/platform\/node\.js$/ }, ({ resolveDir }) => ({ path: join(resolveDir, '../platform/browser.ts') })),
}

/** Takes away what an earlier build left. */
function clear(folder) {
  for (const name of readdirSync(folder)) if (/\.js(\.map)?$/.test(name)) rmSync(join(folder, name))
}

for (const [folder, entries] of [
  ['core', ['index']],
  ['demo', ['index']],
  ['files', ['index', 'browser', 'look-worker']],
]) {
  const base = join(root, 'packages', folder)
  clear(join(base, 'dist'))
  const nodeEntries = entries.filter((name) => name !== 'browser')
  const entryPoints = (names) => names.map((name) => join(base, 'src', `${name}.ts`))
  const outdir = join(base, 'dist')
  await build({ ...common, entryPoints: entryPoints(nodeEntries), outdir, platform: folder === 'files' ? 'node' : 'neutral' })
  if (entries.includes('browser'))
    await build({ ...common, entryPoints: entryPoints(['browser']), outdir, platform: 'browser', plugins: [forBrowsers] })
}
