import { describe, expect, test } from 'vitest'
import { CellFault, type CellValue, type ChangeSet, type Operation, type ShownValue, Workbook } from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** Workbooks that were stored and opened again: what is read of them, and that edits are followed as if they had stayed open. */

const DEFINITIONS: Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'tag', type: 'text' },
      { name: 'frames', type: 'number' },
      { name: 'above', type: 'text' },
      { name: 'total', formula: 'sum(takes.kg)' },
      { name: 'best', formula: 'max(takes.kg)' },
      { name: 'last_day', formula: 'last(takes.day order by day)' },
      { name: 'below_it', formula: 'sum(frames below above)' },
      { name: 'busy', formula: 'count(every takes where kg > this.frames)' },
      { name: 'of_day', formula: 'lookup(every takes.kg where lot = this.frames)' },
    ],
  },
  {
    op: 'add-table',
    table: 'takes',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'kg', type: 'number' },
      { name: 'lot', type: 'number' },
      { name: 'day', type: 'date' },
      { name: 'per_frame', formula: 'kg / hive.frames' },
      { name: 'part', formula: 'share(kg by hive)' },
      { name: 'place', formula: 'rank(kg desc by hive)' },
      { name: 'so_far', formula: 'cumulative_sum(kg order by day)' },
      { name: 'before', formula: 'lag(kg)' },
      { name: 'stock', formula: '(lag(stock by hive order by day) ?? 0) + kg' },
      { name: 'seen', formula: 'count(every takes where day between this.day - 2 and this.day)' },
      { name: 'any_big', formula: 'any(kg > 5 by hive)' },
      { name: 'worth', formula: 'kg * price' },
      { name: 'due', formula: 'days_between(day, today())' },
    ],
  },
  { op: 'add-link', table: 'takes', columns: ['hive'], to: 'hives', keys: ['tag'] },
  { op: 'add-link', table: 'hives', columns: ['above'], to: 'hives', keys: ['tag'] },
  { op: 'set-value', name: 'price', value: 2 },
  { op: 'set-value', name: 'income', formula: 'price * takes.sum_kg' },
  { op: 'set-tally', table: 'takes', name: 'sum_kg', formula: 'sum(kg)' },
]
const ROWS: Operation[] = [
  {
    op: 'insert-rows',
    table: 'hives',
    rows: [
      { tag: 'A', frames: 10 },
      { tag: 'B', frames: 4, above: 'A' },
      { tag: 'C', frames: 0, above: 'B' },
      { tag: 'D', above: 'A' },
    ],
  },
  {
    op: 'insert-rows',
    table: 'takes',
    rows: [
      { hive: 'A', kg: 3, lot: 4, day: '2026-03-01' },
      { hive: 'A', kg: 8.5, lot: 10, day: '2026-03-05' },
      { hive: 'B', kg: 5, lot: 1, day: '2026-03-02' },
      { hive: 'C', kg: 1, lot: 2, day: '2026-03-02' },
      { hive: null, kg: { misfit: '4?' }, lot: 3, day: null },
    ],
  },
]

function made(): Workbook {
  const book = new Workbook({ now: Date.parse('2026-03-10T00:00:00Z') })
  book.apply([...DEFINITIONS, ...ROWS])
  return book
}

const shown = (value: ShownValue): unknown => (value instanceof CellFault ? `!${value.code}` : value)
const picture = (book: Workbook): unknown => [
  book.tables.map((name) => book.table(name).columns.map((column) => [column.name, column.type, column.values().map(shown)])),
  book.values.map((name) => shown(book.value(name))),
  book.check().map(({ code, table, column, rows }) => [code, table, column, rows]),
]
/** What a change set says, for comparison. */
const told = ({ recalculated, changed, stale, findings }: ChangeSet): unknown => {
  const listed = (cells: ChangeSet['changed']): unknown =>
    cells.map((one) => [one.table, one.column, [...one.ids()].sort((a, b) => a - b)]).sort()
  const codes = (list: ChangeSet['findings']['added']): unknown => list.map(({ code, column }) => [code, column]).sort()
  return [listed(recalculated), listed(changed), listed(stale), codes(findings.added), codes(findings.removed)]
}
const setCell = (table: string, row: number, column: string, value: CellValue): Operation => ({
  op: 'set-cells',
  table,
  cells: [{ row, column, value }],
})

/** The same workbook, once kept open and once stored and opened again. */
function both(prepare: readonly Operation[] = []): { kept: Workbook; opened: Workbook; stored: StoredBook } {
  const [kept, closed] = [made(), made()]
  for (const one of prepare) {
    kept.apply(one)
    closed.apply(one)
  }
  const stored = new StoredBook()
  stored.save(closed)
  return { kept, opened: stored.open(closed.steps), stored }
}

test('it shows what it showed', () => {
  const { kept, opened } = both()
  expect(picture(opened)).toEqual(picture(kept))
})

