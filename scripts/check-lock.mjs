// The lock file must install on every platform and name no download address. Some registries answer 404 for the binaries of
// other platforms; npm then drops them from the lock file without a word, and `npm ci` refuses it elsewhere.
import { readFileSync } from 'node:fs'

const lock = JSON.parse(readFileSync(new URL('../package-lock.json', import.meta.url), 'utf8'))
const places = Object.keys(lock.packages)
const faults = []
for (const [place, entry] of Object.entries(lock.packages)) {
  if (/^https?:/.test(entry.resolved ?? '')) faults.push(`${place} names a download address`)
  for (const name of Object.keys(entry.optionalDependencies ?? {})) {
    if (!places.some((other) => other.endsWith(`node_modules/${name}`)))
      faults.push(`${place} wants ${name}, which the lock file lost`)
  }
}
for (const fault of faults) console.error(`package-lock.json: ${fault}`)
if (faults.length > 0) process.exit(1)
console.log(`package-lock.json: ${places.length} packages, all there, no addresses`)
