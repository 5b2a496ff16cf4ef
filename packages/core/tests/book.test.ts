import { describe, expect, test } from 'vitest'
import { CellFault, type ChangeSet, Refusal, Workbook } from '../src/index.js'
import { inspections } from './helpers/inspections-book.js'

const values = (book: Workbook, column: string): unknown[] => book.table('inspections').column(column).values()

/** The code of what `act` is refused with; the workbook must be as it was. */
function refusedWith(book: Workbook, operations: unknown, options = {}): string {
  const picture = (): unknown =>
    book.tables.map((name) =>
      book
        .table(name)
        .columns.map((column) => [
          column.name,
          column.type,
          column.formula,
          column.properties,
          column.values(),
          column.findings(),
        ]),
    )
  const before = [book.revision, picture()]
  try {
    book.applyJson(operations, options)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    expect([book.revision, picture()]).toEqual(before)
    expect(error.findings.length).toBeGreaterThan(0)
    return error.code
  }
  return 'done'
}

test('the example of the README', () => {
  const book = inspections()
  expect(values(book, 'infestation')).toEqual([3, null])
  const change = book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: 2, column: 'bees_sampled', value: 200 }] })
  expect(change.recalculated).toEqual([{ table: 'inspections', column: 'infestation', rows: 1 }])
  expect([...(change.recalculated[0]?.ids() ?? [])]).toEqual([2])
  expect(values(book, 'infestation')).toEqual([3, 2])
})

describe('definitions', () => {
  test('come in any order inside one call', () => {
    const book = inspections()
    book.apply([
      { op: 'add-column', table: 'inspections', column: { name: 'c', formula: 'b + 1' } },
      { op: 'add-column', table: 'inspections', column: { name: 'b', formula: 'a + 1' } },
      { op: 'add-column', table: 'inspections', column: { name: 'a', formula: 'mites' } },
    ])
    expect(values(book, 'c')).toEqual([11, 6])
  })

  test('a cycle is refused with its whole path', () => {
    const book = inspections()
    const ring = ['a = c', 'b = a + mites', 'c = if(mites > 1, b, 0)'].map((text) => {
      const [name, formula] = text.split(' = ')
      return { op: 'add-column', table: 'inspections', column: { name, formula } }
    })
    expect(refusedWith(book, ring)).toBe('cycle')
    expect(() => book.applyJson(ring)).toThrow('a → c → b → a')
    expect(refusedWith(book, { op: 'add-column', table: 'inspections', column: { name: 'x', formula: 'x + 1' } })).toBe('cycle')
    expect(
      refusedWith(book, {
        op: 'change-column',
        table: 'inspections',
        column: 'infestation',
        set: { formula: 'infestation + 1' },
      }),
    ).toBe('cycle')
  })

  test.each<[string, unknown]>([
    ['name-taken', { op: 'add-column', table: 'inspections', column: { name: 'MITES', formula: '1' } }],
    ['unknown-name', { op: 'add-column', table: 'inspections', column: { name: 'x', formula: 'mite' } }],
    ['type-mismatch', { op: 'add-column', table: 'inspections', column: { name: 'x', formula: 'mites', type: 'text' } }],
    ['unknown-table', { op: 'add-column', table: 'inspection', column: { name: 'x', formula: '1' } }],
    ['unknown-column', { op: 'add-column', table: 'inspections', column: { name: 'x', formula: '1' }, before: 'nope' }],
    ['calculated-cell', { op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'infestation', value: 5 }] }],
    ['calculated-cell', { op: 'insert-rows', table: 'inspections', rows: [{ infestation: 5 }] }],
    ['column-in-use', { op: 'remove-column', table: 'inspections', column: 'mites' }],
    ['column-has-values', { op: 'change-column', table: 'inspections', column: 'mites', set: { formula: '1' } }],
    ['unknown-row', { op: 'set-cells', table: 'inspections', cells: [{ row: 99, column: 'mites', value: 5 }] }],
    ['unknown-row', { op: 'remove-rows', table: 'inspections', rows: [1, 99] }],
    ['unknown-column', { op: 'insert-rows', table: 'inspections', rows: [{ mites: 1 }, { mitess: 1 }] }],
    ['bad-value', { op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'mites', value: Number.NaN }] }],
    ['bad-value', { op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'mites', value: { x: 1 } }] }],
    [
      'unknown-column',
      { op: 'add-table', table: 'new', columns: [{ name: 'a' }, { name: 'b', formula: '1', original: 'nope' }] },
    ],
    ['bad-operation', { op: 'change-column', table: 'inspections', column: 'mites', set: { type: null } }],
    ['bad-operation', { op: 'change-column', table: 'inspections', column: 'mites', set: { type: 'text' }, values: [1] }],
    ['bad-value', { op: 'insert-rows', table: 'inspections', block: { mites: [1], bees_sampled: [Number.POSITIVE_INFINITY] } }],
    ['bad-operation', { op: 'set-cell', table: 'inspections' }],
    ['bad-operation', { op: 'set-cells', table: 'inspections' }],
    ['bad-operation', { op: 'set-cells', table: 'inspections', cells: [], extra: 1 }],
    ['bad-operation', { op: 'insert-rows', table: 'inspections', block: { mites: [1, 2], bees_sampled: [1] } }],
    ['bad-operation', { op: 'insert-rows', table: 'inspections', rows: [{}], ids: [1] }],
    ['name-taken', { op: 'add-table', table: 'INSPECTIONS' }],
    ['name-taken', { op: 'add-table', table: 't', columns: [{ name: 'a' }, { name: 'A' }] }],
    ['name-taken', { op: 'rename-column', table: 'inspections', column: 'mites', to: 'Infestation' }],
  ])('%s', (code, operation) => expect(refusedWith(inspections(), operation)).toBe(code))

  test('a name known only in another table says which', () => {
    const book = inspections()
    book.apply({ op: 'add-table', table: 'hives', columns: [{ name: 'frames', type: 'number' }] })
    expect(() => book.apply({ op: 'add-column', table: 'inspections', column: { name: 'x', formula: 'frames + 1' } })).toThrow(
      'Table hives has one',
    )
  })

  test('a refusal names the operation and takes the ones before it back', () => {
    const book = inspections()
    const bad = { op: 'remove-rows', table: 'inspections', rows: [99] }
    const list = [
      { op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'mites', value: 1 }] },
      { op: 'remove-rows', table: 'inspections', rows: [2] },
      bad,
    ]
    expect(refusedWith(book, list)).toBe('unknown-row')
    try {
      book.applyJson(list)
    } catch (error) {
      expect((error as Refusal).operation).toEqual(bad)
    }
    expect(book.table('inspections').rowIds()).toEqual([1, 2])
  })

  test('typing over says the formula, removing says the users', () => {
    const book = inspections()
    expect(() =>
      book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'infestation', value: 5 }] }),
    ).toThrow('100 * mites per bees_sampled')
    expect(() => book.apply({ op: 'remove-column', table: 'inspections', column: 'mites' })).toThrow('used by infestation')
  })
})

