// Imports run one way: a package imports only packages below it, a room only rooms below it and only through their door,
// `index.ts`. The rooms stand in docs/architecture.md; every room begins its door with what it is for.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
/** What each package may import of the others. */
const packages = {
  'packages/core': [],
  'packages/demo': [],
  'packages/files': ['mellow-abacus', 'mellow-abacus/storage'],
  'packages/sql': ['mellow-abacus', 'mellow-abacus/model'],
  'packages/charts': ['mellow-abacus'],
  'packages/session': ['mellow-abacus'],
  'packages/server': [
    'mellow-abacus',
    'mellow-abacus/storage',
    '@mellow-abacus/files',
    '@mellow-abacus/host',
    '@mellow-abacus/session',
    '@mellow-abacus/session/wire',
  ],
  'packages/host': [
    'mellow-abacus',
    'mellow-abacus/display',
    'mellow-abacus/storage',
    '@mellow-abacus/files',
    '@mellow-abacus/charts',
    '@mellow-abacus/session',
  ],
  'packages/desk': [],
  'packages/react': ['mellow-abacus', '@mellow-abacus/session'],
  'packages/cli': [
    'mellow-abacus',
    'mellow-abacus/storage',
    '@mellow-abacus/files',
    '@mellow-abacus/charts',
    '@mellow-abacus/sql',
    '@mellow-abacus/host',
    '@mellow-abacus/session',
    '@mellow-abacus/server',
    '@mellow-abacus/demo',
    '@mellow-abacus/desk',
  ],
  'examples/desk': [
    'mellow-abacus',
    'mellow-abacus/display',
    '@mellow-abacus/charts',
    '@mellow-abacus/demo',
    '@mellow-abacus/files',
    '@mellow-abacus/host',
    '@mellow-abacus/react',
    '@mellow-abacus/session',
  ],
}
/**
 * The rooms of a folder, ground first; a list in a list stands side by side. A file that rooms share is one of them. A folder that
 * is not named here has no rooms: what is in it is one room.
 */
const rooms = {
  'packages/core/src': [
    ['findings', 'values'],
    'units',
    'columns',
    'display',
    'functions',
    'formula',
    'engine',
    'finder',
    'book',
  ],
  'packages/core/src/formula': ['syntax', 'check', 'plan', 'explain', 'editor'],
  'packages/core/src/engine': ['storage', 'propagation', 'lowered-plans', 'groups', 'aggregates', 'nodes', 'lowering'],
  'packages/core/src/book': [
    'schemas',
    'model',
    'queries',
    ['fits', 'diagnostics'],
    'transaction',
    'operations',
    ['preview', 'tracing', 'suggestions', 'snapshot'],
    'calls',
    'reports',
    'charts',
    'readers',
  ],
  'packages/core/src/engine/aggregates': ['incremental', 'ranges', 'scan'],
  'packages/core/src/engine/lowering': ['inputs'],
  'packages/sql/src': [
    'terms',
    'dialects',
    'values',
    'functions',
    'formulas',
    'databases',
    'kept',
    'sources',
    'reports',
    'statements',
    'publishing',
    'refreshing',
    'shards',
  ],
  'packages/server/src': ['options.ts', ['store', 'access', 'records', 'feed'], 'books', 'http', 'routes'],
  'packages/cli/src': ['shell', 'options', 'output', 'reading', 'books', 'assistant', 'verbs'],
  'packages/cli/src/verbs': [
    'verb.ts',
    ['calc', 'columns', 'completion', 'create', 'define', 'demo', 'edit', 'functions', 'history', 'inspect', 'publish', 'share'],
  ],
}
/** What is not for all who enter a room, but for another door of its package alone. */
const sideDoors = { 'packages/core/src/model.ts': 'packages/core/src/book/definitions.ts' }
const ours = /^(mellow-abacus(\/[a-z]+)?|@mellow-abacus\/[a-z]+(\/[a-z]+)?)$/
const importText = /(?:^|\n)\s*(?:import|export)\b[^'"]*?from\s*['"]([^'"]+)['"]|import\(\s*['"]([^'"]+)['"]\s*\)/g

function sources(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
}

/** How high a room of a folder stands; undefined for what is no room of it. */
function heightOf(folder, name) {
  const height = (rooms[folder] ?? []).findIndex((one) => one === name || (Array.isArray(one) && one.includes(name)))
  return height < 0 ? undefined : height
}

/** What is wrong with an import of one file by another, both as paths from the root; undefined for nothing. */
function faultOf(from, to) {
  const [own, other] = [from.split('/'), to.split('/')]
  let depth = 0
  while (own[depth] === other[depth]) depth++
  const folder = own.slice(0, depth).join('/')
  if (rooms[folder] === undefined) return undefined
  const [mine, theirs] = [heightOf(folder, own[depth]), heightOf(folder, other[depth])]
  if (theirs === undefined) return mine === undefined ? undefined : `${folder} is above its room ${own[depth]}`
  if (mine !== undefined && theirs >= mine) return `${other[depth]} is not below ${own[depth]}`
  const isFile = other.length === depth + 1
  if (sideDoors[from] === to) return undefined
  if (isFile || (other.length === depth + 2 && other[depth + 1] === 'index.ts')) return undefined
  return `the door of ${other[depth]} is its index.ts`
}

const faults = []
let checked = 0
for (const [place, allowed] of Object.entries(packages)) {
  for (const file of sources(join(root, place, 'src'))) {
    for (const match of readFileSync(file, 'utf8').matchAll(importText)) {
      const target = match[1] ?? match[2]
      checked++
      const where = `${relative(root, file)} imports ${target}`
      if (ours.test(target) && !allowed.includes(target)) faults.push(`${where}: not a package below`)
      if (!target.startsWith('.')) continue
      const path = resolve(dirname(file), target).replace(/\.js$/, '.ts')
      const fault = faultOf(relative(root, file), relative(root, path))
      if (fault !== undefined) faults.push(`${where}: ${fault}`)
    }
  }
}
for (const [folder, list] of Object.entries(rooms)) {
  const named = list.flat()
  const found = readdirSync(join(root, folder), { withFileTypes: true }).filter((entry) => entry.isDirectory())
  for (const { name } of found) if (!named.includes(name)) faults.push(`${folder}/${name} is no room that is named`)
  for (const name of named) {
    if (name.endsWith('.ts')) continue
    const door = join(root, folder, name, 'index.ts')
    const isTold = existsSync(door) && /^\/\*\*[\s\S]*?@module\s*\*\//.test(readFileSync(door, 'utf8'))
    if (!isTold) faults.push(`${folder}/${name} has no door that says what it is for`)
  }
}
for (const fault of faults) console.error(fault)
if (checked === 0) faults.push(console.error('no import was found: the check itself is broken'))
if (faults.length > 0) process.exit(1)
console.log(`layers: ${checked} imports, all downward and through the doors`)
