import { describe, expect, test } from 'vitest'
import { type Finding, type Operation, Workbook } from '../src/index.js'

/** Errors that formulas calculate are told of, with the cell they come from; what is caught or only displayed otherwise is not. */

function made(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
      ],
    },
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'day', type: 'date' },
        { name: 'note', type: 'text' },
      ],
    },
    { op: 'add-link', table: 'takes', columns: ['hive'], to: 'hives', keys: ['tag'] },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'A', frames: 10 },
        { tag: 'B', frames: 4 },
      ],
    },
    {
      op: 'insert-rows',
      table: 'takes',
      rows: [
        { hive: 'A', kg: 3, day: '2026-05-04', note: '7' },
        { hive: 'B', kg: { misfit: '2,5' }, day: '2026-05-05', note: 'x' },
        { hive: 'B', kg: 1, day: '2026-05-06', note: '8' },
      ],
    },
  ])
  return book
}

const column = (table: string, name: string, formula: string): Operation => ({
  op: 'add-column',
  table,
  column: { name, formula },
})

const said = (findings: readonly Finding[], code = 'calculated-errors'): string[] =>
  findings.filter((one) => one.code === code).map(({ message, rows }) => `${rows}: ${message}`)

describe('a calculated column with errors has a finding with the cell they come from', () => {
  test.each<[string, Operation[], string[]]>([
    [
      'of a domain',
      [column('hives', 'root', 'sqrt(frames - 5)')],
      ['1: 1 cell of root holds an error: out-of-range. The first, in row 2, is sqrt(frames - 5) where frames is 4.'],
    ],
    [
      'of a text that is no number',
      [column('takes', 'worth', 'number(note)')],
      ['1: 1 cell of worth holds an error: misfit. The first, in row 2, is number(note) where note is "x".'],
    ],
    [
      'of a misfit that goes on, over a column between',
      [column('takes', 'half', 'kg / 2'), column('takes', 'quarter', 'half / 2')],
      [
        '1: 1 cell of half holds an error: misfit. The first, in row 2, comes from takes.kg, row 2, which holds "2,5".',
        '1: 1 cell of quarter holds an error: misfit. The first, in row 2, comes from takes.kg, row 2, which holds "2,5".',
      ],
    ],
    [
      'of an aggregate of linked rows',
      [column('hives', 'all', 'sum(takes.kg)')],
      ['1: 1 cell of all holds an error: misfit. The first, in row 2, comes from takes.kg, row 2, which holds "2,5".'],
    ],
    [
      'of the mean of a group',
      [column('takes', 'mean_kg', 'mean(kg by hive)')],
      ['2: 2 cells of mean_kg hold errors: misfit. The first, in row 2, comes from takes.kg, row 2, which holds "2,5".'],
    ],
    [
      'over a link',
      [column('hives', 'root', 'sqrt(frames - 5)'), column('takes', 'of_hive', 'hive.root + 1')],
      [
        '1: 1 cell of root holds an error: out-of-range. The first, in row 2, is sqrt(frames - 5) where frames is 4.',
        '2: 2 cells of of_hive hold errors: out-of-range. The first, in row 2, comes from hives.root, row 2: sqrt(frames - 5) where frames is 4.',
      ],
    ],
    [
      'of neighbouring rows',
      [column('takes', 'before', 'lag(kg)')],
      ['1: 1 cell of before holds an error: misfit. The first, in row 3, comes from takes.kg, row 2, which holds "2,5".'],
    ],
    [
      'of a tally and of a value made of it',
      [
        { op: 'set-tally', table: 'takes', name: 'total', formula: 'sum(kg)' },
        { op: 'set-value', name: 'worth', formula: 'takes.total * 4' },
      ],
      [
        '1: total is an error: misfit. It comes from takes.kg, row 2, which holds "2,5".',
        '1: worth is an error: misfit. It comes from takes.kg, row 2, which holds "2,5".',
      ],
    ],
    [
      'of several kinds',
      [column('takes', 'odd', "case when hive = 'A' then sqrt(0 - kg) else kg end")],
      [
        '2: 2 cells of odd hold errors: 1 out-of-range, 1 misfit. The first, in row 1, is case when hive = \'A\' then sqrt(0 - kg) else kg end where hive is "A" and kg is 3.',
      ],
    ],
  ])('%s', (_, operations, expected) => {
    const book = made()
    const change = book.apply(operations)
    expect(said(change.findings.added).sort()).toEqual([...expected].sort())
    expect(said(book.check()).sort()).toEqual([...expected].sort())
    // What is told can be refused on.
    expect(() => made().apply(operations, { strict: true })).toThrow()
  })

  test('and a preview has it too', () => {
    const { findings } = made().previewColumn('takes', { name: 'half', formula: 'kg / 2' })
    expect(said(findings)).toEqual([
      '1: 1 cell of half holds an error: misfit. The first, in row 2, comes from takes.kg, row 2, which holds "2,5".',
    ])
  })

  test('which follows edits, goes with the last error, and comes back when it was accepted and its rows change', () => {
    const book = made()
    book.apply(column('hives', 'root', 'sqrt(frames - 5)'))
    const frames = (row: number, value: number): Operation => ({
      op: 'set-cells',
      table: 'hives',
      cells: [{ row, column: 'frames', value }],
    })
    const [found] = book.check().filter(({ code }) => code === 'calculated-errors')
    book.apply(book.accepting(found as Finding, 'known'))
    expect(said(book.check())).toEqual([])
    expect(said(book.apply(frames(1, 0)).findings.added)).toEqual([
      '2: 2 cells of root hold errors: out-of-range. The first, in row 1, is sqrt(frames - 5) where frames is 0.',
    ])
    expect(said(book.apply([frames(1, 9), frames(2, 9)]).findings.removed).length).toBe(1)
    expect(said(book.check())).toEqual([])
  })

  test('but not twice where a divisor is zero, a fraction is refused, or everything fails', () => {
    const book = made()
    book.apply([
      { op: 'set-cells', table: 'takes', cells: [{ row: 2, column: 'kg', value: 0 }] },
      column('takes', 'inverse', '1 / kg'),
      { op: 'add-column', table: 'takes', column: { name: 'whole', type: 'integer', formula: 'kg / 2' } },
      column('takes', 'never', 'sqrt(-1)'),
    ])
    expect(
      book
        .check()
        .map(({ code }) => code)
        .sort(),
    ).toEqual(['always-fails', 'division-by-zero', 'fractions', 'numbers-as-text'])
  })
})

