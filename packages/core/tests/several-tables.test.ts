import { describe, expect, test } from 'vitest'
import { CellFault, type Operation, Refusal, Workbook } from '../src/index.js'

/** Links, tallies and named values through their life: what follows an edit, what is refused, what undo brings back. */

function comb(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
        { name: 'mother', type: 'text' },
      ],
    },
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'honey_kg', type: 'number' },
        { name: 'taken', type: 'date' },
      ],
    },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    { op: 'add-link', table: 'hives', columns: ['mother'], to: 'hives', keys: ['tag'] },
    { op: 'set-value', name: 'price', value: 4 },
    { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(honey_kg)' },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'A', frames: 10 },
        { tag: 'B', frames: 5, mother: 'A' },
        { tag: 'C', frames: 0, mother: 'B' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'A', honey_kg: 12, taken: '2026-06-01' },
        { hive: 'B', honey_kg: 5, taken: '2026-06-04' },
        { hive: 'A', honey_kg: 3, taken: '2026-06-09' },
        { hive: null, honey_kg: 1, taken: '2026-06-02' },
      ],
    },
  ])
  return book
}

const add = (book: Workbook, table: string, formula: string, name = 'x'): void =>
  void book.apply({ op: 'add-column', table, column: { name, formula } })
const values = (book: Workbook, table: string, name = 'x'): unknown[] =>
  book
    .table(table)
    .column(name)
    .values()
    .map((value) => (value instanceof CellFault ? `!${value.code}` : value))
const code = (book: Workbook, operation: Operation | Operation[]): string => {
  const before = JSON.stringify(book.tables.map((name) => book.table(name).columns.map((column) => column.values())))
  try {
    book.apply(operation)
  } catch (error) {
    expect(JSON.stringify(book.tables.map((name) => book.table(name).columns.map((column) => column.values())))).toBe(before)
    return (error as Refusal).code
  }
  return 'applied'
}

describe('values from other rows', () => {
  test.each<[string, string, unknown[]]>([
    ['harvests', 'hive.frames', [10, 5, 10, null]],
    ['harvests', 'hive.mother.frames', [null, 10, null, null]],
    ['harvests', 'honey_kg per hive.frames', [1.2, 1, 0.3, null]],
    ['harvests', 'honey_kg * price', [48, 20, 12, 4]],
    ['harvests', '100 * honey_kg / total_kg', [(100 * 12) / 21, (100 * 5) / 21, 300 / 21, 100 / 21]],
    ['harvests', 'count(by hive)', [2, 1, 2, 1]],
    ['harvests', 'max(taken by hive)', ['2026-06-09', '2026-06-04', '2026-06-09', '2026-06-02']],
    ['harvests', 'lookup(every hives.frames where tag = this.hive)', [10, 5, 10, null]],
    ['harvests', 'last(every harvests.honey_kg where taken < this.taken order by taken)', [null, 1, 5, 12]],
    ['harvests', 'count(every harvests where taken between this.taken - 3 and this.taken)', [1, 3, 1, 2]],
    ['harvests', 'median(every harvests.honey_kg where honey_kg > this.honey_kg)', [null, 12, 8.5, 5]],
    ['harvests', 'let last = lag(honey_kg order by taken) in honey_kg - (last ?? 0)', [12, 4, -2, -11]],
    ['hives', 'sum(harvests.honey_kg)', [15, 5, null]],
    ['hives', 'count(harvests)', [2, 1, 0]],
    ['hives', 'join_rows(harvests.honey_kg, "+" order by taken desc)', ['3+12', '5', null]],
    ['hives', 'sum(frames via mother)', [5, 0, null]],
    ['hives', 'sum(frames below mother)', [5, 0, null]],
    ['hives', 'count(harvests where honey_kg > this.frames)', [1, 0, 0]],
    ['hives', 'sum(every harvests.honey_kg) / book.price', [5.25, 5.25, 5.25]],
    ['hives', 'harvests.total_kg', [21, 21, 21]],
    ['hives', 'polynomial(frames, 2 * frames, 1, 1)', [0.5, 0.5, 0.5]],
  ])('%s: %s', (table, formula, expected) => {
    const book = comb()
    add(book, table, formula)
    expect(values(book, table)).toEqual(expected)
  })

  test('a key that two rows share leads nowhere for certain', () => {
    const book = comb()
    add(book, 'harvests', 'hive.frames')
    add(book, 'hives', 'sum(harvests.honey_kg)')
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 3, column: 'tag', value: 'A' }] })
    expect(values(book, 'harvests')).toEqual(['!many-matches', 5, '!many-matches', null])
    expect(values(book, 'hives')).toEqual(['!many-matches', 5, '!many-matches'])
    book.undo()
    expect(values(book, 'hives')).toEqual([15, 5, null])
  })

  test('a loop among parents is an error in its rows alone', () => {
    const book = comb()
    add(book, 'hives', 'count(below mother)')
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'mother', value: 'B' }] })
    expect(values(book, 'hives')).toEqual(['!loop', '!loop', 0])
  })
})

