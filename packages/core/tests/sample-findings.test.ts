import { describe, expect, test } from 'vitest'
import { applyEdits, type DatabaseSource, type Finding, Workbook } from '../src/index.js'

/** A table that holds a sample of a table of a database, in which zeros, blanks and misfits were counted. */

const column = (name: string, counts: Partial<DatabaseSource<string>['columns'][number]> = {}) => ({
  column: name,
  of: name,
  as: 'double precision',
  isFull: false,
  isUsual: true,
  blanks: 0,
  zeros: 0,
  misfits: 0,
  ...counts,
})

function source(...columns: DatabaseSource<string>['columns'][number][]): DatabaseSource<string> {
  return { database: 'postgresql://db.example/bees', relation: ['public', 'harvests'], rows: 9_000, columns, unique: [['id']] }
}

function harvests(formula: string, rows: readonly object[], from: DatabaseSource<string>): Workbook {
  const book = new Workbook()
  const columns = ['id', 'kg', 'frames'].map((name) => ({ name, type: 'number' as const }))
  book.applyJson([
    { op: 'add-table', table: 'harvests', columns },
    { op: 'insert-rows', table: 'harvests', rows },
    { op: 'change-table', table: 'harvests', set: { source: from } },
    { op: 'add-column', table: 'harvests', column: { name: 'result', formula } },
  ])
  return book
}

const told = (book: Workbook): Finding[] =>
  book
    .table('harvests')
    .column('result')
    .findings()
    .filter(({ code }) => code === 'beyond-sample')

const ROWS = [
  { id: 1, kg: 10, frames: 5 },
  { id: 2, kg: 12, frames: 6 },
]

describe('what the sample does not show', () => {
  test.each([
    ['kg / frames', ROWS, column('frames', { zeros: 3 }), 'frames is 0 in 3 rows of the 9,000 of its source'],
    ['kg / frames', ROWS, column('frames', { zeros: 1, blanks: 2 }), 'frames is 0 in 1 row and is blank in 2 rows of the 9,000'],
    ['kg * 2', ROWS, column('kg', { blanks: 4 }), 'kg is blank in 4 rows of the 9,000'],
    ['kg * 2 + kg', ROWS, column('kg', { misfits: 1 }), 'kg has a misfit in 1 row of the 9,000'],
    // Zeros only matter where something is divided by them.
    ['kg * frames', ROWS, column('frames', { zeros: 3 }), undefined],
    ['frames / kg', ROWS, column('frames', { zeros: 3 }), undefined],
    // What the sample shows is told with its own rows.
    ['kg / frames', [...ROWS, { id: 3, kg: 1, frames: 0 }], column('frames', { zeros: 3 }), undefined],
    ['kg * 2', [...ROWS, { id: 3, kg: null, frames: 1 }], column('kg', { blanks: 3 }), undefined],
    ['kg * 2', ROWS, column('frames', { blanks: 3 }), undefined],
    ['kg * 2', ROWS, column('kg'), undefined],
  ])('%s', (formula, rows, counts, text) => {
    const findings = told(harvests(formula, rows, source(counts)))
    expect(findings.map(({ message }) => message)).toEqual(text === undefined ? [] : [expect.stringContaining(text)])
  })

  test('a fix divides with per', () => {
    const book = harvests('kg / frames', ROWS, source(column('frames', { zeros: 3 })))
    const [fix] = told(book)[0]?.fixes ?? []
    expect(applyEdits('kg / frames', fix?.edits ?? [])).toBe('kg per frames')
  })

  test('it goes and comes with what is known of the source', () => {
    const book = harvests('kg / frames', ROWS, source(column('frames', { zeros: 3 })))
    const change = book.applyJson({ op: 'change-table', table: 'harvests', set: { source: source(column('frames')) } })
    expect(change.findings.removed.map(({ code }) => code)).toEqual(['beyond-sample'])
    expect(book.undo()?.findings.added.map(({ code }) => code)).toEqual(['beyond-sample'])
    book.applyJson({ op: 'change-table', table: 'harvests', set: { source: null } })
    expect(told(book)).toEqual([])
  })

  test('it is said of a column that is read over a link, and before a formula is defined', () => {
    const book = harvests('kg', ROWS, source(column('kg', { blanks: 4 })))
    book.applyJson([
      { op: 'add-table', table: 'notes', columns: [{ name: 'about', type: 'number' }] },
      { op: 'insert-rows', table: 'notes', rows: [{ about: 1 }] },
      { op: 'add-link', table: 'notes', columns: ['about'], to: 'harvests', keys: ['id'] },
    ])
    const { findings } = book.previewColumn('notes', { name: 'honey', formula: 'about.kg' })
    expect(findings.map(({ code }) => code)).toEqual(['beyond-sample'])
  })
})

test('a link into a sample is not told that it leads nowhere', () => {
  const book = harvests('kg', ROWS, source(column('kg')))
  book.applyJson([
    { op: 'add-table', table: 'notes', columns: [{ name: 'about', type: 'number' }] },
    { op: 'insert-rows', table: 'notes', rows: [{ about: 7 }] },
    { op: 'add-link', table: 'notes', columns: ['about'], to: 'harvests', keys: ['id'] },
  ])
  const codes = (): string[] => book.findings().map(({ code }) => code)
  expect(codes()).toEqual([])
  book.applyJson({ op: 'change-table', table: 'harvests', set: { source: { ...source(column('kg')), rows: 2 } } })
  expect(codes()).toEqual(['unmatched-keys'])
})

test('columns of a source follow when they are renamed, and go with their column', () => {
  const book = harvests('kg', ROWS, source(column('kg'), column('frames')))
  book.applyJson({ op: 'rename-column', table: 'harvests', column: 'frames', to: 'combs' })
  const names = (): unknown => {
    const { source: kept } = book.table('harvests').properties
    return kept !== null && 'database' in kept ? kept.columns.map(({ column: own, of }) => `${own} of ${of}`) : kept
  }
  expect(names()).toEqual(['kg of kg', 'combs of frames'])
  book.applyJson({ op: 'remove-column', table: 'harvests', column: 'combs' })
  expect(names()).toEqual(['kg of kg'])
})

test.each([
  ['no relation', { relation: [] }, /field set\.source\.relation: a relation needs a name/],
  ['a count below zero', { rows: -1 }, /field set\.source\.rows: /],
  ['a type that is none', { columns: [column('kg', { as: 1 as never })] }, /field set\.source\.columns\.0\.as: /],
  ['a column that is not there', { columns: [column('none')] }, /no column called none/],
])('a source with %s is refused', (_, change, message) => {
  const book = harvests('kg', ROWS, source(column('kg')))
  const set = { source: { ...source(column('kg')), ...change } }
  expect(() => book.applyJson({ op: 'change-table', table: 'harvests', set })).toThrow(message)
  expect(book.table('harvests').properties.source).toEqual(source(column('kg')))
})
