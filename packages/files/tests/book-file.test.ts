import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Database from 'libsql'
import type { Operation, ShownValue } from 'mellow-abacus'
import { Column } from 'mellow-abacus/storage'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { checksumOf } from '../src/book-file/parts.js'
import { BookFile, type BookFileCode, BookFileFault, salvagedSteps } from '../src/index.js'

/** Workbooks in files: what comes back, whoever opens them, and what is refused. */

let folder = ''
let path = ''
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'mellow-book-'))
  path = join(folder, 'honey.mellow')
})
afterEach(() => rmSync(folder, { recursive: true, force: true }))

const TABLES: Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'tag', type: 'text' },
      { name: 'frames', type: 'number', unit: 'frames' },
      { name: 'since', type: 'date' },
      { name: 'kept', type: 'boolean' },
      { name: 'total', formula: 'sum(takes.kg)' },
    ],
  },
  {
    op: 'add-table',
    table: 'takes',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'kg', type: 'number' },
      { name: 'share', formula: 'kg per hive.frames' },
      { name: 'on_hand', formula: '(lag(on_hand) ?? 0) + (kg ?? 0)' },
    ],
  },
  { op: 'add-link', table: 'takes', columns: ['hive'], to: 'hives', keys: ['tag'] },
  { op: 'set-value', name: 'price', value: 4.5 },
  { op: 'set-value', name: 'worth', formula: 'price * takes.sum_kg' },
  { op: 'set-tally', table: 'takes', name: 'sum_kg', formula: 'sum(kg)' },
  { op: 'change-table', table: 'hives', set: { label: 'tag', key: ['tag'], source: { file: 'hives.csv', options: {} } } },
  {
    op: 'insert-rows',
    table: 'hives',
    rows: [
      { tag: 'A\n"1"', frames: 10, since: '2024-02-29', kept: true },
      { tag: '🐝', frames: { misfit: 'ten' }, since: '1899-12-31', kept: false },
      { tag: '', frames: 1e-300 },
      {},
    ],
  },
  {
    op: 'insert-rows',
    table: 'takes',
    rows: [
      { hive: '🐝', kg: 2 ** 53 },
      { hive: 'A\n"1"', kg: 3 },
      { hive: 'A\n"1"', kg: 0.1 },
    ],
  },
]

function made(): BookFile {
  const file = BookFile.create(path)
  file.apply(TABLES, { author: 'Ada', at: '2026-03-01T09:00:00' })
  return file
}

const shown = (value: ShownValue): unknown =>
  typeof value === 'object' && value !== null ? `!${value.code} ${value.text ?? ''}` : value
const picture = ({ book }: BookFile): unknown => [
  book.revision,
  book.mode,
  book.tables.map((name) => {
    const table = book.table(name)
    const columns = table.columns.map((one) => [
      one.name,
      one.type,
      one.formula,
      one.properties,
      one.isPaused,
      one.values().map(shown),
    ])
    return [name, table.rowIds(), columns, table.links, table.tallies.map((tally) => shown(table.tally(tally))), table.properties]
  }),
  book.values.map((name) => [name, shown(book.value(name))]),
  book.check().map(({ code, table, column, rows }) => [code, table, column, rows]),
]

/** Closes a file, with or without the cells written, and opens it again. */
function again(file: BookFile, writes = true): BookFile {
  file.close()
  return BookFile.open(path, { writes })
}

