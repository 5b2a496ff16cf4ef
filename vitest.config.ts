import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

const source = (folder: string, door = 'index'): string =>
  fileURLToPath(new URL(`./packages/${folder}/src/${door}.ts`, import.meta.url))

/** Tests run the sources, so that a failure names a line of them; only the CLI as a process and the page run what is built. */
const alias = [
  { find: /^mellow-abacus$/, replacement: source('core') },
  { find: /^mellow-abacus\/storage$/, replacement: source('core', 'storage') },
  { find: /^mellow-abacus\/display$/, replacement: source('core', 'display/index') },
  { find: /^mellow-abacus\/model$/, replacement: source('core', 'model') },
  { find: /^@mellow-abacus\/sql$/, replacement: source('sql') },
  { find: /^@mellow-abacus\/files$/, replacement: source('files') },
  { find: /^@mellow-abacus\/charts$/, replacement: source('charts') },
  { find: /^@mellow-abacus\/demo$/, replacement: source('demo') },
  { find: /^@mellow-abacus\/session$/, replacement: source('session') },
  { find: /^@mellow-abacus\/host$/, replacement: source('host') },
  { find: /^@mellow-abacus\/session\/wire$/, replacement: source('session', 'wire/index') },
  { find: /^@mellow-abacus\/server$/, replacement: source('server') },
  { find: /^@mellow-abacus\/desk$/, replacement: source('desk') },
  { find: /^@mellow-abacus\/react$/, replacement: source('react') },
]

const project = (name: string, root: string, testTimeout = 60_000) => ({
  extends: true as const,
  test: {
    name,
    root,
    include: ['src/**/*.test.ts', 'tests/**/*.test.{ts,tsx}', ...(root === 'tests' ? ['*.test.ts'] : [])],
    testTimeout,
    hookTimeout: 60_000,
  },
})

export default defineConfig({
  resolve: { alias },
  test: {
    // Most of them wait for processes of their own: with one worker, as two cores get unless told, half of the machine would idle.
    maxWorkers: Math.max(2, availableParallelism() - 1),
    // The files of a worker share the sources they have read; reading them anew for every file took as long as the tests themselves.
    isolate: false,
    projects: [
      project('core', 'packages/core'),
      project('files', 'packages/files'),
      project('charts', 'packages/charts', 120_000),
      project('sql', 'packages/sql', 120_000),
      project('demo', 'packages/demo'),
      project('react', 'packages/react'),
      project('host', 'packages/host', 120_000),
      project('server', 'packages/server', 120_000),
      project('cli', 'packages/cli', 120_000),
      project('readings', 'examples/readings', 120_000),
      project('embed', 'examples/embed', 120_000),
      project('desk', 'examples/desk', 300_000),
      project('release', 'tests', 120_000),
    ],
    coverage: { provider: 'v8', include: ['packages/*/src/**'] },
  },
})
