import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type ColumnView, type OperationJson, Refusal, Workbook } from '../src/index.js'
import { BookOracle } from './helpers/oracle-book.js'
import {
  cellFor,
  type Definition,
  definition,
  LINKS,
  NAMES,
  rowOf,
  TABLES,
  type TableName,
  withNames,
} from './helpers/random-models.js'
import { shownResult, shownValue, sketchOf } from './helpers/sketch-of-book.js'
import { StoredBook } from './helpers/stored-book.js'

/**
 * Several tables with links, tallies, named values and every form of formula over rows, under random edits: after each step
 * the workbook must hold what the oracle computes from nothing, and undoing everything must bring the first state back.
 * Raise it for a long run: RUNS=2000 STEPS=200 ROWS=40 npx vitest run --project core model-equals-oracle; with SHRINK=no a failure
 * is told at once with its seed, instead of being made smaller first.
 */
const numRuns = Number(process.env.RUNS ?? 60)
const steps = Number(process.env.STEPS ?? 12)
const mostRows = Number(process.env.ROWS ?? 9)

const edit = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.constantFrom(...NAMES).chain((table) =>
      fc.constantFrom(...Object.keys(TABLES[table])).chain((column) =>
        fc.record({
          kind: fc.constant('cell' as const),
          table: fc.constant(table),
          column: fc.constant(column),
          at: fc.nat(40),
          value: cellFor(table, column),
        }),
      ),
    ),
  },
  {
    weight: 2,
    arbitrary: fc.constantFrom(...NAMES).chain((table) =>
      fc.record({
        kind: fc.constant('insert' as const),
        table: fc.constant(table),
        at: fc.nat(40),
        rows: fc.array(rowOf(table), { minLength: 1, maxLength: 3 }),
      }),
    ),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('remove' as const),
      table: fc.constantFrom(...NAMES),
      at: fc.nat(40),
      count: fc.integer({ min: 1, max: 3 }),
    }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('formula' as const), at: fc.nat(40), definition }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('price' as const), value: fc.constantFrom(1, 2.5, 0, null) }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'undo' as const }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'redo' as const }) },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('move' as const),
      table: fc.constantFrom(...NAMES),
      at: fc.nat(40),
      to: fc.nat(40),
      count: fc.integer({ min: 1, max: 3 }),
    }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('mode' as const), mode: fc.constantFrom('live', 'on-demand') }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('recalculate' as const), at: fc.option(fc.nat(5)) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('pause' as const), at: fc.nat(5), typed: fc.nat(2) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('flush' as const) }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'reopen' as const }) },
  {
    weight: 1,
    arbitrary: fc.constantFrom(...NAMES).chain((table) =>
      fc.record({
        kind: fc.constant('reread' as const),
        table: fc.constant(table),
        rows: fc.array(rowOf(table), { maxLength: 6 }),
        byKey: fc.boolean(),
      }),
    ),
  },
  {
    weight: 1,
    arbitrary: fc.record({
      kind: fc.constant('retype' as const),
      place: fc.constantFrom('takes.lot', 'takes.kg', 'hives.frames', 'yards.area', 'takes.grade'),
      type: fc.constantFrom('integer', 'number', 'text'),
    }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('link' as const), at: fc.nat(2), stays: fc.boolean() }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('attempt' as const), at: fc.nat(40), cancels: fc.boolean() }) },
)
/** So many steps; one of them fails alone by the others becoming nothing, which is how a failure shrinks to a readable case. */
const editLists = fc
  .array(fc.option(edit, { nil: null, freq: 1000 }), { minLength: steps, maxLength: steps, size: 'max' })
  .map((list) => list.filter((one) => one !== null))
type Edit = typeof edit extends fc.Arbitrary<infer Value> ? Value : never