test('a tally of a column that is called as its table reads the column', () => {
  const book = new Workbook()
  const rows = [
    { jars: 12, site: 'LM' },
    { jars: 7, site: 'BF' },
  ]
  book.apply([
    { op: 'add-table', table: 'jars', columns: [{ name: 'jars', type: 'number' }, { name: 'site' }] },
    { op: 'insert-rows', table: 'jars', rows },
    { op: 'set-tally', table: 'jars', name: 'all', formula: "sum(jars where site = 'LM') + count(jars)" },
  ])
  expect(book.table('jars').tally('all')).toBe(14)
})

test('a change names exactly the cells that follow, over tables', () => {
  const book = comb()
  add(book, 'hives', 'sum(harvests.honey_kg)', 'kg')
  add(book, 'harvests', 'hive.kg', 'of_hive')
  add(book, 'hives', 'kg per frames', 'yield')
  const change = book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'honey_kg', value: 6 }] })
  const named = change.changed.map((one) => [`${one.table}.${one.column}`, [...one.ids()]])
  expect(Object.fromEntries(named)).toEqual({
    'harvests.honey_kg': [2],
    'harvests.total_kg': [1],
    'hives.kg': [2],
    'hives.yield': [2],
    'harvests.of_hive': [2],
  })
  const nothing = book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 4, column: 'taken', value: '2026-06-03' }] })
  expect(nothing.recalculated).toEqual([])
})

describe('in one call definitions may come in any order', () => {
  test('over tables, links, tallies and values', () => {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 'a',
        columns: [
          { name: 'k', type: 'text' },
          { name: 'far', formula: 'k.near + limit' },
        ],
      },
      {
        op: 'add-table',
        table: 'b',
        columns: [
          { name: 'k', type: 'text' },
          { name: 'near', formula: 'n * a.rows' },
          { name: 'n', type: 'number' },
        ],
      },
      { op: 'add-link', table: 'a', columns: ['k'], to: 'b', keys: ['k'] },
      { op: 'set-value', name: 'limit', formula: 'b.top + 1' },
      { op: 'set-tally', table: 'b', name: 'top', formula: 'max(n)' },
      { op: 'set-tally', table: 'a', name: 'rows', formula: 'count()' },
      { op: 'insert-rows', table: 'a', rows: [{ k: 'x' }, { k: 'y' }] },
      { op: 'insert-rows', table: 'b', rows: [{ k: 'y', n: 7 }] },
    ])
    expect(values(book, 'a', 'far')).toEqual([null, 22])
    expect(book.value('limit')).toBe(8)
    while (book.undo() !== null);
    expect([book.tables, book.values]).toEqual([[], []])
  })
})

describe('what is in use stays', () => {
  test.each<[string, Operation[], Operation, string]>([
    [
      'a link',
      [{ op: 'add-column', table: 'harvests', column: { name: 'x', formula: 'hive.frames' } }],
      { op: 'remove-link', table: 'harvests', name: 'hive' },
      'link-in-use',
    ],
    [
      'a link by its totals',
      [{ op: 'add-column', table: 'hives', column: { name: 'x', formula: 'count(harvests)' } }],
      { op: 'remove-link', table: 'harvests', name: 'hive' },
      'link-in-use',
    ],
    ['a key of a link', [], { op: 'remove-column', table: 'hives', column: 'tag' }, 'column-in-use'],
    ['a table that is linked to', [], { op: 'remove-table', table: 'hives' }, 'table-in-use'],
    [
      'a table that is read',
      [{ op: 'set-value', name: 'x', formula: 'count(every harvests)' }],
      { op: 'remove-table', table: 'harvests' },
      'table-in-use',
    ],
    [
      'a value',
      [{ op: 'add-column', table: 'hives', column: { name: 'x', formula: 'price' } }],
      { op: 'remove-value', name: 'price' },
      'column-in-use',
    ],
    [
      'a tally',
      [{ op: 'set-value', name: 'x', formula: 'harvests.total_kg' }],
      { op: 'remove-tally', table: 'harvests', name: 'total_kg' },
      'column-in-use',
    ],
    ['a column that a tally reads', [], { op: 'remove-column', table: 'harvests', column: 'honey_kg' }, 'column-in-use'],
    [
      'a column that a tally reads cannot be detached from it',
      [],
      { op: 'remove-column', table: 'harvests', column: 'honey_kg', dependants: 'detach' },
      'column-in-use',
    ],
  ])('%s', (_, before, operation, expected) => {
    const book = comb()
    book.apply(before)
    expect(code(book, operation)).toBe(expected)
  })
})