describe('a workbook comes back as it was', () => {
  test('definitions, values, misfits, links, tallies and findings', () => {
    const file = made()
    const before = picture(file)
    const opened = again(file)
    expect(picture(opened)).toEqual(before)
    opened.close()
  })

  test.each<[string, Operation[]]>([
    [
      'rows removed, moved and put in the middle',
      [
        { op: 'remove-rows', table: 'hives', rows: [2] },
        { op: 'insert-rows', table: 'hives', rows: [{ tag: 'C' }], before: 1 },
        { op: 'move-rows', table: 'takes', rows: [3], before: 1 },
      ],
    ],
    [
      'a paused column with a typed cell',
      [
        { op: 'pause-column', table: 'takes', column: 'share' },
        { op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'share', value: 7 }] },
      ],
    ],
    [
      'stale cells',
      [
        { op: 'set-mode', mode: 'on-demand' },
        { op: 'set-cells', table: 'takes', cells: [{ row: 2, column: 'kg', value: 9 }] },
      ],
    ],
    [
      'a column that has become one of another type',
      [
        { op: 'change-column', table: 'hives', column: 'kept', set: { type: 'text' } },
        { op: 'rename-column', table: 'hives', column: 'kept', to: 'held' },
      ],
    ],
    [
      'a column that is gone, and one that takes its place',
      [
        { op: 'remove-column', table: 'hives', column: 'since' },
        { op: 'add-column', table: 'hives', column: { name: 'since', formula: 'frames * 2' } },
      ],
    ],
  ])('%s', (_, operations) => {
    const file = made()
    for (const one of operations) file.apply(one)
    const before = picture(file)
    const opened = again(file)
    expect(picture(opened)).toEqual(before)
    // What is kept besides cells is made anew, and edits go on as if nothing had been closed.
    opened.apply({ op: 'set-mode', mode: 'live' })
    const next: Operation = { op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 40 }] }
    const change = opened.apply(next)
    expect(change.recalculated.some(({ column }) => column === 'on_hand')).toBe(true)
    expect(opened.book.table('takes').tally('sum_kg')).toBe(opened.book.table('takes').column('kg').summary().sum)
    opened.close()
  })

  test('undo and redo reach across processes', () => {
    const file = made()
    const before = picture(file)
    file.apply({ op: 'remove-column', table: 'takes', column: 'kg', dependants: 'remove' })
    let opened = again(file)
    opened.undo()
    opened = again(opened)
    expect((picture(opened) as unknown[]).slice(1)).toEqual((before as unknown[]).slice(1))
    opened.redo()
    opened = again(opened)
    expect(opened.book.table('takes').columns.map(({ name }) => name)).toEqual(['hive'])
    expect([...opened.journal()].map(({ kind }) => kind)).toEqual(['apply', 'apply', 'undo', 'redo'])
    opened.close()
  }, 20_000)

  test('an edit after opening says exactly what followed', () => {
    const opened = again(made())
    const { recalculated } = opened.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 3, column: 'kg', value: 5 }] })
    expect(recalculated.map(({ table, column, rows }) => [table, column, rows])).toEqual(
      expect.arrayContaining([
        ['hives', 'total', 1],
        ['takes', 'share', 1],
        ['takes', 'on_hand', 1],
        ['takes', 'sum_kg', 1],
        ['book', 'worth', 1],
      ]),
    )
    opened.close()
  })
})

test('cells that were not asked for stay in the file', () => {
  const rows = 50_000
  const file = BookFile.create(path)
  const numbers = Float64Array.from({ length: rows }, (_, row) => row / 8)
  file.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'a', type: 'number' },
        { name: 'b', type: 'number' },
        { name: 'c', formula: 'a + b' },
      ],
    },
    { op: 'insert-rows', table: 't', block: { a: numbers, b: numbers } },
  ] as Operation[])
  const opened = again(file, false)
  expect(opened.book.table('t').column('c').value(rows)).toBe((rows - 1) / 4)
  expect(opened.book.table('t').column('c').byteLength()).toBeLessThan(rows * 5)
  expect(opened.book.table('t').column('a').byteLength()).toBe(0)
  opened.close()
})

test('rows that came as finished storage are repeated from the journal', () => {
  const file = BookFile.create(path)
  const column = new Column('number')
  column.occupy(0)
  column.write(0, 2.5)
  file.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'a', type: 'number' }] },
    { op: 'insert-rows', table: 't', block: { a: column } },
  ] as Operation[])
  file.apply({ op: 'set-cells', table: 't', cells: [{ row: 1, column: 'a', value: 9 }] })
  const opened = again(file, false)
  const [first] = [...opened.journal()]
  expect(JSON.parse(JSON.stringify(first?.operations[1]))).toMatchObject({ block: { a: [2.5] } })
  opened.close()
})