describe('edits', () => {
  test('only what really changes is passed on', () => {
    const book = inspections()
    book.apply([
      { op: 'add-column', table: 'inspections', column: { name: 'many', formula: 'mites > 5' } },
      { op: 'add-column', table: 'inspections', column: { name: 'word', formula: "if(many, 'yes', 'no')" } },
    ])
    const change = book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'mites', value: 8 }] })
    expect(change.recalculated.map((one) => [one.column, one.rows])).toEqual(
      expect.arrayContaining([
        ['infestation', 1],
        ['many', 1],
      ]),
    )
    expect(change.recalculated.some((one) => one.column === 'word')).toBe(false)
    expect(change.changed.map((one) => one.column).sort()).toEqual(['infestation', 'mites'])
    expect(change.stale).toEqual([])
  })

  test('new rows get every formula, where they are put', () => {
    const book = inspections()
    const change = book.apply({
      op: 'insert-rows',
      table: 'inspections',
      rows: [
        { mites: 1, bees_sampled: 100 },
        { mites: 2, bees_sampled: 100 },
      ],
      before: 2,
    })
    expect(values(book, 'infestation')).toEqual([3, 1, 2, null])
    expect(book.table('inspections').rowIds()).toEqual([1, 3, 4, 2])
    expect(change.inserted).toEqual([{ table: 'inspections', rows: 2, ids: [3, 4] }])
    expect(change.inserted[0]?.calculated()).toEqual(new Map([['infestation', [1, 2]]]))
  })

  test('ids are never used again', () => {
    const book = inspections()
    book.apply({ op: 'remove-rows', table: 'inspections', rows: [2] })
    book.apply({ op: 'insert-rows', table: 'inspections', rows: [{ mites: 7 }] })
    expect(book.table('inspections').rowIds()).toEqual([1, 3])
  })

  test.each<[string, unknown, unknown]>([
    ['number', '12', new CellFault('misfit', '12')],
    ['integer', 2.5, new CellFault('misfit', '2.5')],
    ['integer', 2 ** 54, new CellFault('misfit', String(2 ** 54))],
    ['number', true, new CellFault('misfit', 'true')],
    ['number', -0, 0],
    ['text', 5, '5'],
    ['text', '', ''],
    ['date', '2026-02-30', new CellFault('misfit', '2026-02-30')],
    ['date', '2026-02-28', '2026-02-28'],
    ['datetime', '2026-02-28', '2026-02-28T00:00:00'],
    ['datetime', '2026-02-28T10:00:00+02:00', '2026-02-28T08:00:00'],
    ['boolean', 1, new CellFault('misfit', '1')],
    ['number', { misfit: 'about 12' }, new CellFault('misfit', 'about 12')],
    ['number', { misfit: '12' }, 12],
  ])('a %s column given %j holds %j', (type, value, held) => {
    const book = new Workbook()
    book.applyJson([
      { op: 'add-table', table: 't', columns: [{ name: 'x', type }] },
      { op: 'insert-rows', table: 't', rows: [{ x: value }] },
    ])
    expect(book.table('t').column('x').values()).toEqual([held])
  })

  test('a column without a type takes the one of its first value, and formulas follow', () => {
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'x' }] },
      { op: 'insert-rows', table: 't', rows: [{}, {}] },
      { op: 'add-column', table: 't', column: { name: 'y', formula: 'x + 1' } },
    ])
    expect(book.table('t').column('y').values()).toEqual([null, null])
    book.apply({ op: 'set-cells', table: 't', cells: [{ row: 2, column: 'x', value: 4 }] })
    expect(book.table('t').column('x').type).toBe('number')
    expect(book.table('t').column('y').values()).toEqual([null, 5])
    book.undo()
    expect(book.table('t').column('x').type).toBeNull()
    expect(refusedWith(book, { op: 'set-cells', table: 't', cells: [{ row: 1, column: 'x', value: 'word' }] })).toBe(
      'type-mismatch',
    )
  })

  test('a misfit alone makes an untyped column text, and typed arrays are taken as lists', () => {
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'x' }, { name: 'y', type: 'number' }] },
      { op: 'insert-rows', table: 't', block: { x: [null, { misfit: 'soon' }], y: Float64Array.of(1.5, 2) } },
    ])
    expect([book.table('t').column('x').values(), book.table('t').column('y').values()]).toEqual([
      [null, 'soon'],
      [1.5, 2],
    ])
  })

  test('a new type converts by text and back, and dependants are checked again', () => {
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'x', type: 'text' }] },
      { op: 'insert-rows', table: 't', block: { x: ['12.50', '007', 'n/a', null] } },
    ])
    book.apply({ op: 'change-column', table: 't', column: 'x', set: { type: 'number' } })
    expect(book.table('t').column('x').values()).toEqual([12.5, 7, new CellFault('misfit', 'n/a'), null])
    book.apply({ op: 'add-column', table: 't', column: { name: 'y', formula: 'x * 2' } })
    expect(refusedWith(book, { op: 'change-column', table: 't', column: 'x', set: { type: 'text' } })).toBe('type-mismatch')
    book.undo()
    book.undo()
    expect(book.table('t').column('x').values()).toEqual(['12.50', '007', 'n/a', null])
  })

  test('a calculated column declared integer never cuts off', () => {
    const book = inspections()
    book.apply({ op: 'add-column', table: 'inspections', column: { name: 'half', formula: 'mites / 2', type: 'integer' } })
    expect(values(book, 'half')).toEqual([new CellFault('misfit'), 2])
  })

  test('renaming rewrites formulas', () => {
    const book = inspections()
    book.apply({ op: 'rename-column', table: 'inspections', column: 'mites', to: 'mite count' })
    expect(book.table('inspections').column('infestation').formula).toBe('100 * `mite count` per bees_sampled')
    book.undo()
    expect(book.table('inspections').column('infestation').formula).toBe('100 * mites per bees_sampled')
  })

  test('properties are set and taken away, and never change a value', () => {
    const book = inspections()
    book.apply({
      op: 'change-column',
      table: 'inspections',
      column: 'infestation',
      set: { unit: '%', decimals: 1, note: 'per 100 bees' },
    })
    book.apply({ op: 'change-column', table: 'inspections', column: 'infestation', set: { note: null, decimals: 2 } })
    expect(book.table('inspections').column('infestation').properties).toEqual({ unit: '%', decimals: 2 })
    book.undo()
    expect(book.table('inspections').column('infestation').properties).toEqual({ unit: '%', decimals: 1, note: 'per 100 bees' })
    expect(values(book, 'infestation')).toEqual([3, null])
  })

  test('a hundred thousand rows at once', () => {
    const book = inspections()
    const count = 100_000
    book.apply({
      op: 'insert-rows',
      table: 'inspections',
      block: { mites: Array.from({ length: count }, (_, index) => index % 40), bees_sampled: new Array<number>(count).fill(200) },
    })
    expect(book.table('inspections').column('infestation').summary()).toMatchObject({
      rows: count + 2,
      values: count + 1,
      blanks: 1,
      errors: 0,
      max: 19.5,
    })
    const change = book.apply({ op: 'set-cells', table: 'inspections', cells: [{ row: 50_000, column: 'mites', value: 1000 }] })
    expect(change.recalculated).toEqual([{ table: 'inspections', column: 'infestation', rows: 1 }])
    expect(book.query({ table: 'inspections', order: 'infestation desc', limit: 1 }).ids()).toEqual([50_000])
  })
})