test('a step says how many of the cells it recalculated are errors', () => {
  const book = made()
  book.apply(column('takes', 'half', 'kg / 2'))
  const change = book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: { misfit: 'much' } }] })
  expect(change.recalculated.map(({ column: name, rows, errors }) => [name, rows, [...errors()]])).toEqual([
    ['half', 1, [['misfit', 1]]],
  ])
  expect(Object.keys(change.recalculated[0] as object)).toEqual(['table', 'column', 'rows'])
  expect(book.undo()?.recalculated.map(({ errors }) => errors().size)).toEqual([0])
})

describe('a date outside the calendar', () => {
  const book = made()
  book.apply([
    {
      op: 'add-table',
      table: 'days',
      columns: [
        { name: 'day', type: 'date' },
        { name: 'off', type: 'boolean' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'days',
      rows: [
        { day: '2026-05-01', off: true },
        { day: '2026-05-05', off: false },
      ],
    },
  ])
  const waited = column('takes', 'waited', 'workdays_between(@2026-05-04, day, every days.day where off)')
  test('is told when the formula is defined, and refused when strict', () => {
    expect(() => book.apply(waited, { strict: true })).toThrow(/lies outside days on 1 row/)
    expect(book.apply(waited).findings.added.map(({ code }) => code)).toEqual(['outside-calendar'])
    expect(book.check().some(({ code }) => code === 'outside-calendar')).toBe(true)
  })
  test('is no more told of when the calendar is longer', () => {
    const { findings } = book.apply({ op: 'insert-rows', table: 'days', rows: [{ day: '2026-05-31', off: false }] })
    expect(findings.removed.map(({ code }) => code)).toEqual(['outside-calendar'])
  })
})

test.each([
  ['if_error(1 / kg, -1)', []],
  ['if_error(if_error(1 / kg, 0) + 1, -1)', []],
  ['if((1 / kg) is error, 0, kg)', []],
  ['if_error(sqrt(0 - kg), 1 / (kg - 3))', ['division-by-zero']],
  ['if_error(1 / kg, -1) + 1 / kg', ['division-by-zero']],
])('%s is warned of dividing by zero where nothing catches it', (formula, codes) => {
  const book = made()
  book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 2, column: 'kg', value: 0 }] })
  expect(book.apply(column('takes', 'x', formula)).findings.added.map(({ code }) => code)).toEqual(codes)
})

test.each([
  ['rank(kg order by kg desc)', 'rank(kg desc )', 'counts from the largest'],
  ['rank(kg order by kg)', 'rank(kg )', 'no effect'],
  ['rank(kg desc order by day)', 'rank(kg desc )', 'no effect'],
  ['dense_rank(kg by hive order by kg desc)', 'dense_rank(kg desc by hive )', 'no effect'],
])('%s is told to have an order without effect', (formula, mended, message) => {
  const [found] = made()
    .previewColumn('takes', { name: 'x', formula })
    .findings.filter(({ code }) => code === 'order-without-effect')
  expect(found?.message).toContain(message)
  const edits = [...(found?.fixes[0]?.edits ?? [])].sort((a, b) => b.from - a.from)
  const text = edits.reduce((before, { from, to, insert }) => before.slice(0, from) + insert + before.slice(to), formula)
  expect(text).toBe(mended)
})