test('a history of very many steps opens, and its last step is taken back', () => {
  const steps = 130_000
  const file = BookFile.create(path)
  file.apply({ op: 'set-value', name: 'price', value: 1 })
  file.close()
  const database = new Database(path)
  const row = database.prepare('SELECT * FROM journal').get() as Record<string, string | number>
  const texts = ['kind', 'at', 'author', 'operations', 'inverse', 'summary'].map((name) => row[name] as string)
  texts[4] = JSON.stringify([{ op: 'set-value', name: 'price', value: 1 }])
  const add = database.prepare(
    'INSERT INTO journal (revision, kind, at, author, operations, inverse, summary, seal) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
  )
  database.exec('BEGIN')
  for (let revision = 2; revision <= steps; revision++)
    add.run(revision, ...texts, checksumOf(JSON.stringify([revision, ...texts])))
  const { image } = database.prepare('SELECT image FROM snapshot').get() as { image: string }
  const moved = JSON.stringify({ ...(JSON.parse(image) as object), revision: steps })
  database.prepare('UPDATE snapshot SET image = ?, seal = ?, revision = ?').run(moved, checksumOf(moved), steps)
  database.exec('COMMIT')
  database.close()
  const opened = BookFile.open(path, { writes: true })
  expect(opened.book.revision).toBe(steps)
  expect(opened.undo()?.revision).toBe(steps + 1)
  opened.close()
}, 60_000)

describe('who listens', () => {
  test('hears of what is in the file for good, and what it throws loses nothing', async () => {
    const file = made()
    const errors: unknown[] = []
    const listeners = process.listeners('uncaughtException')
    process.removeAllListeners('uncaughtException')
    process.on('uncaughtException', (error) => errors.push(error))
    let inFile = 0
    file.book.on('change', ({ revision }) => {
      const other = BookFile.open(path, { writes: false })
      inFile = other.book.revision
      other.close()
      expect(inFile).toBe(revision)
      throw new Error('mine')
    })
    file.apply({ op: 'set-value', name: 'price', value: 5 })
    file.apply({ op: 'set-value', name: 'price', value: 6 })
    file.undo()
    const before = picture(file)
    const opened = again(file, false)
    expect(picture(opened)).toEqual(before)
    opened.close()
    expect(inFile).toBe(4)
    // What listeners throw is reported when the program at work is through.
    await new Promise((resolve) => setTimeout(resolve, 10))
    expect(errors.map(String)).toEqual(['Error: mine', 'Error: mine', 'Error: mine'])
    process.removeAllListeners('uncaughtException')
    for (const listener of listeners) process.on('uncaughtException', listener)
  })

  test('may apply further steps, which stand in the journal in their order', () => {
    const file = made()
    file.book.on('change', ({ revision }) => {
      if (revision === 2) file.apply({ op: 'set-value', name: 'more', value: 1 })
    })
    file.apply({ op: 'set-value', name: 'price', value: 5 })
    const opened = again(file)
    expect([...opened.journal()].map(({ revision, operations }) => [revision, operations[0]?.op])).toEqual([
      [1, 'add-table'],
      [2, 'set-value'],
      [3, 'set-value'],
    ])
    expect(opened.book.value('more')).toBe(1)
    opened.close()
  })

  test('cannot change the workbook around the journal', () => {
    const file = made()
    const book = file.book as unknown as Record<string, unknown>
    for (const name of ['apply', 'undo', 'redo', 'snapshot', 'steps', 'view']) expect(book[name]).toBeUndefined()
    const draft = file.draft()
    draft.apply({ op: 'set-value', name: 'price', value: 99 })
    expect([draft.value('price'), file.book.value('price')]).toEqual([99, 4.5])
    file.close()
  })
})

