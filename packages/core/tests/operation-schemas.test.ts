import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { OPERATION_SCHEMAS } from '../src/book/operations/all-operations.js'
import { type OperationJson, Refusal, Workbook } from '../src/index.js'

/** Every operation has examples that work on the book of the reference; that its fields say what they mean, `check:reference` sees to. */

const EXAMPLE_BOOK = JSON.parse(
  readFileSync(new URL('../../../docs/operations/example-book.json', import.meta.url), 'utf8'),
) as OperationJson[]

function exampleBook(): Workbook {
  const book = new Workbook({ now: Date.UTC(2026, 5, 30) })
  book.applyJson(EXAMPLE_BOOK)
  return book
}

function picture(book: Workbook): unknown {
  const { properties } = book.table('hives')
  const tables = book.tables.map((name) => [
    name,
    properties,
    book.table(name).columns.map((column) => [column.name, column.type, column.formula, column.properties, column.values()]),
  ])
  return [tables, book.functions]
}

interface Definition {
  readonly description: string
  readonly examples: readonly OperationJson[]
}

/** The reference, made from the schemas and their comments. */
const { $defs: definitions } = JSON.parse(
  readFileSync(new URL('../../../docs/operations/operations.schema.json', import.meta.url), 'utf8'),
) as { readonly $defs: Readonly<Record<string, Definition>> }

const OPERATION_NAMES = OPERATION_SCHEMAS.map(({ op }) => op)
const examples = OPERATION_NAMES.flatMap((op) => (definitions[op]?.examples ?? []).map((example) => [op, example] as const))

test.each(examples)('%s: the example %j works, and is undone', (op, example) => {
  const book = exampleBook()
  const before = picture(book)
  const change = book.applyJson(example)
  expect(change.operations.map(({ op }) => op)).toContain(op)
  book.undo()
  expect(picture(book)).toEqual(before)
})

test.each(OPERATION_NAMES)('%s says what it does, with an example', (op) => {
  expect(definitions[op]?.description).toMatch(/^[A-Z].*\.$/)
  expect(definitions[op]?.examples.length).toBeGreaterThan(0)
})

describe('operations are typed', () => {
  test('one that is no operation does not compile, and is refused', () => {
    const book = exampleBook()
    // @ts-expect-error there is no field tabel
    expect(() => book.apply({ op: 'add-table', tabel: 'x' })).toThrow(Refusal)
    // @ts-expect-error there is no such operation
    expect(() => book.apply({ op: 'add-tabel', table: 'x' })).toThrow(Refusal)
    // @ts-expect-error a column has no such type
    expect(() => book.apply({ op: 'add-column', table: 'hives', column: { name: 'x', type: 'numbr' } })).toThrow(Refusal)
    // @ts-expect-error places of rows are for steps back
    expect(() => book.apply({ op: 'move-rows', table: 'hives', rows: [1], places: [9] })).toThrow(Refusal)
    expect(() => book.applyJson({ op: 'add-table', tabel: 'x' })).toThrow('add-table, field table: it is missing.')
    expect(() => book.applyJson({ op: 'add-table', table: 'x', colums: [] })).toThrow('field colums: there is no such field.')
  })

  test('what a change set says can be applied again, there and back', () => {
    const book = exampleBook()
    const change = book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 13 }] })
    book.apply(change.inverse)
    expect(book.table('harvests').column('honey_kg').value(1)).toBe(12)
    book.apply(change.operations)
    expect(book.table('harvests').column('honey_kg').value(1)).toBe(13)
  })

  test('read-only lists are taken', () => {
    const book = exampleBook()
    const rows: readonly { readonly code: string }[] = Object.freeze([{ code: 'H9' }])
    book.apply({ op: 'insert-rows', table: 'hives', rows })
    expect(book.table('hives').column('code').values().at(-1)).toBe('H9')
  })
})