describe('revisions', () => {
  test('expects refuses a workbook that has moved on', () => {
    const book = inspections()
    const edit = { op: 'set-cells', table: 'inspections', cells: [{ row: 1, column: 'mites', value: 1 }] }
    expect(refusedWith(book, edit, { expects: 2 })).toBe('unexpected-revision')
    expect(book.applyJson(edit, { expects: 3, author: 'Ane', at: '2026-03-14T09:30:00' })).toMatchObject({
      revision: 4,
      author: 'Ane',
      at: '2026-03-14T09:30:00',
    })
  })

  test('undo and redo are revisions, and null when nothing is left', () => {
    const book = inspections()
    expect([book.undo()?.revision, book.undo()?.revision, book.undo()?.revision, book.undo()]).toEqual([4, 5, 6, null])
    expect(book.tables).toEqual([])
    expect([book.redo()?.revision, book.redo()?.revision, book.redo()?.revision, book.redo()]).toEqual([7, 8, 9, null])
    expect(values(book, 'infestation')).toEqual([3, null])
    book.undo()
    book.apply({ op: 'add-column', table: 'inspections', column: { name: 'x', formula: '1' } })
    expect(book.redo()).toBeNull()
  })

  test('removing a table and bringing it back keeps ids, order and formulas', () => {
    const book = inspections()
    book.apply({ op: 'insert-rows', table: 'inspections', rows: [{ mites: 1 }], before: 1 })
    book.apply({ op: 'remove-table', table: 'inspections' })
    expect(book.tables).toEqual([])
    book.undo()
    expect(book.table('inspections').rowIds()).toEqual([3, 1, 2])
    expect(values(book, 'infestation')).toEqual([null, 3, null])
  })

  test('listeners hear every change until they leave', () => {
    const book = inspections()
    const heard: number[] = []
    const leave = book.on('change', (change: ChangeSet) => heard.push(change.revision))
    book.undo()
    book.redo()
    leave()
    book.undo()
    expect(heard).toEqual([4, 5])
  })

  test('operations of a change are plain JSON that repeats it', () => {
    const book = new Workbook()
    const log: string[] = []
    book.on('change', ({ operations }) => log.push(JSON.stringify(operations)))
    book.apply({
      op: 'add-table',
      table: 't',
      columns: [
        { name: '__proto__', type: 'number' },
        { name: 'x', type: 'date' },
      ],
    })
    book.apply({
      op: 'insert-rows',
      table: 't',
      block: Object.fromEntries([
        ['__proto__', [1, null]],
        ['x', ['2026-03-14', { misfit: 'soon' }]],
      ]),
    })
    book.apply({ op: 'add-column', table: 't', column: { name: 'y', formula: '`__proto__` + 1' } })
    const again = new Workbook()
    for (const line of log) again.apply(JSON.parse(line))
    expect(again.table('t').columns.map((column) => [column.name, column.values()])).toEqual(
      book.table('t').columns.map((column) => [column.name, column.values()]),
    )
  })
})

