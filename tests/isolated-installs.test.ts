import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, describe, expect, test } from 'vitest'
import { IsolatedProject, program } from './isolated-project.js'

/** The packages as they would be published, each installed apart from all it does not declare, and used as strangers would. */

const USE_CORE = `
const book = new Workbook()
book.apply([
  { op: 'add-table', table: 'harvests', columns: [{ name: 'hive', type: 'text' }, { name: 'kg', type: 'number' }] },
  { op: 'insert-rows', table: 'harvests', rows: [{ hive: 'H1', kg: 3 }, { hive: 'x2', kg: 4 }] },
  { op: 'add-column', table: 'harvests', column: { name: 'tagged', formula: "if(matches(hive, '^H'), kg * 2, 0)" } },
])
console.log(JSON.stringify(book.table('harvests').column('tagged').values()))
`

let library: IsolatedProject
beforeAll(() => {
  library = new IsolatedProject(['mellow-abacus', '@mellow-abacus/files', '@mellow-abacus/charts'])
}, 120_000)

describe('in Node', () => {
  test('as a module, with patterns loaded when they are used', () => {
    library.write({
      'use.mjs': `import { Workbook } from 'mellow-abacus'\n${USE_CORE}`,
      'storage.mjs': `
import { Workbook } from 'mellow-abacus'
import { Column } from 'mellow-abacus/storage'
const book = new Workbook()
book.apply({ op: 'add-table', table: 't', columns: [{ name: 'n', type: 'number' }] })
book.apply({ op: 'insert-rows', table: 't', block: { n: new Column('number') } })
console.log(book.query({ table: 't' }).columns[0].storage instanceof Column)
`,
    })
    expect(library.node('use.mjs')).toBe('[6,0]\n')
    expect(library.node('storage.mjs')).toBe('true\n')
  })

  test('by require, where Node allows it', () => {
    library.write({ 'use.cjs': `const { Workbook } = require('mellow-abacus')\n${USE_CORE}` })
    expect(library.node('--no-warnings', 'use.cjs')).toBe('[6,0]\n')
  })

  test('in a worker thread', () => {
    library.write({
      'worker.mjs': `import { parentPort } from 'node:worker_threads'\nimport { Workbook } from 'mellow-abacus'\nparentPort.postMessage(new Workbook().apply({ op: 'tick', now: '2026-03-01T00:00:00' }))`,
      'thread.mjs': `import { Worker } from 'node:worker_threads'\nnew Worker(new URL('./worker.mjs', import.meta.url)).on('message', ({ revision, operations }) => console.log(revision, operations[0].op))`,
    })
    expect(library.node('thread.mjs')).toBe('1 tick\n')
  })

  test('formats of every kind there and back, the looks in a thread among them, and a workbook file', () => {
    library.write({
      'formats.mjs': `
import { BookFile, readTable, WRITABLE_FORMATS, writeTable } from '@mellow-abacus/files'
import { Workbook } from 'mellow-abacus'
const book = new Workbook()
book.apply([
  { op: 'add-table', table: 't', columns: [{ name: 'a', type: 'text' }, { name: 'b', type: 'number' }] },
  { op: 'insert-rows', table: 't', rows: [{ a: 'x', b: 1.5 }, { a: 'y' }] },
])
for (const format of WRITABLE_FORMATS.filter((one) => one !== 'md' && one !== 'html')) {
  const pieces = []
  await writeTable(book.query({ table: 't' }), format, (bytes) => void pieces.push(bytes.slice()))
  const { columns, rowCount } = await readTable(pieces, format, {})
  console.log(format, rowCount, JSON.stringify(columns[1].column.toJSON()))
}
const file = BookFile.create('honey.mellow')
file.apply({ op: 'add-table', table: 'hives' })
file.close()
console.log(BookFile.open('honey.mellow').book.tables.join())
`,
    })
    expect(library.node('formats.mjs').trim().split('\n')).toEqual([
      ...['csv', 'tsv', 'json', 'ndjson', 'arrow', 'parquet', 'xlsx'].map((format) => `${format} 2 [1.5,null]`),
      'hives',
    ])
  })

  test('a chart in every format, with the fonts and the program that ship with the package', () => {
    library.write({
      'chart.mjs': `
import { CHART_FORMATS, chartDrawing, drawingBytes } from '@mellow-abacus/charts'
import { Workbook } from 'mellow-abacus'
const book = new Workbook()
book.apply([
  { op: 'add-table', table: 't', columns: [{ name: 'a', type: 'number' }, { name: 'b', type: 'number' }] },
  { op: 'insert-rows', table: 't', rows: [{ a: 1, b: 2 }, { a: 2, b: 5 }] },
])
const drawing = chartDrawing(book.chart({ table: 't', x: 'a', series: [{ formula: 'b', kind: 'line' }] }))
for (const format of CHART_FORMATS) console.log(format, (await drawingBytes(drawing, format)).length > 3000)
`,
    })
    expect(library.node('chart.mjs')).toBe('svg true\npng true\nhtml true\njson true\n')
  })

  test('the tool', () => {
    const tool = new IsolatedProject(['@mellow-abacus/cli']).write({ 'takes.csv': 'hive,kg\nA,3\nB,4\n' })
    const mellow = join(tool.folder, 'node_modules/.bin/mellow')
    expect(tool.node(mellow, 'calc', 'takes.csv', "y = if(matches(hive, 'A'), kg, 0)")).toBe('hive,kg,y\nA,3,3\nB,4,0\n')
    tool.node(mellow, 'import', 'honey', 'takes.csv')
    tool.node(mellow, 'export', 'honey', '-o', 'takes.parquet')
    expect(tool.node(mellow, 'calc', 'takes.parquet', '--to', 'csv', 'z = kg + 1')).toBe('hive,kg,z\nA,3,4\nB,4,5\n')
    tool.node(mellow, 'chart', 'honey', 'takes', '--of', 'takes', '--x', 'hive', '--bar', 'kg', '-o', 'takes.png')
    tool.node(mellow, 'chart', 'honey', 'takes', '--of', 'takes', '--x', 'hive', '--bar', 'kg', '-o', 'takes.html')
    expect(readdirSync(tool.folder)).toEqual(expect.arrayContaining(['takes.png', 'takes.html']))
  })
})

