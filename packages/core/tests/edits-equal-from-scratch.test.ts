import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type Operation, Refusal, type ShownValue, Workbook } from '../src/index.js'
import { randomCell, randomFormulas, randomRow, SOURCE_COLUMNS, type SourceCell } from './helpers/random-formulas.js'

const numRuns = Number(process.env.RUNS ?? 100)

const calculated = ['c1', 'c2', 'c3', 'c4']
const formulaOf = (place: number): fc.Arbitrary<string> => randomFormulas(calculated.slice(0, place)).number

/** One edit, in terms that always mean something: rows by their place modulo how many there are. */
type Edit =
  | { kind: 'cell'; place: number; column: string; value: SourceCell }
  | { kind: 'insert'; place: number; rows: Record<string, SourceCell>[] }
  | { kind: 'remove'; places: number[] }
  | { kind: 'formula'; column: string; formula: string }
  | { kind: 'undo' | 'redo' }

const edits: fc.Arbitrary<Edit> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc
      .constantFrom(...SOURCE_COLUMNS)
      .chain(({ name }) =>
        fc.record({ kind: fc.constant('cell' as const), place: fc.nat(40), column: fc.constant(name), value: randomCell(name) }),
      ),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('insert' as const),
      place: fc.nat(40),
      rows: fc.array(randomRow, { maxLength: 3 }),
    }),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('remove' as const), places: fc.array(fc.nat(40), { maxLength: 3 }) }) },
  {
    weight: 1,
    arbitrary: fc.nat(calculated.length - 1).chain((place) =>
      fc.record({
        kind: fc.constant('formula' as const),
        column: fc.constant(calculated[place] as string),
        formula: formulaOf(place),
      }),
    ),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constantFrom('undo' as const, 'redo' as const) }) },
)

function operationOf(edit: Edit, book: Workbook): Operation | null {
  const ids = book.table('t').rowIds()
  const idAt = (place: number): number => ids[place % ids.length] as number
  if (edit.kind === 'insert')
    return {
      op: 'insert-rows',
      table: 't',
      rows: edit.rows,
      ...(ids.length > 0 && edit.place % 3 > 0 && { before: idAt(edit.place) }),
    }
  if (edit.kind === 'formula') return { op: 'change-column', table: 't', column: edit.column, set: { formula: edit.formula } }
  if (ids.length === 0) return null
  if (edit.kind === 'cell')
    return { op: 'set-cells', table: 't', cells: [{ row: idAt(edit.place), column: edit.column, value: edit.value }] }
  if (edit.kind === 'remove') return { op: 'remove-rows', table: 't', rows: [...new Set(edit.places.map(idAt))] }
  return null
}

function doEdit(edit: Edit, book: Workbook): void {
  if (edit.kind === 'undo' || edit.kind === 'redo') {
    // The first revision made the table; going back behind it leaves nothing to edit.
    if (book.revision > 1 && book[edit.kind]() !== null && book.tables.length === 0) book.redo()
    return
  }
  const operation = operationOf(edit, book)
  try {
    if (operation !== null) book.apply(operation)
  } catch (error) {
    // A random formula may make a ring; then nothing may have changed, which the comparison shows.
    if (!(error instanceof Refusal)) throw error
  }
}

/** The same workbook made new: the source cells and formulas as they are now, calculated in one go. */
function fromScratch(book: Workbook): Workbook {
  const made = new Workbook()
  const table = book.table('t')
  const ids = table.rowIds()
  const block = Object.fromEntries(SOURCE_COLUMNS.map(({ name }) => [name, ids.map((id) => table.column(name).stored(id))]))
  made.apply([
    { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
    { op: 'insert-rows', table: 't', block, count: ids.length },
    ...calculated.map((name) => ({
      op: 'add-column' as const,
      table: 't',
      column: { name, formula: table.column(name).formula ?? '' },
    })),
  ])
  return made
}

function picture(book: Workbook): { values: [string, ShownValue[]][]; findings: string[] } {
  const { columns } = book.table('t')
  return {
    values: columns.map((column) => [column.name, column.values()]),
    findings: book.check().map((one) => [one.column, one.code, one.from, one.code === 'misfits' ? '' : one.message].join(' ')),
  }
}

const start = fc.tuple(fc.array(randomRow, { maxLength: 12 }), fc.tuple(formulaOf(0), formulaOf(1), formulaOf(2), formulaOf(3)))

test('after every edit the workbook is what it would be if it were made new, and undoing everything brings the first state back', () => {
  fc.assert(
    fc.property(start, fc.array(edits, { minLength: 1, maxLength: 25 }), ([rows, formulas], steps) => {
      const book = new Workbook()
      book.apply([
        { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
        { op: 'insert-rows', table: 't', rows },
        ...formulas.map((formula, place) => ({
          op: 'add-column' as const,
          table: 't',
          column: { name: calculated[place] as string, formula },
        })),
      ])
      const first = { ...picture(book), ids: book.table('t').rowIds() }
      for (const edit of steps) {
        doEdit(edit, book)
        expect(picture(book)).toEqual(picture(fromScratch(book)))
      }
      let left = book.undo()
      while (left !== null && book.tables.length > 0) {
        if (book.table('t').columns.length === first.values.length)
          Object.assign(first, { last: { ...picture(book), ids: book.table('t').rowIds() } })
        left = book.undo()
      }
      const { last, ...expected } = first as typeof first & { last?: unknown }
      expect(last ?? expected).toEqual(expected)
      expect(book.tables).toEqual([])
    }),
    { numRuns },
  )
})

test('the findings of a change are what came and what went', () => {
  fc.assert(
    fc.property(start, fc.array(edits, { minLength: 1, maxLength: 10 }), ([rows, formulas], steps) => {
      const book = new Workbook()
      const key = (one: { column?: string; code: string; from?: number }): string => [one.column, one.code, one.from].join(' ')
      const current = new Set<string>()
      book.on('change', ({ findings }) => {
        for (const one of findings.removed) expect(current.delete(key(one))).toBe(true)
        for (const one of findings.added) expect(current.has(key(one)) || !current.add(key(one))).toBe(false)
        expect([...current].sort()).toEqual([...new Set(book.check().map(key))].sort())
      })
      book.apply([
        { op: 'add-table', table: 't', columns: SOURCE_COLUMNS },
        { op: 'insert-rows', table: 't', rows },
        ...formulas.map((formula, place) => ({
          op: 'add-column' as const,
          table: 't',
          column: { name: calculated[place] as string, formula },
        })),
      ])
      for (const edit of steps) doEdit(edit, book)
    }),
    { numRuns: Math.ceil(numRuns / 3) },
  )
})
