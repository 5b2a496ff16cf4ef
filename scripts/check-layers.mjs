// Imports run one way: a folder may import only folders below it, and only through their index.ts; a package only the
// packages below it. The floors stand in docs/architecture.md.
import { readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = resolve(dirname(fileURLToPath(import.meta.url)), '..')
/** Folders of core, ground floor first. `findings` and `values` stand side by side on the ground. */
const floors = ['findings', 'values', 'columns', 'functions', 'formula', 'engine', 'report', 'book']
/** What each package may import of the others. */
const packages = {
  'packages/core': [],
  'packages/demo': [],
  'packages/files': ['mellow-abacus'],
  'packages/cli': ['mellow-abacus', '@mellow-abacus/files', '@mellow-abacus/demo'],
  'examples/desk': ['mellow-abacus', '@mellow-abacus/demo'],
}
const ours = /^(mellow-abacus|@mellow-abacus\/[a-z]+)$/
const importText = /(?:^|\n)\s*(?:import|export)\b[^'"]*?from\s*['"]([^'"]+)['"]|import\(\s*['"]([^'"]+)['"]\s*\)/g

function sources(folder) {
  return readdirSync(folder, { withFileTypes: true, recursive: true })
    .filter((entry) => entry.isFile() && /\.tsx?$/.test(entry.name) && !/\.test\.tsx?$/.test(entry.name))
    .map((entry) => join(entry.parentPath, entry.name))
}

const faults = []
let checked = 0
for (const [place, allowed] of Object.entries(packages)) {
  const base = join(root, place, 'src')
  for (const file of sources(base)) {
    const own = relative(base, file).split('/')
    for (const match of readFileSync(file, 'utf8').matchAll(importText)) {
      const target = match[1] ?? match[2]
      checked++
      const where = `${relative(root, file)} imports ${target}`
      if (ours.test(target) && !allowed.includes(target)) faults.push(`${where}: not a package below`)
      if (place !== 'packages/core' || !target.startsWith('.')) continue
      const path = relative(base, resolve(dirname(file), target)).split('/')
      const [from, to] = [own[0], path[0]]
      if (own.length === 1 || from === to) continue
      const isLower = floors.indexOf(to) < floors.indexOf(from) && !(from === 'values' && to === 'findings')
      if (!isLower) faults.push(`${where}: ${to} is not below ${from}`)
      else if (path.length !== 2 || path[1] !== 'index.js') faults.push(`${where}: the door of ${to} is ${to}/index.js`)
    }
  }
}
for (const fault of faults) console.error(fault)
if (checked === 0) faults.push(console.error('no import was found: the check itself is broken'))
if (faults.length > 0) process.exit(1)
console.log(`layers: ${checked} imports, all downward and through the doors`)