describe('typed', () => {
  const source = `
import { type ChartFormat, chartDrawing, type Drawing } from '@mellow-abacus/charts'
import { readTable, type FileTable } from '@mellow-abacus/files'
import { type ChangeSet, type Operation, Workbook } from 'mellow-abacus'
import { Column, printDate } from 'mellow-abacus/storage'
const operation: Operation = { op: 'set-cells', table: 't', cells: [{ row: 1, column: 'a', value: 2 }] }
const change: ChangeSet = new Workbook({ zone: 'Europe/Oslo' }).apply([operation])
export const rows: number = change.recalculated[0]?.rows ?? 0
export const read: Promise<FileTable> = readTable([], 'csv', {})
export const stored: Column = new Column('number')
export const day: string = printDate(0)
export const drawn: Drawing = chartDrawing(new Workbook().chart({ table: 't', x: 'a', series: [{ formula: 'b', kind: 'line' }] }))
export const format: ChartFormat = 'svg'
// @ts-expect-error there is no field tabel
new Workbook().apply({ op: 'add-table', tabel: 'x' })
`
  test.each([
    ['NodeNext', { module: 'nodenext', moduleResolution: 'nodenext' }],
    ['Bundler', { module: 'esnext', moduleResolution: 'bundler' }],
  ])('%s, strict, declarations checked too', (_, resolution) => {
    const compilerOptions = {
      ...resolution,
      strict: true,
      exactOptionalPropertyTypes: true,
      noUncheckedIndexedAccess: true,
      skipLibCheck: false,
      noEmit: true,
      target: 'es2023',
      lib: ['ES2023', 'ESNext.Disposable', 'DOM'],
      types: [],
    }
    library.write({ 'typed.ts': source, 'tsconfig.json': JSON.stringify({ compilerOptions, files: ['typed.ts'] }) })
    expect(library.node(program('typescript/bin/tsc'), '-p', 'tsconfig.json')).toBe('')
  })
})

describe('in a page', () => {
  test('Vite builds it with its worker, with nothing that only Node has, and patterns as a piece of their own', () => {
    const page = new IsolatedProject(['mellow-abacus', '@mellow-abacus/files', '@mellow-abacus/charts', '@mellow-abacus/react'])
    for (const name of ['react', 'react-dom', 'vite']) page.add(name)
    page.write({
      'index.html': '<!doctype html><div id="at"></div><script type="module" src="/main.js"></script>',
      'main.js': `
import { chartDrawing } from '@mellow-abacus/charts'
import { useTable } from '@mellow-abacus/react'
import { loadPatterns, Workbook } from 'mellow-abacus'
import { createElement } from 'react'
import { createRoot } from 'react-dom/client'
const book = new Workbook()
book.apply({ op: 'add-table', table: 't' })
const Rows = () => createElement('p', null, useTable(book, { table: 't' }).rowCount)
createRoot(document.getElementById('at')).render(createElement(Rows))
void loadPatterns()
console.log(chartDrawing)
new Worker(new URL('./worker.js', import.meta.url), { type: 'module' })
`,
      'worker.js': `
import { readBundle, readTable } from '@mellow-abacus/files'
import { Workbook } from 'mellow-abacus'
self.onmessage = async ({ data }) => self.postMessage([new Workbook().tables, await readTable([data], 'parquet', {}), readBundle])
`,
      'vite.config.js':
        "export default { build: { target: 'es2023', minify: false }, worker: { format: 'es' }, logLevel: 'error' }",
    })
    page.node(program('vite/bin/vite.js'), 'build')
    const assets = join(page.folder, 'dist/assets')
    const built = readdirSync(assets).filter((name) => name.endsWith('.js'))
    const texts = built.map((name) => readFileSync(join(assets, name), 'utf8'))
    expect(built.some((name) => name.startsWith('worker'))).toBe(true)
    expect(texts.filter((text) => /from ["']node:|require\(["']node:|libsql|resvg/.test(text))).toEqual([])
    expect(texts.filter((text) => text.includes('class RE2JS')).length).toBeGreaterThan(0)
    const entry = texts[built.findIndex((name) => name.startsWith('index'))] ?? ''
    expect(entry).not.toContain('class RE2JS')
  })
})

test('a package holds what is needed, and no sources or tests', () => {
  const folder = join(library.folder, 'node_modules/mellow-abacus')
  expect(readdirSync(folder).sort()).toEqual(['LICENSE', 'README.md', 'dist', 'package.json'])
  const files = [...new Set(readdirSync(join(folder, 'dist')).map((name) => name.replace(/-[\w-]+/, '')))]
  const entries = ['index', 'model', 'shared', 'storage'].flatMap((name) => [`${name}.d.ts`, `${name}.js`, `${name}.js.map`])
  expect(files.sort()).toEqual(['display', ...entries])
  const map = JSON.parse(readFileSync(join(folder, 'dist/index.js.map'), 'utf8')) as { sourcesContent?: unknown }
  expect(map.sourcesContent).toBeUndefined()
  expect(existsSync(join(library.folder, 'node_modules/@mellow-abacus/files/README.md'))).toBe(true)
})
