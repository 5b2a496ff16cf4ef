// Bundles the terminal tool into a few files: 150 small modules cost 150 ms at every start, a few files 20 ms. Packages of
// the registry stay outside and load when used.
import { rmSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import { shipWithCharts } from './ship-with-charts.mjs'

const at = (path) => fileURLToPath(new URL(`../${path}`, import.meta.url))
const outdir = at('packages/cli/dist/bundle')
rmSync(outdir, { recursive: true, force: true })
await build({
  entryPoints: [
    { in: at('packages/cli/src/main.ts'), out: 'main' },
    { in: at('packages/files/src/look-worker.ts'), out: 'look-worker' },
    { in: at('packages/host/src/host-thread.ts'), out: 'host-thread' },
  ],
  outdir,
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  sourcemap: true,
  alias: Object.fromEntries(
    [
      ['mellow-abacus', 'core/src/index'],
      ['mellow-abacus/storage', 'core/src/storage'],
      ['mellow-abacus/display', 'core/src/display/index'],
      ['mellow-abacus/model', 'core/src/model'],
      ['@mellow-abacus/sql', 'sql/src/index'],
      ['@mellow-abacus/files', 'files/src/index'],
      ['@mellow-abacus/charts', 'charts/src/index'],
      ['@mellow-abacus/session', 'session/src/index'],
      ['@mellow-abacus/session/wire', 'session/src/wire/index'],
      ['@mellow-abacus/server', 'server/src/index'],
      ['@mellow-abacus/host', 'host/src/index'],
      ['@mellow-abacus/demo', 'demo/src/index'],
    ].map(([name, door]) => [name, at(`packages/${door}.ts`)]),
  ),
  external: [
    '@duckdb/node-api',
    'pg',
    '@fastify/cors',
    '@fastify/rate-limit',
    '@fastify/reply-from',
    '@fastify/static',
    '@mellow-abacus/desk',
    '@fastify/swagger',
    '@fastify/swagger-ui',
    '@valibot/to-json-schema',
    'eventsource-parser',
    'fastify',
    'helmet',
    'jose',
    'negotiator',
    'open',
    'pino',
    'prom-client',
    'rotating-file-stream',
    'commander',
    'papaparse',
    '@streamparser/json',
    'cli-table3',
    'picocolors',
    'cli-progress',
    're2js',
    '@lhncbc/ucum-lhc',
    '@modelcontextprotocol/sdk',
    'zod',
    'valibot',
    'libsql',
    'apache-arrow',
    'exceljs',
    'fflate',
    'hyparquet',
    'hyparquet-compressors',
    'hyparquet-writer',
    'saxes',
    'vega',
    'vega-lite',
    '@resvg/resvg-js',
  ],
  logLevel: 'warning',
})
await shipWithCharts(`${outdir}/shipped`)
