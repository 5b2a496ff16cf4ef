// Leaves of the declarations of a library only those that its doors lead to: what is internal is not published.
import { existsSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { dirname, join, resolve } from 'node:path'

const importText = /(?:from|import)\s*\(?\s*['"](\.{1,2}\/[^'"]+)['"]/g

/** Removes declarations that none of the entries leads to; gives how many are left. */
export function pruneTypes(dist, entries) {
  const reached = new Set()
  const open = entries.map((name) => join(dist, `${name}.d.ts`))
  for (let file = open.pop(); file !== undefined; file = open.pop()) {
    if (reached.has(file) || !existsSync(file)) continue
    reached.add(file)
    for (const [, target] of readFileSync(file, 'utf8').matchAll(importText))
      open.push(resolve(dirname(file), target).replace(/\.js$/, '.d.ts'))
  }
  for (const entry of readdirSync(dist, { recursive: true, withFileTypes: true })) {
    const path = join(entry.parentPath, entry.name)
    if (entry.isFile() && path.endsWith('.d.ts') && !reached.has(path)) rmSync(path)
  }
  return reached.size
}
