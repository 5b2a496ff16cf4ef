import { execFileSync, spawnSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, realpathSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('../', import.meta.url))

/** Folders of the packages that are published, by name. */
const FOLDERS: Readonly<Record<string, string>> = {
  'mellow-abacus': 'core',
  '@mellow-abacus/files': 'files',
  '@mellow-abacus/charts': 'charts',
  '@mellow-abacus/sql': 'sql',
  '@mellow-abacus/session': 'session',
  '@mellow-abacus/host': 'host',
  '@mellow-abacus/server': 'server',
  '@mellow-abacus/react': 'react',
  '@mellow-abacus/desk': 'desk',
  '@mellow-abacus/demo': 'demo',
  '@mellow-abacus/cli': 'cli',
}

interface Manifest {
  readonly name: string
  readonly version: string
  readonly bin?: Readonly<Record<string, string>>
  readonly dependencies?: Readonly<Record<string, string>>
  readonly peerDependencies?: Readonly<Record<string, string>>
}

/**
 * An empty project with packages as a registry would hand them out: each is packed as it would be published and lies in a store
 * of its own, beside what it declares to need and nothing else. So whatever it needs without saying so is not found.
 */
export class IsolatedProject {
  readonly folder: string = realpathSync(mkdtempSync(join(tmpdir(), 'isolated-')))
  readonly #stored: Map<string, string> = new Map()

  /** @param names - packages that the project depends on */
  constructor(names: readonly string[]) {
    writeFileSync(join(this.folder, 'package.json'), JSON.stringify({ name: 'project', private: true, type: 'module' }))
    for (const name of names) link(this.#store(name), join(this.folder, 'node_modules', name))
    for (const name of names) this.#linkBins(name)
  }

  /** Where a package lies with all it needs. */
  #store(name: string): string {
    const known = this.#stored.get(name)
    if (known !== undefined) return known
    const folder = FOLDERS[name]
    // What comes from the registry is as `npm ci` has put it.
    if (folder === undefined) return this.#foreign(name)
    const home = join(this.folder, 'node_modules/.store', name.replace('/', '+'), 'node_modules')
    const place = join(home, name)
    this.#stored.set(name, place)
    mkdirSync(place, { recursive: true })
    const packed = execFileSync('npm', ['pack', '--json', '--pack-destination', home], {
      cwd: join(root, 'packages', folder),
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    })
    const [{ filename }] = JSON.parse(packed) as [{ filename: string }]
    execFileSync('tar', ['-xzf', join(home, filename.replace('@', '').replace('/', '-')), '-C', place, '--strip-components=1'])
    const { dependencies, peerDependencies } = manifestIn(place)
    for (const needed of Object.keys({ ...dependencies, ...peerDependencies })) link(this.#store(needed), join(home, needed))
    return place
  }

  #foreign(name: string): string {
    const own = ['', 'packages/files/', 'packages/charts/', 'packages/core/', 'packages/cli/', 'examples/desk/'].map((at) =>
      join(root, at, 'node_modules', name),
    )
    const found = own.find((path) => {
      try {
        return manifestIn(path).name !== undefined
      } catch {
        return false
      }
    })
    if (found === undefined) throw new Error(`${name} is not installed`)
    return found
  }

  #linkBins(name: string): void {
    const place = this.#store(name)
    for (const [bin, path] of Object.entries(manifestIn(place).bin ?? {}))
      link(join(place, path), join(this.folder, 'node_modules/.bin', bin))
  }

  /** Puts a further package of the registry beside the project's own, such as one that a page is built with. */
  add(name: string): this {
    link(this.#foreign(name), join(this.folder, 'node_modules', name))
    return this
  }

  write(files: Readonly<Record<string, string>>): this {
    for (const [name, text] of Object.entries(files)) writeFileSync(join(this.folder, name), text)
    return this
  }

  /** Runs a program of Node in the project; gives what it printed. */
  node(...args: string[]): string {
    const { status, stdout, stderr } = spawnSync(process.execPath, args, { cwd: this.folder, encoding: 'utf8' })
    if (status !== 0) throw new Error(`node ${args.join(' ')} ended with ${status}:\n${stdout}${stderr}`)
    return stdout
  }
}

/** The file of a program that the repository has, by the package it comes with. */
export function program(path: string): string {
  return join(root, 'node_modules', path)
}

function manifestIn(folder: string): Manifest {
  return JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8')) as Manifest
}

function link(target: string, at: string): void {
  mkdirSync(dirname(at), { recursive: true })
  symlinkSync(realpathSync(target), at)
}
