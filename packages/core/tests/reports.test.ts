import { describe, expect, test, vi } from 'vitest'
import { type GroupedView, Refusal, type ReportChange, SlimWorkbook, Workbook } from '../src/index.js'
import { shownValue } from './helpers/sketch-of-book.js'
import { StoredBook } from './helpers/stored-book.js'

/** Reports: grouped views that are kept, follow names, and follow edits while they are open. */

function apiaries(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'name', type: 'text' },
        { name: 'apiary', type: 'text' },
      ],
    },
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'flow', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'year', type: 'integer' },
      ],
    },
    { op: 'insert-rows', table: 'hives', block: { name: ['A', 'B', 'C'], apiary: ['north', 'north', 'south'] } },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: {
        hive: ['A', 'A', 'B', 'C', 'C'],
        flow: ['lime', 'clover', 'lime', 'lime', 'clover'],
        kg: [3, 4, 5, 1, 7],
        year: [2025, 2026, 2026, 2026, 2026],
      },
    },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['name'] },
    { op: 'set-tally', table: 'harvests', name: 'all_kg', formula: 'sum(kg)' },
    { op: 'set-value', name: 'price', value: 2 },
  ])
  return book
}

const BY_APIARY: GroupedView = {
  table: 'harvests',
  where: 'year = season',
  parameters: [{ name: 'season', type: 'integer', value: 2026 }],
  levels: [{ name: 'apiary', key: 'hive.apiary' }, { key: 'flow' }],
  tallies: [
    { name: 'kg', formula: 'sum(kg)' },
    { name: 'worth', formula: 'all_kg * price' },
  ],
  lines: [{ name: 'part', formula: 'kg per parent.kg' }],
  order: [{ by: 'flow', level: 'flow', descending: true }],
}

function withReport(view: GroupedView = BY_APIARY): Workbook {
  const book = apiaries()
  book.apply({ op: 'set-report', name: 'by_apiary', report: view })
  return book
}

const viewOf = (book: Workbook): GroupedView => {
  const [report] = book.snapshot().snapshot.reports ?? []
  return report?.report as GroupedView
}

const linesOf = (book: Workbook, given = {}): unknown[][] => {
  using report = book.report('by_apiary', given)
  return report.current.rows().map((row) => row.map(shownValue))
}

function refused(act: () => unknown): string {
  try {
    act()
  } catch (error) {
    if (error instanceof Refusal) return error.findings.map(({ code, message }) => `${code}: ${message}`).join('\n')
    throw error
  }
  return 'not refused'
}

describe('keys along links', () => {
  const linked = (): Workbook => {
    const book = apiaries()
    book.apply([
      { op: 'add-column', table: 'hives', column: { name: 'place', type: 'integer' } },
      {
        op: 'set-cells',
        table: 'hives',
        cells: [3, 3, 1].map((value, at) => ({ row: at + 1, column: 'place', value })),
      },
      { op: 'change-column', table: 'hives', column: 'apiary', set: { orderKey: 'place' } },
      {
        op: 'set-report',
        name: 'r',
        report: {
          table: 'harvests',
          levels: [{ key: 'hive.apiary' }],
          across: { key: 'hive.apiary' },
          tallies: [{ name: 'n', formula: 'count()' }],
        },
      },
      { op: 'set-chart', name: 'c', chart: { table: 'harvests', x: 'hive.apiary', series: [{ formula: 'kg', kind: 'bar' }] } },
    ])
    return book
  }

  test('stand in the order of their order key, in groups, across and in charts', () => {
    const book = linked()
    using report = book.report('r')
    expect(report.current.rows().map(([, key]) => key)).toEqual(['south', 'north', null])
    expect(report.current.columns.map(({ name }) => name).slice(2)).toEqual(['south n', 'north n', 'n'])
    expect(book.chart(book.chartDefinition('c')).x.categories).toEqual(['south', 'north'])
  })

  test('follow it in an open report', () => {
    const book = linked()
    using report = book.report('r')
    expect(report.current.rows()[0]?.[1]).toBe('south')
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 3, column: 'place', value: 9 }] })
    expect(report.current.rows().map(([, key]) => key)).toEqual(['north', 'south', null])
  })
})