function apply(book: Workbook, one: Exclude<Edit, { kind: 'reopen' }>): void {
  const run = (operation: unknown): unknown => book.applyJson(operation)
  if (one.kind === 'undo') return void book.undo()
  if (one.kind === 'redo') return void book.redo()
  if (one.kind === 'flush') return void book.flush(0)
  if (one.kind === 'mode') return void run({ op: 'set-mode', mode: one.mode })
  if (one.kind === 'recalculate') {
    const names = calculatedIn(book)
    const name = one.at === null ? undefined : names[one.at % Math.max(1, names.length)]
    return void run({ op: 'recalculate', ...(name !== undefined && { columns: [name] }) })
  }
  if (one.kind === 'pause') return pauseAndResume(book, one.at, one.typed)
  if (one.kind === 'attempt') return attempt(book, one.at, one.cancels)
  if (one.kind === 'retype') {
    const [table, column] = one.place.split('.') as [string, string]
    return unlessRefused(book, { op: 'change-column', table, column, set: { type: one.type } })
  }
  if (one.kind === 'link') {
    const { table, name, ...rest } = LINKS[one.at % LINKS.length] as (typeof LINKS)[number]
    const isThere = book.table(table).links.includes(name)
    if (isThere) unlessRefused(book, { op: 'remove-link', table, name })
    if (one.stays && !book.table(table).links.includes(name)) run({ op: 'add-link', table, name, ...rest })
    return
  }
  if (one.kind === 'reread') {
    const names = Object.keys(TABLES[one.table])
    const block = Object.fromEntries(names.map((name) => [name, one.rows.map((row) => row[name] ?? null)]))
    const key = one.byKey ? { key: names.slice(0, 1) } : {}
    return unlessRefused(book, { op: 'reread-rows', table: one.table, block, ...key })
  }
  if (one.kind === 'price') return void run({ op: 'set-value', name: 'price', value: one.value, type: 'number' })
  if (one.kind === 'formula') {
    const table = book.table(one.definition.table)
    const known = table.columns.filter((column) => column.name.startsWith('x'))[0]
    const name = known?.name ?? `x${one.at}`
    const set = { formula: withNames(one.definition, name, (of) => xColumns(book, of)) }
    // A link that it follows may be gone.
    if (known === undefined) unlessRefused(book, { op: 'add-column', table: table.name, column: { name, ...set } })
    else unlessRefused(book, { op: 'change-column', table: table.name, column: known.name, set })
    return
  }
  const ids = book.table(one.table).rowIds()
  const row = ids[one.at % Math.max(1, ids.length)]
  if (one.kind === 'insert') {
    const before = one.at % 3 === 0 || row === undefined ? {} : { before: row }
    return void run({ op: 'insert-rows', table: one.table, rows: one.rows, ...before })
  }
  if (row === undefined) return
  if (one.kind === 'cell')
    return void run({ op: 'set-cells', table: one.table, cells: [{ row, column: one.column, value: one.value }] })
  const first = one.at % ids.length
  if (one.kind === 'move') {
    const rows = ids.slice(first, first + one.count)
    const before = ids[one.to % ids.length] as number
    return void run({ op: 'move-rows', table: one.table, rows, ...(rows.includes(before) ? {} : { before }) })
  }
  run({ op: 'remove-rows', table: one.table, rows: ids.slice(first, first + one.count) })
}

const xColumns = (book: Workbook, table: TableName): string[] =>
  book.table(table).columns.flatMap(({ name }) => (name.startsWith('x') ? [name] : []))

const calculatedIn = (book: Workbook): string[] =>
  book.tables.flatMap((name) => {
    const columns = book.table(name).columns.filter((column) => column.formula !== null && !column.isPaused)
    return columns.map((column) => `${name}.${column.name}`)
  })

/** What is refused must leave everything as it was. */
function unlessRefused(book: Workbook, operation: unknown): void {
  const before = picture(book)
  try {
    book.applyJson(operation)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    expect(picture(book)).toEqual(before)
  }
}

/** What is previewed, refused or ended half way must leave everything as it was. */
function attempt(book: Workbook, at: number, cancels: boolean): void {
  const before = picture(book)
  const { revision } = book
  const ids = book.table('takes').rowIds()
  const row = ids[at % Math.max(1, ids.length)]
  const edits: OperationJson[] = [
    { op: 'insert-rows', table: 'takes', rows: [{ kg: 3, hive: 'A' }, {}] },
    { op: 'set-value', name: 'price', value: 7 },
    { op: 'add-column', table: 'hives', column: { name: 'tried', formula: 'sum(takes.kg) + price' } },
    ...(row === undefined ? [] : [{ op: 'remove-rows', table: 'takes', rows: [row] }]),
  ]
  if (!book.table('takes').links.includes('hive')) edits.splice(2, 1)
  book.previewJson(edits)
  expect(picture(book)).toEqual(before)
  let steps = 0
  const refused = [...edits, { op: 'remove-column', table: 'takes', column: 'none' }]
  // On demand nothing is calculated, so there is nothing to end.
  const isEnded = cancels && book.mode === 'live'
  expect(() => (isEnded ? book.applyJson(edits, { progress: () => ++steps <= at % 2 }) : book.applyJson(refused))).toThrow(
    Refusal,
  )
  expect(picture(book)).toEqual(before)
  expect(book.revision).toBe(revision)
}