test.each<[Operation, string]>([
  [{ op: 'add-link', table: 'harvests', columns: ['honey_kg'], to: 'hives', keys: ['tag'] }, 'bad-operation'],
  [{ op: 'add-link', table: 'harvests', columns: ['hive', 'taken'], to: 'hives', keys: ['tag'] }, 'bad-operation'],
  [{ op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] }, 'name-taken'],
  [{ op: 'add-link', table: 'hives', columns: ['tag'], to: 'hives', keys: ['mother'], name: 'harvests' }, 'bad-operation'],
  [{ op: 'add-link', table: 'hives', columns: ['tgg'], to: 'hives', keys: ['mother'] }, 'unknown-column'],
  [{ op: 'add-link', table: 'hives', columns: [], to: 'hives', keys: [] }, 'bad-operation'],
  [{ op: 'remove-link', table: 'hives', name: 'mothre' }, 'unknown-link'],
  [{ op: 'set-value', name: 'x' }, 'bad-operation'],
  [{ op: 'set-value', name: 'x', value: 1, formula: '1' }, 'bad-operation'],
  [{ op: 'set-value', name: 'x', formula: 'sum(honey_kg)' }, 'not-here'],
  [{ op: 'set-value', name: 'x', formula: 'x + 1' }, 'cycle'],
  [{ op: 'set-tally', table: 'harvests', name: 'x', formula: 'honey_kg' }, 'unknown-name'],
  [{ op: 'set-tally', table: 'harvests', name: 'x', formula: 'count(hives)' }, 'no-link'],
  [{ op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'total_kg + 1' }, 'cycle'],
  [{ op: 'rename-table', table: 'hives', to: 'Harvests' }, 'name-taken'],
  [{ op: 'rename-table', table: 'harvests', to: 'mother' }, 'bad-operation'],
  [{ op: 'add-column', table: 'hives', column: { name: 'x', formula: 'sum(harvests.y)' } }, 'unknown-name'],
])('%j is refused: %s', (operation, expected) => expect(code(comb(), operation)).toBe(expected))

test('a cycle over tables is refused with its path', () => {
  const book = comb()
  add(book, 'hives', 'sum(harvests.honey_kg)', 'kg')
  expect(
    code(book, [
      { op: 'add-column', table: 'harvests', column: { name: 'a', formula: 'hive.b' } },
      { op: 'add-column', table: 'hives', column: { name: 'b', formula: 'max(harvests.a)' } },
    ]),
  ).toBe('cycle')
  expect(
    code(book, { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(every hives.kg) + sum(honey_kg)' }),
  ).toBe('applied')
})

test('names are rewritten where they stand', () => {
  const book = comb()
  add(
    book,
    'hives',
    'sum(harvests.honey_kg) + sum(every harvests.honey_kg where harvests.taken > @2026-06-02) + harvests.total_kg',
    'kg',
  )
  const before = values(book, 'hives', 'kg')
  book.apply([
    { op: 'rename-table', table: 'harvests', to: 'takes' },
    { op: 'rename-table', table: 'takes', to: 'honey taken' },
    { op: 'rename-column', table: 'honey taken', column: 'honey_kg', to: 'kg net' },
  ])
  expect(book.table('hives').column('kg').formula).toBe(
    'sum(`honey taken`.`kg net`) + sum(every `honey taken`.`kg net` where `honey taken`.taken > @2026-06-02) + `honey taken`.total_kg',
  )
  expect(values(book, 'hives', 'kg')).toEqual(before)
  expect(book.table('honey taken').tally('total_kg')).toBe(21)
})

test('groups with tallies, of the rows that a condition keeps', () => {
  const book = comb()
  const query = {
    table: 'harvests',
    levels: [{ key: 'hive' }],
    flat: true,
    tallies: [
      { name: 'kg', formula: 'total_kg' },
      { name: 'mean', formula: 'kg_each' },
    ],
  }
  book.apply({ op: 'set-tally', table: 'harvests', name: 'kg_each', formula: 'total_kg / count()' })
  expect(book.group(query).rows()).toEqual([
    ['A', 15, 7.5],
    ['B', 5, 5],
    [null, 1, 1],
  ])
  expect(book.group({ ...query, where: 'honey_kg < 12', order: [{ by: 'kg', descending: true }], limit: 1 }).rows()).toEqual([
    ['B', 5, 5],
  ])
  expect(book.group({ ...query, levels: [] }).rows()).toEqual([[21, 5.25]])
  expect(book.group({ ...query, where: 'honey_kg > 99' }).rows()).toEqual([])
  expect(() => book.group({ ...query, levels: [{ key: 'hvie' }] })).toThrow(Refusal)
})

test('long chains, wide stars and their undoing take no stack and no quadratic time', () => {
  const book = comb()
  const chain = Array.from({ length: 3000 }, (_, index) => ({
    op: 'add-column',
    table: 'hives',
    column: { name: `c${3000 - index}`, formula: index === 2999 ? 'frames + 1' : `c${2999 - index} + 1` },
  }))
  book.applyJson(chain)
  book.apply(
    Array.from({ length: 1000 }, (_, index) => ({
      op: 'add-column',
      table: 'hives',
      column: { name: `s${index}`, formula: `c3000 + ${index}` },
    })),
  )
  book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'frames', value: 0 }] })
  expect(values(book, 'hives', 's7')).toEqual([3007, 3012, 3007])
  while (book.undo() !== null);
  expect(book.tables).toEqual([])
})