describe('what is kept', () => {
  test('a report gives what its view gives, with its parameters as they are given', () => {
    const book = withReport()
    expect(linesOf(book)).toEqual(
      book
        .group(BY_APIARY)
        .rows()
        .map((row) => row.map(shownValue)),
    )
    expect(linesOf(book, { parameters: { season: 2025 } })).toEqual([
      [1, 'north', null, 3, 6, 1],
      [2, 'north', 'lime', 3, 6, 1],
      [0, null, null, 3, 6, null],
    ])
  })

  test('a parameter without a value is asked for when the report is made, not when it is set', () => {
    const book = withReport({ ...BY_APIARY, parameters: [{ name: 'season', type: 'integer' }] })
    expect(refused(() => book.report('by_apiary'))).toBe('bad-operation: The parameter season: it has no value.')
    expect(linesOf(book, { parameters: { season: '2025' } })).toHaveLength(3)
    expect(refused(() => book.report('by_apiary', { parameters: { saeson: 2025 } }))).toBe(
      'bad-operation: The report by_apiary: it has no parameter saeson. Nearest name: season.',
    )
  })

  test.each([
    ['an unknown column', { tallies: [{ name: 'a', formula: 'sum(kgs)' }] }, 'unknown-name'],
    ['an unknown order', { order: [{ by: 'totl' }] }, 'unknown-column'],
    ['a condition that is none', { where: 'kg' }, 'type-mismatch'],
    ['a condition on groups that is none', { having: 'kg' }, 'type-mismatch'],
  ])('%s is refused, and nothing is kept', (_, part, code) => {
    const book = apiaries()
    expect(refused(() => book.apply({ op: 'set-report', name: 'r', report: { ...BY_APIARY, ...part } }))).toContain(code)
    expect(book.snapshot().snapshot.reports).toEqual([])
    expect(book.revision).toBe(1)
  })

  test('a refusal says which report it is about', () => {
    const book = withReport()
    try {
      book.apply({ op: 'change-column', table: 'harvests', column: 'year', set: { type: 'text' } })
    } catch (error) {
      const [first] = error instanceof Refusal ? error.findings : []
      expect(first).toMatchObject({ report: 'by_apiary', table: 'harvests' })
      expect(viewOf(book)).toEqual(BY_APIARY)
      return
    }
    throw new Error('a text equal to a number was taken')
  })

  test('definitions of one call come in any order', () => {
    const book = apiaries()
    book.apply([
      { op: 'set-report', name: 'r', report: { table: 'harvests', tallies: [{ name: 'g', formula: 'sum(grams)' }] } },
      { op: 'add-column', table: 'harvests', column: { name: 'grams', formula: 'kg * 1000' } },
    ])
    using report = book.report('R')
    expect(report.name).toBe('r')
    expect(report.current.rows()).toEqual([[0, 20_000]])
  })

  test('undo and redo take reports along, in their places', () => {
    const book = withReport()
    book.apply({ op: 'set-report', name: 'second', report: { table: 'hives', levels: [{ key: 'apiary' }] } })
    const names = (): unknown => book.snapshot().snapshot.reports?.map(({ name }) => name)
    book.apply({ op: 'remove-report', name: 'by_apiary' })
    expect(names()).toEqual(['second'])
    book.undo()
    expect(names()).toEqual(['by_apiary', 'second'])
    expect(viewOf(book)).toEqual(BY_APIARY)
    book.apply({ op: 'set-report', name: 'BY_APIARY', report: { table: 'hives' } })
    expect(names()).toEqual(['by_apiary', 'second'])
    book.undo()
    expect(viewOf(book)).toEqual(BY_APIARY)
    book.undo()
    book.undo()
    expect(names()).toEqual([])
    book.redo()
    expect(linesOf(book)).toHaveLength(7)
  })

  test('a stored workbook has its reports', () => {
    const book = withReport()
    const { snapshot } = book.snapshot()
    const definitions = JSON.parse(JSON.stringify({ ...snapshot, tables: [], values: [], findings: [], reports: [] }))
    expect(definitions.reports).toEqual([])
    expect(JSON.parse(JSON.stringify(snapshot)).reports).toEqual([{ op: 'set-report', name: 'by_apiary', report: BY_APIARY }])
  })
})