describe('what is only shown otherwise', () => {
  const properties: [string, object][] = [
    ['unit', { unit: 'deg' }],
    ['display', { display: '#,##0.0' }],
    ['symbol', { symbol: 'k' }],
    ['note', { note: 'weighed' }],
    ['heading', { heading: 'Kilograms' }],
    ['decimals', { decimals: 1 }],
    ['hidden', { hidden: true }],
    ['choices', { choices: ['A', 'B'] }],
  ]
  test.each(properties)('%s recalculates nothing', (_, set) => {
    const book = made()
    book.apply([column('takes', 'half', 'sin(kg) / 2'), column('takes', 'share', 'kg per sum(kg)')])
    for (const table of [column('hives', 'all', 'sum(takes.kg)')]) book.apply(table)
    const { recalculated, changed } = book.apply({ op: 'change-column', table: 'takes', column: 'kg', set })
    expect([recalculated, changed]).toEqual([[], []])
  })

  test('a unit still changes what is said of an angle, both ways', () => {
    const book = made()
    book.apply(column('hives', 'part', 'sin(frames)'))
    const codes = (findings: readonly Finding[]): string[] => findings.map(({ code }) => code)
    expect(codes(book.check())).toContain('angle-beyond-turn')
    const unit = (text: string | null) =>
      book.apply({ op: 'change-column', table: 'hives', column: 'frames', set: { unit: text } })
    const { findings } = unit('deg')
    expect([codes(findings.added), codes(findings.removed)]).toEqual([['unlike-units'], ['angle-beyond-turn']])
    expect(codes(unit(null).findings.added)).toEqual(['angle-beyond-turn'])
    book.undo()
    expect(codes(book.check())).toContain('unlike-units')
  })

  test('a tag that no formula takes in recalculates nothing, one that does recalculates its readers', () => {
    const book = made()
    const tag = (table: string, name: string, tags: string[]) =>
      book.apply({ op: 'change-column', table, column: name, set: { tags } })
    tag('hives', 'frames', ['size'])
    book.apply(column('hives', 'sizes', 'sum_of(#size)'))
    expect(tag('hives', 'tag', ['name']).recalculated).toEqual([])
    expect(tag('hives', 'frames', ['other', 'size']).recalculated).toEqual([])
  })
})

describe('a table that has another name', () => {
  test('is found by what reads its rows without naming it', () => {
    const book = made()
    book.apply([
      column('takes', 'share', 'kg per sum(kg)'),
      column('takes', 'place', 'rank(kg)'),
      { op: 'set-tally', table: 'takes', name: 'total', formula: 'sum(kg)' },
      { op: 'set-rule', table: 'takes', name: 'light', condition: 'kg < max(kg) + 1' },
    ])
    book.apply({ op: 'rename-table', table: 'takes', to: 'harvests' })
    expect(book.why('harvests.share', 1).reads.map(({ rows }) => rows?.table)).toContain('harvests')
    expect(book.why('tally:harvests.total').reads[0]?.rows?.table).toBe('harvests')
    const edit: Operation = { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'kg', value: 4 }] }
    expect(book.preview(edit).columns.map(({ table }) => table)).toEqual(expect.arrayContaining(['harvests']))
    expect(book.apply(edit).recalculated.length).toBeGreaterThan(1)
    expect(book.check().every(({ table }) => table !== 'takes')).toBe(true)
    for (let steps = 0; steps < 2; steps++) book.undo()
    expect(book.why('takes.share', 1).reads.length).toBeGreaterThan(0)
  })

  test('and a column that has is named so in fixes and in findings that go', () => {
    const book = made()
    book.apply({ op: 'add-column', table: 'hives', column: { name: 'sign' } })
    book.apply({ op: 'set-cells', table: 'hives', cells: [1, 2].map((row) => ({ row, column: 'sign', value: String(row) })) })
    book.apply({ op: 'change-column', table: 'hives', column: 'sign', set: { choices: ['1'] } })
    book.apply({ op: 'add-column', table: 'hives', column: { name: 'more', formula: 'number(sign) + 1' } })
    book.apply({ op: 'rename-column', table: 'hives', column: 'sign', to: 'mark' })
    const texts = JSON.stringify([book.check(), book.table('hives').column('mark').findings()])
    expect(texts).not.toContain('sign')
    const { removed } = book.apply({
      op: 'set-cells',
      table: 'hives',
      cells: [1, 2].map((row) => ({ row, column: 'mark', value: 'x' })),
    }).findings
    expect(removed.map((one) => one.column)).toEqual(['mark'])
  })
})

test('undo of a pause on demand says where an error comes from, as far as it is known', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'kg', type: 'number' },
        { name: 'lot', type: 'number' },
      ],
    },
    { op: 'insert-rows', table: 'takes', rows: [{ kg: { misfit: 'some' }, lot: null }] },
    { op: 'add-column', table: 'takes', column: { name: 'middle', formula: 'percentile(kg, 0.3 by kg / lot)' } },
    { op: 'set-mode', mode: 'on-demand' },
  ])
  book.apply({ op: 'pause-column', table: 'takes', column: 'middle' })
  book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'middle', value: 0 }] })
  book.undo()
  book.undo()
  expect(book.findings().map(({ code }) => code)).toEqual(['misfits', 'calculated-errors'])
})