describe('an edit after opening does and says what it would have done before closing', () => {
  test.each<[string, Operation[]]>([
    ['a cell that sums, ranks, runs and neighbours follow', [setCell('takes', 2, 'kg', 7)]],
    ['a key of a row', [setCell('takes', 3, 'hive', 'A')]],
    ['a key that leads nowhere', [setCell('takes', 3, 'hive', 'Z')]],
    ['a key that is led to', [setCell('hives', 2, 'tag', 'E')]],
    ['a key that is doubled', [setCell('hives', 2, 'tag', 'A')]],
    ['a divisor that becomes zero', [setCell('hives', 1, 'frames', 0)]],
    ['a bound', [setCell('takes', 1, 'day', '2026-03-05')]],
    ['a parent', [setCell('hives', 4, 'above', 'C')]],
    ['a parent that closes a loop', [setCell('hives', 1, 'above', 'C')]],
    ['a misfit that is mended', [setCell('takes', 5, 'kg', 4)]],
    ['a new misfit', [setCell('takes', 1, 'kg', { misfit: 'some' })]],
    ['a named value', [{ op: 'set-value', name: 'price', value: 3 }]],
    ['the clock', [{ op: 'tick', now: '2026-03-20' }]],
    ['new rows', [{ op: 'insert-rows', table: 'takes', rows: [{ hive: 'B', kg: 2, day: '2026-03-03' }, {}] }]],
    [
      'new rows in the middle',
      [{ op: 'insert-rows', table: 'takes', rows: [{ hive: 'A', kg: 9, day: '2026-03-03' }], before: 2 }],
    ],
    ['rows that go', [{ op: 'remove-rows', table: 'takes', rows: [2, 4] }]],
    ['a row that is led to and goes', [{ op: 'remove-rows', table: 'hives', rows: [2] }]],
    ['rows that move', [{ op: 'move-rows', table: 'takes', rows: [1], before: 4 }]],
    [
      'rows read again',
      [{ op: 'reread-rows', table: 'hives', block: { tag: ['B', 'A'], frames: [6, 10], above: [null, 'B'] }, key: ['tag'] }],
    ],
    ['several things in one call', [setCell('takes', 1, 'kg', 4), { op: 'remove-rows', table: 'takes', rows: [3] }]],
  ])('%s', (_, operations) => {
    const { kept, opened } = both()
    expect(told(opened.apply(operations))).toEqual(told(kept.apply(operations)))
    expect(picture(opened)).toEqual(picture(kept))
    opened.undo()
    kept.undo()
    expect(picture(opened)).toEqual(picture(kept))
  })

  test.each<[string, Operation[]]>([
    [
      'a new column over what is there',
      [{ op: 'add-column', table: 'takes', column: { name: 'x', formula: 'sum(kg by hive) + hive.total' } }],
    ],
    ['another formula', [{ op: 'change-column', table: 'hives', column: 'total', set: { formula: 'mean(takes.kg)' } }]],
    ['another type', [{ op: 'change-column', table: 'takes', column: 'lot', set: { type: 'integer' } }]],
    ['another name', [{ op: 'rename-column', table: 'takes', column: 'kg', to: 'kilos' }]],
    ['a column that goes with what reads it', [{ op: 'remove-column', table: 'takes', column: 'day', dependants: 'remove' }]],
    ['a column that is detached', [{ op: 'detach-column', table: 'takes', column: 'so_far' }]],
    ['a column that is paused', [{ op: 'pause-column', table: 'takes', column: 'stock' }]],
    [
      'a link that goes and comes',
      [
        { op: 'remove-column', table: 'hives', column: 'below_it' },
        { op: 'remove-link', table: 'hives', name: 'above' },
      ],
    ],
  ])('a definition: %s', (_, operations) => {
    const { kept, opened } = both()
    for (const one of operations) {
      opened.apply(one)
      kept.apply(one)
    }
    expect(picture(opened)).toEqual(picture(kept))
    const next = setCell('takes', 3, 'lot', 9)
    expect(told(opened.apply(next))).toEqual(told(kept.apply(next)))
    expect(picture(opened)).toEqual(picture(kept))
  })
})

describe('what was not calculated when it was stored', () => {
  const onDemand: Operation[] = [
    { op: 'set-mode', mode: 'on-demand' },
    setCell('takes', 2, 'kg', 7),
    setCell('hives', 3, 'frames', 2),
    { op: 'insert-rows', table: 'takes', rows: [{ hive: 'C', kg: 6, day: '2026-03-04' }] },
  ]
  const staleCells = (book: Workbook): unknown =>
    book.tables.map((name) =>
      book.table(name).columns.map((column) => [column.name, [...column.staleIds()].sort((a, b) => a - b)]),
    )

  test('stays marked', () => {
    const { kept, opened } = both(onDemand)
    expect(opened.mode).toBe('on-demand')
    expect(staleCells(opened)).toEqual(staleCells(kept))
  })

  test.each<[string, Operation[]]>([
    ['live again', [{ op: 'set-mode', mode: 'live' }]],
    ['recalculated', [{ op: 'recalculate' }]],
    ['one column recalculated', [{ op: 'recalculate', columns: ['takes.stock'] }, { op: 'recalculate' }]],
    [
      'edited further, then recalculated',
      [setCell('takes', 1, 'kg', 9), setCell('takes', 1, 'hive', 'B'), { op: 'recalculate' }],
    ],
  ])('is calculated: %s', (_, operations) => {
    const { kept, opened } = both(onDemand)
    for (const one of operations) {
      opened.apply(one)
      kept.apply(one)
    }
    expect(picture(opened)).toEqual(picture(kept))
    expect(staleCells(opened)).toEqual(staleCells(kept))
  })
})