describe('findings come and go with the data', () => {
  test('a warning about blanks', () => {
    const book = inspections()
    const added = book.apply({
      op: 'add-column',
      table: 'inspections',
      column: { name: 'act', formula: "if(infestation > 3, 'treat', 'wait')" },
    }).findings.added
    expect(added).toMatchObject([{ code: 'blank-falls-through', rows: 1, table: 'inspections', column: 'act' }])
    const gone = book.apply({
      op: 'set-cells',
      table: 'inspections',
      cells: [{ row: 2, column: 'bees_sampled', value: 100 }],
    }).findings
    expect(gone.added).toEqual([])
    expect(gone.removed).toMatchObject([{ code: 'blank-falls-through' }])
    expect(book.check()).toEqual([])
  })

  test('a removed row is counted no more', () => {
    const book = inspections()
    book.apply({ op: 'add-column', table: 'inspections', column: { name: 'ratio', formula: 'mites / bees_sampled' } })
    expect(book.check()).toMatchObject([{ code: 'division-by-zero', rows: 1 }])
    expect(book.apply({ op: 'remove-rows', table: 'inspections', rows: [2] }).findings.removed).toMatchObject([
      { code: 'division-by-zero' },
    ])
    book.undo()
    expect(book.check()).toMatchObject([{ code: 'division-by-zero', rows: 1 }])
  })
})