describe('a file is refused', () => {
  const codeOf = (open: () => BookFile): BookFileCode | undefined => {
    try {
      open().close()
      return undefined
    } catch (error) {
      if (error instanceof BookFileFault) return error.code
      throw error
    }
  }
  const open =
    (writes = true) =>
    (): BookFile =>
      BookFile.open(path, { writes })

  const run = (sql: string): void => {
    const database = new Database(path)
    database.exec(sql)
    database.close()
  }

  test('that is not there, or is there already', () => {
    expect(codeOf(open())).toBe('missing')
    made().close()
    expect(codeOf(() => BookFile.create(path))).toBe('exists')
  })

  test('that is something else', () => {
    writeFileSync(path, 'tag,frames\nA,10\n')
    expect(codeOf(open())).toBe('not-a-workbook')
    rmSync(path)
    run('CREATE TABLE t (a)')
    expect(codeOf(open())).toBe('not-a-workbook')
  })

  test('of a newer format', () => {
    made().close()
    run('PRAGMA user_version = 99')
    expect(codeOf(open())).toBe('newer-format')
  })

  test('while another one writes it; looking at it is possible', () => {
    const file = made()
    expect(codeOf(open())).toBe('in-use')
    expect(codeOf(open(false))).toBeUndefined()
    file.close()
    expect(codeOf(open())).toBeUndefined()
  })

  test('whose cells are not what was written', () => {
    made().close()
    run("UPDATE chunks SET bytes = zeroblob(length(bytes)) WHERE owner LIKE 'column:%'")
    const file = BookFile.open(path, { writes: false })
    expect(() => file.book.table('hives').column('tag').values()).toThrow(/damaged/)
    file.close()
  })

  describe('whose cells are there, and not found, where the index of their keys', () => {
    /** Alters the page that the index is in, which is a single one: its cells start where two bytes each after its head say. */
    function alterIndex(alter: (page: Buffer, starts: number[]) => void): void {
      made().close()
      const database = new Database(path)
      const { rootpage } = database
        .prepare("SELECT rootpage FROM sqlite_schema WHERE name = 'sqlite_autoindex_chunks_1'")
        .get() as { rootpage: number }
      const { page_size: size } = database.prepare('PRAGMA page_size').get() as { page_size: number }
      database.close()
      const bytes = readFileSync(path)
      const page = bytes.subarray((rootpage - 1) * size, rootpage * size)
      // A leaf of an index, whose cells are their length and a record that ends with the row's id (SQLite, "Database File Format").
      expect(page[0]).toBe(10)
      const starts = Array.from({ length: page.readUInt16BE(3) }, (_, at) => page.readUInt16BE(8 + 2 * at))
      alter(page, starts)
      writeFileSync(path, bytes)
    }

    test.each<[string, (page: Buffer, starts: number[]) => void]>([
      ['is empty', (page) => page.writeUInt16BE(0, 3)],
      [
        'has lost its first key',
        (page, starts) => {
          for (const [at, start] of starts.slice(1).entries()) page.writeUInt16BE(start, 8 + 2 * at)
          page.writeUInt16BE(starts.length - 1, 3)
        },
      ],
      [
        'has another owner in place of the first',
        (page, starts) => page.set(Buffer.from('column:0'), page.indexOf('column:1', starts[0])),
      ],
      [
        'leads to the rows of others',
        (page, starts) => {
          const ends = starts.map((start) => start + (page[start] as number))
          const ids = ends.map((end) => page[end] as number)
          for (const [at, end] of ends.entries()) page[end] = ids[(at + 1) % ids.length] as number
        },
      ],
    ])('%s', (_, alter) => {
      alterIndex(alter)
      expect(codeOf(() => looked())).toBe('damaged')
    })
  })

  test('whose first steps are gone', () => {
    made().close()
    run('DELETE FROM journal WHERE revision = 1')
    expect(codeOf(open(false))).toBe('damaged')
  })

  test('that was cut short', () => {
    made().close()
    const bytes = readFileSync(path)
    writeFileSync(path, bytes.subarray(0, bytes.length / 2))
    expect(codeOf(open(false)) ?? codeOf(() => looked())).toBe('damaged')
  })

  test('whose definitions are damaged, with the steps that can still be read', () => {
    const file = made()
    file.apply({ op: 'set-value', name: 'price', value: 5 })
    file.close()
    run("UPDATE snapshot SET image = '{}'")
    expect(() => BookFile.open(path, { writes: false })).toThrow(/2 steps of its journal can still be read/)
    expect(salvagedSteps(path).map(({ author }) => author)).toEqual(['Ada', ''])
  })
  test.each([
    ['a step that says something else', "UPDATE journal SET operations = replace(operations, '9', '8') WHERE revision = 2"],
    ['a step with bytes that are no text', "UPDATE journal SET author = CAST(x'ff41' AS TEXT) WHERE revision = 2"],
    ['definitions that are no text', "UPDATE snapshot SET image = CAST(x'fe' AS TEXT)"],
    [
      'a step of no kind',
      "PRAGMA ignore_check_constraints = ON; UPDATE journal SET kind = CAST(x'6170ff' AS TEXT) WHERE revision = 1",
    ],
  ])('with %s', (_, damage) => {
    const file = made()
    file.apply({ op: 'set-value', name: 'price', value: 9 })
    file.close()
    run(damage)
    expect(
      codeOf(() => {
        const opened = BookFile.open(path, { writes: false })
        return [...opened.journal()].length > 0 ? opened : opened
      }),
    ).toBe('damaged')
    expect(salvagedSteps(path).length).toBeLessThanOrEqual(2)
  })

  const looked = (): BookFile => {
    const file = BookFile.open(path, { writes: false })
    for (const name of file.book.tables) for (const column of file.book.table(name).columns) column.values()
    return file
  }
})

