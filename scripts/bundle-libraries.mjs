// Bundles each library into one file: hundreds of small modules cost a second at every import, one file a tenth of that.
// Packages of the registry stay outside. Types come from `tsc -b`, which runs first.
import { cpSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { decode, encode } from '@jridgewell/sourcemap-codec'
import { build } from 'esbuild'
import { bundleTypes } from './bundle-types.mjs'
import { shipWithCharts } from './ship-with-charts.mjs'

const root = fileURLToPath(new URL('../', import.meta.url))

/** What all bundles have in common. Maps name the sources and do not hold them. */
const common = {
  bundle: true,
  splitting: true,
  chunkNames: 'shared-[hash]',
  format: 'esm',
  target: ['node20', 'es2023'],
  packages: 'external',
  // Else the paths of the repository's own settings would draw one library into another.
  tsconfigRaw: {},
  sourcemap: true,
  sourcesContent: false,
  minifySyntax: true,
  logLevel: 'warning',
}

/** Puts what browsers have in place of what only Node has. */
const forBrowsers = {
  name: 'for-browsers',
  setup: (at) =>
    at.onResolve({ filter: /\/platform\/node\.js$/ }, ({ resolveDir }) => ({ path: join(resolveDir, '../platform/browser.ts') })),
}

/** Lines that only close what was opened before, at which nothing can be thrown. */
const CLOSING = /^[\s)}\];,]*$/

/** Keeps one place a line of each map: what a stack trace names, in a tenth of the bytes. */
function thinMaps(folder) {
  for (const name of readdirSync(folder).filter((one) => one.endsWith('.js.map'))) {
    const map = JSON.parse(readFileSync(join(folder, name), 'utf8'))
    const made = readFileSync(join(folder, name.slice(0, -'.map'.length)), 'utf8').split('\n')
    const lines = decode(map.mappings).map((segments, at) => (CLOSING.test(made[at] ?? '') ? [] : segments.slice(0, 1)))
    writeFileSync(join(folder, name), JSON.stringify({ ...map, mappings: encode(lines) }))
  }
}

/** Takes away what an earlier build left. */
function clear(folder) {
  for (const name of readdirSync(folder)) if (/\.(js|js\.map|d\.ts)$/.test(name)) rmSync(join(folder, name))
}

for (const [folder, entries] of [
  ['core', ['index', 'storage', 'display/index', 'model']],
  ['demo', ['index']],
  ['react', ['index']],
  ['files', ['index', 'browser', 'look-worker']],
  ['sql', ['index']],
  ['charts', ['index', 'browser']],
  ['session', ['index', 'wire/index']],
  ['host', ['index', 'browser', 'host-thread']],
  ['server', ['index']],
  ['desk', ['index']],
]) {
  const base = join(root, 'packages', folder)
  clear(join(base, 'dist'))
  const nodeEntries = entries.filter((name) => name !== 'browser')
  const entryPoints = (names) => names.map((name) => join(base, 'src', `${name}.ts`))
  const outdir = join(base, 'dist')
  await build({
    ...common,
    entryPoints: entryPoints(nodeEntries),
    outdir,
    platform: entries.includes('browser') || folder === 'desk' || folder === 'sql' ? 'node' : 'neutral',
  })
  if (entries.includes('browser'))
    await build({ ...common, entryPoints: entryPoints(['browser']), outdir, platform: 'browser', plugins: [forBrowsers] })
  thinMaps(outdir)
  await bundleTypes(
    folder,
    entries.filter((name) => name !== 'look-worker' && name !== 'host-thread'),
  )
}

await shipWithCharts(join(root, 'packages/charts/dist/shipped'))
cpSync(join(root, 'packages/charts/src/tokens.css'), join(root, 'packages/charts/dist/tokens.css'))
