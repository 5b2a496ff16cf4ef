import { describe, expect, test } from 'vitest'
import { applyEdits, type Finding, type GroupedView, type Operation, Workbook } from '../src/index.js'

/** Mistakes of summaries: what is told of groups besides mistakes of formulas. */

function plans(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'site', type: 'text' },
        { name: 'actual', type: 'number' },
        { name: 'plan', type: 'number' },
        { name: 'cost', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      block: {
        site: ['Müller', 'Müller ', 'müller', 'Huber', 'Huber', 'Müller'],
        actual: [3, 4, 5, null, 6, 1],
        plan: [2, null, 4, 3, 2, 1],
        cost: [null, null, null, 9, null, null],
      },
    },
    { op: 'add-column', table: 't', column: { name: 'rate', formula: 'actual / plan' } },
    { op: 'add-column', table: 't', column: { name: 'part', formula: 'share(actual)' } },
  ])
  return book
}

const view = (more: Partial<GroupedView>): GroupedView => ({ table: 't', levels: [{ key: 'site' }], ...more })
const tally = (formula: string): GroupedView => view({ levels: [{ key: 'plan' }], tallies: [{ name: 'x', formula }] })
const told = (given: GroupedView): string[] => findings(given).map(({ code, column, message }) => `${code} ${column}: ${message}`)
const findings = (given: GroupedView): Finding[] => plans().group(given).findings()

describe('totals of one formula', () => {
  test('over different rows are told with their number, and what gives both the same', () => {
    const found = findings(tally('sum(actual) - sum(plan)'))
    expect(found.map(({ message, rows, table, column }) => [message, rows, table, column])).toEqual([
      ['sum(actual) has 1 row that sum(plan) has not.', 1, 't', 'x'],
      ['sum(plan) has 1 row that sum(actual) has not.', 1, 't', 'x'],
    ])
    const formula = 'sum(actual) - sum(plan)'
    const edits = found.flatMap(({ fixes }) => fixes[0]?.edits ?? [])
    const mended = applyEdits(formula, edits)
    expect(mended).toBe('sum(actual where plan is not blank) - sum(plan where actual is not blank)')
    expect(told(tally(mended))).toEqual([])
  })

  test('of formulas are mended with those in parentheses', () => {
    const [found] = findings(tally('sum(actual) - sum(plan * 2)'))
    expect(found?.fixes[0]?.title).toBe('Write sum(actual where (plan * 2) is not blank)')
    expect(told(tally('sum(actual where (plan * 2) is not blank) - sum(plan * 2 where actual is not blank)'))).toEqual([])
  })

  test('are told for the rows that the condition keeps', () => {
    expect(told({ ...tally('mean(actual) per mean(plan)'), where: 'plan > 0' })).toEqual([
      'unequal-rows x: mean(plan) has 1 row that mean(actual) has not.',
    ])
    expect(told({ ...tally('mean(actual) per mean(plan)'), where: 'actual > 0 and plan > 0' })).toEqual([])
  })

  test.each([
    ['over the same rows', 'sum(actual) - sum(actual + 1)'],
    ['of the same values', 'sum(actual) / (sum(actual) + 1)'],
    ['that share no row', 'sum(actual) - sum(cost)'],
    ['of which one is for rows of its own', 'sum(actual where plan is not blank) - sum(plan)'],
    ['alone', 'sum(plan)'],
  ])('%s are let be', (_, formula) => {
    expect(told(tally(formula)).filter((one) => one.startsWith('unequal-rows x: sum(actual'))).toEqual([])
  })
})

