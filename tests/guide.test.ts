import { readdirSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { transformSync } from 'esbuild'
import { beforeAll, describe, expect, test } from 'vitest'
import { CHECKS, CHECKS_TYPES, type GuidePage, guidePage } from './guide-page.js'
import { IsolatedProject, program } from './isolated-project.js'

/** Every line of the guide, type-checked and run in a project that has the published packages and nothing else of ours. */

const names = readdirSync(fileURLToPath(new URL('../docs/guide', import.meta.url)))
  .filter((name) => name !== 'README.md')
  .map((name) => name.replace(/\.md$/, ''))
const pages: ReadonlyMap<string, GuidePage> = new Map(names.map((name) => [name, guidePage(name)]))
const PACKAGES = [
  'mellow-abacus',
  '@mellow-abacus/files',
  '@mellow-abacus/charts',
  '@mellow-abacus/sql',
  '@mellow-abacus/session',
  '@mellow-abacus/host',
  '@mellow-abacus/server',
  '@mellow-abacus/react',
  '@mellow-abacus/desk',
]

/** A page to render on, for what runs in Node. */
const DOM = `
import { Window } from 'happy-dom'
const window = new Window()
const { document, navigator } = window
for (const [name, value] of Object.entries({ window, document, navigator, IS_REACT_ACT_ENVIRONMENT: true }))
  Object.defineProperty(globalThis, name, { value, configurable: true })
`

let project: IsolatedProject
beforeAll(() => {
  project = new IsolatedProject(PACKAGES)
  for (const name of ['react', 'react-dom', 'happy-dom', '@types/node', '@types/react', '@types/react-dom']) project.add(name)
  project.write({ 'checks.js': CHECKS, 'checks.d.ts': CHECKS_TYPES, 'dom.js': DOM })
  for (const { files } of pages.values()) {
    project.write(files)
    for (const [name, code] of Object.entries(files)) {
      const loader = name.endsWith('x') ? 'tsx' : 'ts'
      const options = { loader, format: 'esm', target: 'es2023', jsx: 'automatic', sourcefile: name } as const
      project.write({ [name.replace(/\.tsx?$/, '.js')]: transformSync(code, options).code })
    }
  }
}, 120_000)

test('the whole guide is well typed', () => {
  const compilerOptions = {
    module: 'nodenext',
    jsx: 'react-jsx',
    strict: true,
    noUncheckedIndexedAccess: true,
    noEmit: true,
    skipLibCheck: true,
    target: 'es2023',
    lib: ['ES2023', 'ESNext.Disposable', 'DOM'],
    types: ['node'],
  }
  const files = [...pages.values()].flatMap((page) => Object.keys(page.files))
  project.write({ 'tsconfig.json': JSON.stringify({ compilerOptions, files }) })
  expect(project.node(program('typescript/bin/tsc'), '-p', 'tsconfig.json')).toBe('')
})

describe('every line does what the page says', () => {
  test.each(names)('%s', (name) => {
    const { main } = pages.get(name) as GuidePage
    const said = project.node('--import', './dom.js', main.replace(/\.tsx?$/, '.js'))
    expect(said).toMatch(/(^|\n)[1-9]\d* checks\n$/)
  })
})

test('what is to be installed is what there is', () => {
  const commands = [...pages.values()].flatMap((page) => page.commands)
  expect(commands).toEqual([`npm install ${PACKAGES.join(' ')}`])
})