describe('a file of an earlier format', () => {
  /** Makes the file one of format 1: its image knows no rules and no accepted findings. */
  function age(): void {
    const database = new Database(path)
    const { image } = database.prepare('SELECT image FROM snapshot').get() as { image: string }
    const { acceptances: _, tables, ...rest } = JSON.parse(image) as { acceptances: unknown; tables: { rules: unknown }[] }
    const aged = JSON.stringify({ ...rest, tables: tables.map(({ rules: __, ...table }) => table) })
    database.prepare('UPDATE snapshot SET image = ?, seal = ?').run(aged, checksumOf(aged))
    database.exec(
      'ALTER TABLE journal DROP COLUMN seal; ALTER TABLE journal DROP COLUMN undoes; ALTER TABLE payloads DROP COLUMN seal; DROP TABLE holder; DROP TABLE answers; PRAGMA user_version = 1',
    )
    database.close()
  }
  const version = (): number => {
    const database = new Database(path)
    const row = database.prepare('PRAGMA user_version').get() as { user_version: number }
    database.close()
    return row.user_version
  }

  test('is looked at as it is, and brought up to date when it is written', () => {
    const file = BookFile.create(path)
    file.apply(TABLES)
    const rows = file.book.query({ table: 'takes' }).rows()
    file.close()
    age()
    const looked = BookFile.open(path, { writes: false })
    expect(looked.book.query({ table: 'takes' }).rows()).toEqual(rows)
    looked.close()
    expect(version()).toBe(1)
    const written = BookFile.open(path, { writes: true })
    written.apply([{ op: 'set-rule', table: 'hives', name: 'framed', condition: 'frames > 5' }])
    written.close()
    expect(version()).toBe(6)
    const again = BookFile.open(path, { writes: true })
    expect(again.book.table('hives').rules.map(({ name }) => name)).toEqual(['framed'])
    again.undo()
    again.undo()
    expect(again.book.tables).toEqual([])
    again.close()
  })
})