/** Types over cells of a paused column and resumes it, which must first be refused where something would be lost. */
function pauseAndResume(book: Workbook, at: number, typed: number): void {
  const names = calculatedIn(book)
  const [table, column] = (names[at % Math.max(1, names.length)] ?? '').split('.')
  if (table === undefined || column === undefined) return
  book.apply({ op: 'pause-column', table, column })
  const rows = book.table(table).rowIds().slice(0, typed)
  const value = { misfit: 'by hand' }
  book.apply({ op: 'set-cells', table, cells: rows.map((row) => ({ row, column, value })) })
  try {
    book.apply({ op: 'resume-column', table, column })
  } catch (error) {
    if (!(error instanceof Refusal) || error.code !== 'hand-edits-lost') throw error
    expect(book.table(table).column(column).typedIds()).toEqual(rows)
    book.apply({ op: 'resume-column', table, column, discard: rows.length })
  }
}

/** All there is to see; on demand a row that was taken away and comes back is stale until it is calculated, so only sources. */
function picture(book: Workbook): unknown {
  const isShown = (column: ColumnView): boolean => book.mode === 'live' || column.formula === null
  return book.tables.map((name) =>
    book.table(name).columns.map((one) => [one.name, one.formula, isShown(one) ? one.values().map(shownValue) : null]),
  )
}

/** Holds every calculated cell to the oracle. */
function hold(book: Workbook): void {
  const oracle = new BookOracle(sketchOf(book))
  for (const name of book.tables) {
    for (const column of book.table(name).columns) {
      if (column.formula === null || column.isPaused) continue
      const ids = book.table(name).rowIds()
      const shown = column.values().map(shownValue)
      // What is marked stale is not held to anything; every other cell is.
      const stale = new Set(column.staleIds())
      const expected = ids.map((id, row) => (stale.has(id) ? shown[row] : shownResult(oracle.cell(name, column.name, row))))
      expect(shown, `${name}.${column.name} = ${column.formula}`).toEqual(expected)
    }
  }
  if (book.mode === 'on-demand') return
  expect(shownValue(book.table('takes').tally('total_kg'))).toEqual(shownResult(oracle.tally('takes', 'total_kg')))
}

const namesBefore = (definitions: readonly Definition[], index: number, table: TableName): string[] =>
  definitions.slice(0, index).flatMap((other, at) => (other.table === table ? [`x${at}`] : []))

test('a model holds what the oracle says after every edit, and undoing all brings it back', () => {
  const start = fc.record({
    yards: fc.array(rowOf('yards'), { maxLength: Math.ceil(mostRows / 3), size: 'max' }),
    hives: fc.array(rowOf('hives'), { maxLength: Math.ceil(mostRows / 2), size: 'max' }),
    takes: fc.array(rowOf('takes'), { maxLength: mostRows, size: 'max' }),
  })
  fc.assert(
    fc.property(
      start,
      fc.array(definition, { minLength: 1, maxLength: 6 }),
      editLists,
      fc.constantFrom(0, 2, 1000),
      (rows, definitions, edits, mostAtOnce) => {
        let book = new Workbook({ mostAtOnce })
        const stored = new StoredBook()
        const operations: OperationJson[] = [
          // Definitions come first: inside one call their order does not matter, once their tables are there.
          ...NAMES.map((table) => ({
            op: 'add-table',
            table,
            columns: Object.entries(TABLES[table]).map(([name, type]) => ({ name, type })),
          })),
          ...definitions.map((one, index) => ({
            op: 'add-column',
            table: one.table,
            column: { name: `x${index}`, formula: withNames(one, `x${index}`, (of) => namesBefore(definitions, index, of)) },
          })),
          ...LINKS.map((link) => ({ op: 'add-link', ...link })),
          { op: 'set-value', name: 'price', value: 1.5 },
          { op: 'set-tally', table: 'takes', name: 'total_kg', formula: 'sum(kg where kg < 100)' },
          { op: 'set-tally', table: 'yards', name: 'hive_sum', formula: 'sum(every hives.frames)' },
          ...NAMES.map((table) => ({ op: 'insert-rows', table, rows: rows[table] })),
        ]
        book.applyJson(operations)
        hold(book)
        const before = picture(book)
        let done = 0
        for (const one of edits) {
          const revision = book.revision
          if (one.kind === 'reopen') {
            stored.save(book)
            book = stored.open(book.steps, mostAtOnce)
          } else apply(book, one)
          if (book.revision > revision) done += one.kind === 'undo' ? -1 : book.revision - revision
          if (done < 0) break
          hold(book)
        }
        if (done < 0) return
        for (; done > 0; done--) book.undo()
        book.apply({ op: 'set-mode', mode: 'live' })
        expect(picture(book)).toEqual(before)
      },
    ),
    { numRuns, endOnFailure: process.env.SHRINK === 'no' },
  )
}, 14_400_000)