describe('renaming', () => {
  test.each<[string, Parameters<Workbook['apply']>[0], Partial<GroupedView>]>([
    [
      'a column along a link',
      { op: 'rename-column', table: 'hives', column: 'apiary', to: 'yard' },
      { levels: [{ name: 'apiary', key: 'hive.yard' }, { key: 'flow' }] },
    ],
    [
      'a column that is a key, and an order by it',
      { op: 'rename-column', table: 'harvests', column: 'flow', to: 'main flow' },
      {
        levels: [{ name: 'apiary', key: 'hive.apiary' }, { key: '`main flow`' }],
        order: [{ by: 'main flow', level: 'main flow', descending: true }],
      },
    ],
    [
      'a column whose name a tally bears, and lines that read the tally',
      { op: 'rename-column', table: 'harvests', column: 'kg', to: 'weight' },
      {
        tallies: [
          { name: 'weight', formula: 'sum(weight)' },
          { name: 'worth', formula: 'all_kg * price' },
        ],
        lines: [{ name: 'part', formula: 'weight per parent.weight' }],
      },
    ],
    [
      'a column of the condition',
      { op: 'rename-column', table: 'harvests', column: 'year', to: 'jahr' },
      { where: 'jahr = season' },
    ],
    ['the table', { op: 'rename-table', table: 'harvests', to: 'crops' }, { table: 'crops' }],
  ])('%s', (_, operation, expected) => {
    const book = withReport()
    const before = linesOf(book)
    book.apply(operation)
    expect(viewOf(book)).toEqual({ ...BY_APIARY, ...expected })
    expect(linesOf(book)).toEqual(before)
    book.undo()
    expect(viewOf(book)).toEqual(BY_APIARY)
    book.redo()
    expect(linesOf(book)).toEqual(before)
  })

  test('two renamings of one call, one after the other', () => {
    const book = withReport()
    book.apply([
      { op: 'rename-column', table: 'harvests', column: 'kg', to: 'a_long_name' },
      { op: 'rename-column', table: 'harvests', column: 'year', to: 'y' },
      { op: 'rename-column', table: 'harvests', column: 'a_long_name', to: 'w' },
    ])
    expect(viewOf(book)).toMatchObject({
      where: 'y = season',
      tallies: [{ name: 'w', formula: 'sum(w)' }, { name: 'worth' }],
      lines: [{ formula: 'w per parent.w' }],
    })
  })
})

describe('removing what a report uses', () => {
  test.each<[string, Parameters<Workbook['apply']>[0]]>([
    ['a column', { op: 'remove-column', table: 'harvests', column: 'flow' }],
    [
      'a column with all that is calculated from it',
      { op: 'remove-column', table: 'harvests', column: 'flow', dependants: 'remove' },
    ],
    ['a column along a link', { op: 'remove-column', table: 'hives', column: 'apiary' }],
    ['a tally', { op: 'remove-tally', table: 'harvests', name: 'all_kg' }],
    ['a named value', { op: 'remove-value', name: 'price' }],
    ['a link', { op: 'remove-link', table: 'harvests', name: 'hive' }],
    ['the table', { op: 'remove-table', table: 'harvests' }],
  ])('%s is refused naming the report', (_, operation) => {
    const book =
      'name' in operation && operation.name === 'price'
        ? withReport({
            ...BY_APIARY,
            lines: [{ name: 'cost', formula: 'kg * price' }],
            tallies: [{ name: 'kg', formula: 'sum(kg)' }],
          })
        : withReport()
    expect(refused(() => book.apply(operation))).toContain('report by_apiary')
    expect(linesOf(book)).toHaveLength(7)
    book.apply({ op: 'remove-report', name: 'by_apiary' })
    expect(refused(() => book.apply(operation))).not.toContain('report')
  })

  test('the report can go in the same step, as the fix says', () => {
    const book = withReport()
    try {
      book.apply({ op: 'remove-column', table: 'harvests', column: 'flow' })
    } catch (error) {
      const fixes = error instanceof Refusal ? (error.findings[0]?.fixes ?? []) : []
      expect(fixes[1]).toEqual({
        title: 'Remove report by_apiary first',
        operations: [{ op: 'remove-report', name: 'by_apiary' }],
      })
    }
  })

  test('a column with the name of a parameter is refused, naming the report', () => {
    const book = withReport()
    expect(
      refused(() => book.apply({ op: 'add-column', table: 'harvests', column: { name: 'season', type: 'number' } })),
    ).toContain('name-taken')
    expect(book.table('harvests').columns.map(({ name }) => name)).toEqual(['hive', 'flow', 'kg', 'year'])
  })
})