describe('groups', () => {
  test('that look alike are told with the commoner of each pair, and can be written alike', () => {
    const book = plans()
    const [found] = book.group(view({})).findings()
    expect(found).toMatchObject({
      code: 'look-alike-groups',
      column: 'site',
      rows: 2,
      message: '"Müller " and "Müller" of site look alike, and are groups of their own. So does 1 other pair.',
    })
    expect(found?.fixes[0]?.title).toBe('Write 2 cells like the others')
    book.apply(found?.fixes[0]?.operations as Operation[])
    expect(book.group(view({})).findings()).toEqual([])
    expect(
      book
        .query({ table: 't', columns: ['site'] })
        .rows()
        .flat(),
    ).toEqual(['Müller', 'Müller', 'Müller', 'Huber', 'Huber', 'Müller'])
  })

  test('of several kinds are all written as the commonest', () => {
    const book = new Workbook({ now: 0 })
    const site = ['A', 'A ', 'a', 'a', 'a', ' a', 'B']
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'site', type: 'text' }] },
      { op: 'insert-rows', table: 't', block: { site } },
    ])
    const [found] = book.group(view({})).findings()
    book.apply(found?.fixes[0]?.operations as Operation[])
    expect(book.query({ table: 't' }).rows().flat()).toEqual(['a', 'a', 'a', 'a', 'a', 'a', 'B'])
  })

  test('of a formula have no fix; in different groups around them, and numbers, nothing is alike', () => {
    expect(findings(view({ levels: [{ name: 's', key: "site & ''" }] }))[0]).toMatchObject({ column: 's', fixes: [] })
    expect(told(view({ levels: [{ key: 'actual' }, { key: 'site' }] }))).toEqual([])
  })

  test('put together in one line are looked at too', () => {
    expect(told(view({ tallies: [{ name: 'n', formula: 'count()' }], top: [{ count: 1, by: 'n' }] }))).toHaveLength(1)
  })
})

test('a total of a ratio is told, with the ratio of totals', () => {
  const [found] = findings(tally('sum(rate)'))
  expect(found).toMatchObject({ code: 'total-of-ratio', column: 'x' })
  expect(applyEdits('sum(rate)', found?.fixes[0]?.edits ?? [])).toBe('sum(actual) per sum(plan)')
})

test('a column of rows that is read on groups is told, with the tally that would do', () => {
  const columns = [{ name: 'a', formula: 'actual' }]
  const lines = [{ name: 'part', formula: 'a per whole.a' }]
  expect(told(view({ levels: [{ key: 'plan' }], columns, lines }))).toEqual([
    'rows-on-groups part: part is blank on groups: it reads a, which only rows have; sum(actual) is a tally, which they have too.',
  ])
  const tallies = [{ name: 'actual', formula: 'sum(actual)' }]
  expect(
    told(view({ levels: [{ key: 'plan' }], tallies, lines: [{ name: 'part', formula: 'actual per whole.actual' }] })),
  ).toEqual([])
})

describe('a share of all rows', () => {
  const parts = (more: Partial<GroupedView>): GroupedView => view({ levels: [{ key: 'plan' }], ...more })
  test.each<[string, Partial<GroupedView>]>([
    ['added up', { tallies: [{ name: 'x', formula: 'sum(part)' }] }],
    ['on rows', { columns: [{ name: 'x', formula: 'part' }] }],
  ])('%s does not reach 100 %% where the condition leaves rows out', (_, more) => {
    expect(told(parts({ ...more, where: 'actual > 3' }))).toEqual([
      'partial-shares x: x is a share of all rows, and the condition leaves 3 rows out, so it does not reach 100 %; total per whole.total, with total = sum(actual), does.',
    ])
    expect(told(parts({ ...more, where: 'true' }))).toEqual([])
    expect(told(parts(more))).toEqual([])
  })
})

test('what is told of a report says so, and follows the data', () => {
  const book = plans()
  book.apply({ op: 'set-report', name: 'gaps', report: tally('sum(actual) - sum(plan)') })
  using report = book.report('gaps')
  expect(report.current.findings().map(({ report: of, rows }) => [of, rows])).toEqual([
    ['gaps', 1],
    ['gaps', 1],
  ])
  book.apply({
    op: 'set-cells',
    table: 't',
    cells: [
      { row: 2, column: 'plan', value: 1 },
      { row: 4, column: 'actual', value: 1 },
    ],
  })
  expect(report.current.findings()).toEqual([])
})