test('previews, refused calls and cancelled ones leave an opened workbook as it was', () => {
  const { opened } = both()
  const before = picture(opened)
  const edit = setCell('takes', 2, 'kg', 7)
  expect(opened.preview(edit).change.recalculated.length).toBeGreaterThan(5)
  expect(() => opened.apply([edit, { op: 'remove-column', table: 'takes', column: 'none' }])).toThrow()
  expect(() => opened.apply(edit, { progress: () => false })).toThrow()
  expect(picture(opened)).toEqual(before)
})

test('stored again, only what has changed is written', () => {
  const { opened } = both()
  opened.apply(setCell('takes', 2, 'kg', 7))
  const { unsaved } = opened.snapshot()
  const named = new Map(opened.tables.flatMap((name) => opened.table(name).columns.map((column) => [column.id, column.name])))
  const written = unsaved.filter(({ chunks }) => chunks.length > 0).map(({ column }) => named.get(column) ?? 'single')
  expect(written).toContain('kg')
  for (const name of ['tag', 'hive', 'day', 'before_it', 'lot', 'frames']) expect(written).not.toContain(name)
})

describe('many blocks', () => {
  const rows = 70_000
  const numbers = Float64Array.from({ length: rows }, (_, row) => (row % 1000) - 500)
  const halves = Float64Array.from({ length: rows }, (_, row) => (row % 7 === 0 ? Number.NaN : row / 2))
  const texts = Array.from({ length: rows }, (_, row) => `yard ${row % 90}`)
  const others = Array.from({ length: rows }, (_, row) => (row % 11 === 0 ? null : `row ${row} é`))
  const flags = Array.from({ length: rows }, (_, row) => (row % 5 === 0 ? null : row % 2 === 0))

  function large(): { book: Workbook; stored: StoredBook; opened: Workbook } {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [
          { name: 'n', type: 'number' },
          { name: 'half', type: 'number' },
          { name: 'yard', type: 'text' },
          { name: 'note', type: 'text' },
          { name: 'flag', type: 'boolean' },
          { name: 'sum', formula: 'n + half' },
          { name: 'ratio', formula: 'half / n' },
          { name: 'of_yard', formula: 'sum(half by yard)' },
        ],
      },
      { op: 'insert-rows', table: 't', block: { n: numbers, half: halves, yard: texts, note: others, flag: flags } },
    ] as Operation[])
    const stored = new StoredBook()
    stored.save(book)
    return { book, stored, opened: stored.open(book.steps) }
  }

  test('come back whole, and only those that are asked for are read', () => {
    const { book, stored, opened } = large()
    const first = stored.read.length
    expect(opened.table('t').column('sum').value(rows)).toBe(book.table('t').column('sum').value(rows))
    expect(stored.read.length).toBe(first + 1)
    for (const { name } of book.table('t').columns)
      expect(opened.table('t').column(name).values().map(shown)).toEqual(book.table('t').column(name).values().map(shown))
  })

  test('an edit of one row reads one chunk of the columns of its row, and counts on', () => {
    const { book, stored, opened } = large()
    stored.read.length = 0
    const change = opened.apply(setCell('t', rows, 'n', 0))
    expect(change.recalculated.map(({ column, rows: count }) => [column, count])).toEqual([
      ['sum', 1],
      ['ratio', 1],
    ])
    const touched = stored.read.filter((part) => !part.endsWith(' 4'))
    // Zeros and ends of what is divided are counted over whole columns; everything else is of the one row.
    expect(new Set(touched.map((part) => part.split(' ')[0])).size).toBeLessThanOrEqual(2)
    book.apply(setCell('t', rows, 'n', 0))
    const zeros = (one: Workbook): unknown => one.check().map(({ code, rows: count }) => [code, count])
    expect(zeros(opened)).toEqual(zeros(book))
  })

  test('rows that went and came keep their places and ids', () => {
    const { book, stored } = large()
    book.apply({ op: 'remove-rows', table: 't', rows: Array.from({ length: 500 }, (_, index) => index * 3 + 1) })
    book.apply({ op: 'insert-rows', table: 't', rows: [{ n: 1 }, { n: 2 }, { n: 3 }], before: 2000 })
    book.apply({ op: 'move-rows', table: 't', rows: [60_000, 60_001], before: 5 })
    stored.save(book)
    const opened = stored.open(book.steps)
    expect(opened.table('t').rowIds()).toEqual(book.table('t').rowIds())
    const next = { op: 'insert-rows', table: 't', rows: [{ yard: 'yard 3' }] }
    expect(opened.applyJson(next).inserted[0]?.ids).toEqual(book.applyJson(next).inserted[0]?.ids)
    expect(opened.table('t').column('of_yard').values()).toEqual(book.table('t').column('of_yard').values())
  })
})