describe('open reports', () => {
  function open(view: GroupedView = BY_APIARY) {
    const book = withReport(view)
    const report = book.report('by_apiary')
    const told: ReportChange[] = []
    report.subscribe((change) => told.push(change))
    const edit = (row: number, column: string, value: string | number | null): void => {
      book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row, column, value }] })
    }
    return { book, report, told, edit }
  }

  test('an edit names the groups it touches, and the columns of lines', () => {
    const { report, told, edit } = open()
    report.current
    edit(3, 'kg', 6)
    expect(told).toEqual([{ groups: [{ keys: [] }, { keys: ['north'] }, { keys: ['north', 'lime'] }], columns: ['part'] }])
    expect(report.current.rows()).toContainEqual([2, 'north', 'lime', 6, 12, 0.6])
    expect(report.current.rows()).toContainEqual([1, 'north', null, 10, 20, 10 / 18])
  })

  test('nothing is told of edits that touch no group', () => {
    const { told, edit, book } = open()
    edit(1, 'kg', 30)
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'name', value: 'A' }] })
    book.apply({ op: 'add-column', table: 'harvests', column: { name: 'note', type: 'text' } })
    expect(told).toEqual([])
  })

  test('a row that moves names the group it leaves, gone or not, and the one it comes to', () => {
    const { report, told, edit } = open()
    report.current
    edit(3, 'flow', 'heather')
    const named = told[0]?.groups?.map(({ keys }) => keys.join(' '))
    expect(named).toEqual(expect.arrayContaining(['north lime', 'north heather']))
    expect(report.current.rows().map((row) => row[2])).toEqual([null, 'heather', 'clover', null, 'lime', 'clover', null])
  })

  test.each<[string, Partial<GroupedView>]>([
    ['ordered by a tally', { order: [{ by: 'kg', descending: true }] }],
    ['with the others in one line', { top: [{ count: 1, by: 'kg' }] }],
    ['with a condition on groups', { having: 'kg > 3' }],
    ['with a key across', { levels: [{ key: 'hive' }], across: { key: 'flow' }, order: [] }],
    ['with rows', { details: 'shown', columns: [{ name: 'apiary_of_row', formula: 'hive.apiary' }], order: [] }],
    ['of the whole alone', { levels: [], order: [] }],
  ])('what is read after edits is what a new view gives: %s', (_, part) => {
    const { report, edit, book } = open({ ...BY_APIARY, ...part })
    const steps: (() => void)[] = [
      () => edit(3, 'kg', 60),
      () => edit(5, 'hive', 'A'),
      () => edit(1, 'year', 2026),
      () => edit(2, 'kg', null),
      () => book.apply({ op: 'set-value', name: 'price', value: 3 }),
      () => book.apply({ op: 'remove-rows', table: 'harvests', rows: [4] }),
      () => book.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'B', flow: 'lime', kg: 2, year: 2026 }] }),
      () => book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'apiary', value: 'east' }] }),
      () => book.undo(),
    ]
    for (const step of steps) {
      step()
      const anew = book.group(viewOf(book))
      expect(report.current.rows()).toEqual(anew.rows())
      expect(report.current.keptCount).toBe(anew.keptCount)
      expect(report.current.lines).toEqual(anew.lines)
    }
  })

  test('a group that comes as another goes, in one call, has a line of its own', () => {
    const { report, told, book } = open({ ...BY_APIARY, levels: [{ key: 'flow' }], lines: [], order: [] })
    const flow = (row: number, value: string | null): { row: number; column: string; value: string | null } => {
      return { row, column: 'flow', value }
    }
    book.apply({ op: 'set-cells', table: 'harvests', cells: [flow(2, 'ivy'), flow(5, 'lime')] })
    for (const cells of [
      [flow(2, 'lime'), flow(3, 'heather')],
      [flow(3, 'lime'), flow(2, null)],
      [flow(2, 'lime'), flow(3, 'null')],
    ]) {
      report.current
      told.length = 0
      book.apply({ op: 'set-cells', table: 'harvests', cells })
      expect(report.current.rows()).toEqual(book.group(viewOf(book)).rows())
      expect(told[0]?.groups?.length).toBeGreaterThan(2)
    }
  })

  test.each([{ having: 'size > 1' }, { details: 'shown' as const, tallyDetails: true }])(
    'what is shown of other rows than groups follows where every group stays as it is: %j',
    (more) => {
      const levels = [{ name: 'hive', key: 'hive.name' }]
      const latest = { name: 'latest', formula: 'last(kg order by year)' }
      const tallies = [latest, { name: 'size', formula: 'count()' }]
      const view = { table: 'harvests', where: "flow = 'lime'", levels, tallies, ...more }
      const book = withReport(view)
      using report = book.report('by_apiary')
      for (const year of [2030, 2001]) {
        expect(report.current.rows()).toEqual(book.group(view).rows())
        book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 3, column: 'year', value: year }] })
      }
      expect(report.current.rows()).toEqual(book.group(view).rows())
    },
  )

  test('a row follows its link where another row is found by it', () => {
    const view = {
      table: 'harvests',
      columns: [{ name: 'place', formula: 'hive.apiary' }],
      tallies: [{ name: 'kg', formula: 'sum(kg)' }],
    }
    const book = withReport(view)
    using report = book.report('by_apiary')
    expect(report.current.rows()[0]).toContain('north')
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'name', value: 'D' }] })
    expect(report.current.rows()).toEqual(book.group(view).rows())
  })

  test('a change of definitions is told of where it is one of the report', () => {
    const { report, told, book } = open()
    book.apply({ op: 'rename-column', table: 'harvests', column: 'kg', to: 'weight' })
    expect(told).toEqual([{ groups: null, columns: ['part'] }])
    expect(report.current.columns.map(({ name }) => name)).toContain('weight')
    book.apply({ op: 'set-report', name: 'by_apiary', report: { table: 'hives', levels: [{ key: 'apiary' }] } })
    expect(report.current.levels).toEqual(['apiary'])
  })

  test('a report that is removed is gone, and back after a step back', () => {
    const { report, told, book } = open()
    book.apply({ op: 'remove-report', name: 'by_apiary' })
    expect(report.isGone).toBe(true)
    expect(report.current.rows()).toEqual([])
    expect(told).toHaveLength(1)
    book.undo()
    expect(report.isGone).toBe(false)
    expect(report.current.rows()).toHaveLength(7)
  })

  test('one that is ended is told of nothing, and lets go of what it needed', () => {
    const { report, told, edit, book } = open()
    const before = book.memory().indexes.length
    report()
    report()
    edit(3, 'kg', 6)
    expect(told).toEqual([])
    expect(book.memory().indexes.length).toBeLessThan(before)
  })

  test('a listener that throws keeps no one from hearing', () => {
    const thrown = vi.fn()
    const book = new Workbook({ onListenerError: thrown })
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'a', type: 'number' }] },
      { op: 'insert-rows', table: 't', rows: [{ a: 1 }] },
      { op: 'set-report', name: 'r', report: { table: 't', tallies: [{ name: 's', formula: 'sum(a)' }] } },
    ])
    using report = book.report('r')
    const heard = vi.fn()
    report.subscribe(() => {
      throw new Error('no')
    })
    report.subscribe(heard)
    book.apply({ op: 'set-cells', table: 't', cells: [{ row: 1, column: 'a', value: 2 }] })
    expect([heard.mock.calls.length, thrown.mock.calls.length]).toEqual([1, 1])
  })
})

test('a program that only calculates carries reports along, and does not follow names for them', () => {
  const stored = new StoredBook()
  stored.save(withReport())
  const slim = SlimWorkbook.open(stored.snapshot, stored.cells)
  expect(slim.snapshot().snapshot.reports).toEqual(stored.snapshot.reports)
  slim.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'kg', value: 8 }] })
  expect(refused(() => slim.apply({ op: 'rename-column', table: 'harvests', column: 'kg', to: 'w' }))).toContain(
    'carried here, not read',
  )
  expect(refused(() => slim.apply({ op: 'set-report', name: 'x', report: { table: 'hives' } }))).toContain('no such operation')
})

test('a workbook that is opened again has its reports', () => {
  const stored = new StoredBook()
  stored.save(withReport())
  const book = Workbook.open(stored.snapshot, stored.cells)
  expect(linesOf(book)).toEqual(linesOf(withReport()))
  book.apply({ op: 'rename-column', table: 'harvests', column: 'kg', to: 'w' })
  expect(viewOf(book).lines).toEqual([{ name: 'part', formula: 'w per parent.w' }])
})
