// One version for all packages, and each asks for the others at exactly that version.
import { readdirSync, readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('../', import.meta.url))
const read = (path) => JSON.parse(readFileSync(root + path, 'utf8'))
const { version } = read('package.json')
const manifests = ['packages', 'examples'].flatMap((folder) =>
  readdirSync(root + folder)
    .map((name) => `${folder}/${name}/package.json`)
    .flatMap((path) => {
      try {
        return [{ path, ...read(path) }]
      } catch (error) {
        if (error.code === 'ENOENT') return []
        throw error
      }
    }),
)
const faults = []
for (const { path, version: own, ...manifest } of manifests) {
  if (own !== version) faults.push(`${path} is ${own}`)
  for (const kind of ['dependencies', 'devDependencies', 'peerDependencies'])
    for (const [name, wanted] of Object.entries(manifest[kind] ?? {}))
      if (/^(mellow-abacus|@mellow-abacus\/.*)$/.test(name) && wanted !== version)
        faults.push(`${path} asks for ${name} ${wanted}`)
}
for (const fault of faults) console.error(`${fault}; the version is ${version}.`)
if (faults.length > 0 || manifests.length === 0) process.exit(1)
console.log(`versions: ${manifests.length} packages at ${version}`)