test('several names of one formula are rewritten in one call', () => {
  const book = comb()
  add(book, 'hives', 'frames + frames * sum(harvests.honey_kg)')
  const before = values(book, 'hives')
  book.apply([
    { op: 'rename-column', table: 'hives', column: 'frames', to: 'frames in the box' },
    { op: 'rename-column', table: 'harvests', column: 'honey_kg', to: 'kg' },
    { op: 'rename-column', table: 'hives', column: 'frames in the box', to: 'n' },
  ])
  expect(book.table('hives').column('x').formula).toBe('n + n * sum(harvests.kg)')
  expect(values(book, 'hives')).toEqual(before)
  book.undo()
  expect(book.table('hives').column('x').formula).toBe('frames + frames * sum(harvests.honey_kg)')
})

describe('holidays from a table', () => {
  const holidays = 'workdays_between(from, to, every calendar.day where free) + workdays_between(from, to, every fairs.day)'

  function waits(rows: number): Workbook {
    const book = new Workbook()
    const days = [
      { name: 'from', type: 'date' },
      { name: 'to', type: 'date' },
    ]
    book.applyJson([
      { op: 'add-table', table: 'waits', columns: [...days, { name: 'x', formula: holidays }] },
      {
        op: 'add-table',
        table: 'calendar',
        columns: [
          { name: 'day', type: 'date' },
          { name: 'free', type: 'boolean' },
        ],
      },
      { op: 'add-table', table: 'fairs', columns: [{ name: 'day', type: 'date' }] },
      { op: 'insert-rows', table: 'calendar', rows: [{ day: '2026-06-02', free: false }] },
      { op: 'insert-rows', table: 'fairs', rows: [{ day: '2026-06-06' }] },
      { op: 'insert-rows', table: 'waits', rows: Array.from({ length: rows }, () => ({ from: '2026-06-01', to: '2026-06-05' })) },
    ])
    return book
  }
  const free: Operation = { op: 'set-cells', table: 'calendar', cells: [{ row: 1, column: 'free', value: true }] }
  const fair: Operation = { op: 'set-cells', table: 'fairs', cells: [{ row: 1, column: 'day', value: '2026-06-03' }] }

  test.each<[string, Operation[], number]>([
    ['as they are', [], 8],
    ['one list changes', [free], 7],
    ['the other changes', [fair], 7],
    ['both change in one call', [free, fair], 6],
    ['a holiday comes', [{ op: 'insert-rows', table: 'fairs', rows: [{ day: '2026-06-04' }] }], 7],
    ['a holiday goes', [free, { op: 'remove-rows', table: 'calendar', rows: [1] }], 8],
  ])('%s', (_, operations, expected) => {
    const book = waits(2)
    book.apply(operations)
    expect(values(book, 'waits')).toEqual([expected, expected])
    // A call without operations is a step too, and changes nothing back.
    book.undo()
    expect(values(book, 'waits')).toEqual([8, 8])
  })

  test('change together with so many new rows that everything is computed', () => {
    const book = waits(1)
    const many = Array.from({ length: 60_000 }, () => '2026-06-01')
    book.apply([free, fair, { op: 'insert-rows', table: 'waits', block: { from: many, to: many.map(() => '2026-06-05') } }])
    expect(new Set(values(book, 'waits'))).toEqual(new Set([6]))
  })
})

test('a row with an error in one part of its key follows the other part', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
        { name: 'x', formula: 'count(every takes where hive = this.tag and lot = this.frames)' },
      ],
    },
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'lot', type: 'number' },
      ],
    },
    { op: 'insert-rows', table: 'takes', rows: [{ hive: 'B', lot: 1 }] },
    { op: 'insert-rows', table: 'hives', rows: [{ tag: 'A', frames: { misfit: 'some' } }] },
  ])
  const cells = (): unknown[] => book.table('hives').column('x').values().map(String)
  expect(cells()).toEqual(['0'])
  book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'tag', value: 'B' }] })
  expect(cells()).toEqual(['!misfit'])
})
