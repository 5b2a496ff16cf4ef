import { describe, expect, test } from 'vitest'
import {
  type ChartData,
  type ChartDefinition,
  chartOfTexts,
  type GroupedView,
  type Operation,
  parseChart,
  Refusal,
  SlimWorkbook,
  traceMermaid,
  traceText,
  Workbook,
} from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** Charts: what is drawn of rows and groups, and how what is kept follows names. */

function harvests(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'day', type: 'date' },
        { name: 'hive', type: 'text' },
        { name: 'flow', type: 'text' },
        { name: 'first', type: 'integer' },
        { name: 'kg', type: 'number', unit: 'kg', symbol: 'm' },
        { name: 'plan', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'takes',
      block: {
        day: ['2026-06-03', '2026-06-01', null, '2026-06-02', '2026-06-04'],
        hive: ['A', 'B', 'A', 'B', 'A'],
        flow: ['lime', 'clover', 'lime', 'heather', 'clover'],
        first: [1, 2, 1, 3, 2],
        kg: [3, 4, 5, null, 7],
        plan: [1, 0, 2, 3, 4],
      },
    },
    { op: 'change-column', table: 'takes', column: 'flow', set: { orderKey: 'first' } },
    { op: 'set-report', name: 'by_flow', report: BY_FLOW },
  ])
  return book
}

const BY_FLOW: GroupedView = {
  table: 'takes',
  levels: [{ key: 'flow' }, { key: 'hive' }],
  tallies: [
    { name: 'kg', formula: 'sum(kg)' },
    { name: 'rate', formula: 'sum(kg) / sum(plan)' },
  ],
  lines: [
    { name: 'all', formula: 'whole.kg' },
    { name: 'part', formula: 'kg per whole.kg' },
  ],
}

const BY_DAY: ChartDefinition = { table: 'takes', x: 'day', series: [{ formula: 'kg', kind: 'line' }] }
const BY_GROUP: ChartDefinition = { report: 'by_flow', level: 'flow', series: [{ formula: 'kg', kind: 'bar' }] }

/** The points of a chart, as they are drawn: by series pairs of x and value. */
function points({ x, series }: ChartData): Record<string, [unknown, unknown][]> {
  return Object.fromEntries(
    series.map(({ name, column, slots }) => [
      name,
      Array.from(slots, (slot, place): [unknown, unknown] => {
        const along = x.categories === null ? x.column.storage?.read(slot) : x.categories[x.places[place] as number]
        const value = column.storage?.read(slot) ?? null
        return [along, typeof value === 'object' && value !== null ? String(value) : value]
      }),
    ]),
  )
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

describe('rows', () => {
  test('stand along x in its order; those without x are counted, and gaps are', () => {
    const data = harvests().chart(BY_DAY)
    const day = (of: number): number => Date.UTC(2026, 5, of) / 86_400_000
    expect(points(data)).toEqual({
      kg: [
        [day(1), 4],
        [day(2), null],
        [day(3), 3],
        [day(4), 7],
      ],
    })
    expect(data.leftOut).toEqual({ blanks: 1, errors: 0, others: 0 })
    expect(data.series[0]).toMatchObject({ blanks: 1, errors: 0, axis: 'left', color: null })
    expect(data).toMatchObject({ rowCount: 5, keptCount: 5 })
  })

  test('may be formulas, with a condition; errors are gaps', () => {
    const data = harvests().chart({
      table: 'takes',
      where: "hive = 'A' or hive = 'B'",
      x: 'plan * 2',
      series: [{ name: 'rate', formula: 'kg / plan', kind: 'point', axis: 'right', color: '#102030' }],
    })
    expect(points(data).rate).toEqual([
      [0, '!division-by-zero'],
      [2, 3],
      [4, 2.5],
      [6, null],
      [8, 1.75],
    ])
    expect(data.series[0]).toMatchObject({ blanks: 1, errors: 1, axis: 'right', color: '#102030' })
  })

  test('texts stand in the order of their order key, or of a series', () => {
    const book = harvests()
    const flows = (order?: ChartDefinition['order']): unknown =>
      book.chart({ table: 'takes', x: 'flow', series: [{ formula: 'plan', kind: 'bar' }], ...(order && { order }) }).x.categories
    expect(flows()).toEqual(['lime', 'clover', 'heather'])
    expect(flows({ by: 'x', descending: true })).toEqual(['heather', 'clover', 'lime'])
    expect(flows({ by: 'plan', descending: true })).toEqual(['clover', 'heather', 'lime'])
  })

  test('a fit goes through a series', () => {
    const data = harvests().chart({ ...BY_DAY, fit: { series: 'kg', degree: 1, residuals: true } })
    expect(data.fit).toMatchObject({ series: 'kg', residuals: true, curve: { degree: 1, rowCount: 3, start: '2026-06-01' } })
  })

  test('more texts than can stand side by side are refused with their number', () => {
    const book = new Workbook({ now: 0 })
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'code', type: 'text' }] },
      { op: 'insert-rows', table: 't', block: { code: Array.from({ length: 300 }, (_, at) => `c${at}`) } },
    ])
    expect(refused(() => book.chart({ table: 't', x: 'code', series: [{ formula: '1', kind: 'bar' }] }))).toMatch(
      /code has 300 different values, and at most 200 stand side by side/,
    )
  })
})

describe('groups', () => {
  test('of one level stand in the order of the report', () => {
    expect(points(harvests().chart(BY_GROUP))).toEqual({
      kg: [
        ['lime', 8],
        ['clover', 11],
        ['heather', null],
      ],
    })
  })

  test('below the outermost level are named with the groups around them', () => {
    const data = harvests().chart({ report: 'by_flow', series: [{ formula: 'rate', kind: 'bar' }] })
    expect(points(data).rate).toEqual([
      ['lime · A', 8 / 3],
      ['clover · A', 1.75],
      ['clover · B', '!division-by-zero'],
      ['heather · B', null],
    ])
  })

  test('along dates the groups around them are series', () => {
    const book = harvests()
    const levels = [{ key: 'hive' }, { key: 'day' }]
    book.apply({ op: 'set-report', name: 'by_hive', report: { ...BY_FLOW, levels } })
    const data = book.chart({ report: 'by_hive', series: [{ formula: 'kg', kind: 'line' }] })
    expect(Object.entries(points(data)).map(([name, list]) => [name, list.map(([, value]) => value)])).toEqual([
      ['A', [3, 7]],
      ['B', [4, null]],
    ])
    expect(data.leftOut).toEqual({ blanks: 1, errors: 0, others: 0 })
  })

  test('a tally that goes across is a series a value; its total only when it is asked for', () => {
    const book = harvests()
    book.apply({ op: 'set-report', name: 'across', report: { ...BY_FLOW, levels: [{ key: 'flow' }], across: { key: 'hive' } } })
    const chart: ChartDefinition = { report: 'across', series: [{ formula: 'kg', kind: 'bar' }] }
    expect(Object.keys(points(book.chart(chart)))).toEqual(['A', 'B'])
    const withTotal = points(book.chart({ ...chart, total: true }))
    expect(Object.keys(withTotal)).toEqual(['A', 'B', 'kg'])
    expect(withTotal.kg?.at(-1)).toEqual(['whole', 19])
    const two: ChartDefinition = { ...chart, series: [...chart.series, { formula: 'rate', kind: 'line', axis: 'right' }] }
    expect(Object.keys(points(book.chart(two)))).toEqual(['A kg', 'B kg', 'A rate', 'B rate'])
  })

  test('what is put together, blank or an error has its line too', () => {
    const book = harvests()
    const view: GroupedView = { ...BY_FLOW, levels: [{ key: 'flow' }], top: [{ count: 1, by: 'kg' }] }
    book.apply([
      { op: 'set-report', name: 'top', report: view },
      { op: 'set-report', name: 'days', report: { ...view, levels: [{ key: 'day' }] } },
    ])
    const top = book.chart({ report: 'top', series: [{ formula: 'kg', kind: 'bar' }] })
    expect(points(top).kg).toEqual([
      ['clover', 11],
      ['(others: 2 groups)', 8],
    ])
    expect(book.chart({ report: 'days', series: [{ formula: 'kg', kind: 'line' }] }).leftOut.others).toBe(1)
  })

  test('are drawn alone and with those around them, whatever else the report shows', () => {
    const book = harvests()
    const columns = [{ name: 'row', formula: 'plan' }]
    book.apply({ op: 'set-report', name: 'rows', report: { ...BY_FLOW, columns, flat: true } })
    const chart = (more: Partial<ChartDefinition>): unknown =>
      book.chart({ report: 'rows', series: [{ formula: 'kg', kind: 'bar' }], ...more }).x.categories
    expect(chart({})).toEqual(['lime · A', 'clover · A', 'clover · B', 'heather · B'])
    expect(chart({ level: 'flow', total: true, order: { by: 'x', descending: true } })).toEqual([
      'heather',
      'clover',
      'lime',
      'whole',
    ])
  })

  test('take their parameters when they are drawn', () => {
    const book = harvests()
    const parameters: GroupedView['parameters'] = [{ name: 'least', type: 'number' }]
    book.apply([
      { op: 'set-report', name: 'by_flow', report: { ...BY_FLOW, parameters, where: 'kg >= least' } },
      { op: 'set-chart', name: 'c', chart: BY_GROUP },
    ])
    expect(refused(() => book.chart(BY_GROUP))).toContain('The parameter least: it has no value.')
    expect(points(book.chart(BY_GROUP, { parameters: { least: 5 } })).kg).toEqual([
      ['lime', 5],
      ['clover', 7],
    ])
  })
})

describe('refusals', () => {
  const series = (formula: string, more = {}): ChartDefinition['series'] => [{ formula, kind: 'bar', ...more }]
  test.each<[string, ChartDefinition, string]>([
    ['neither a table nor a report', { series: series('kg') }, 'it draws a table or a report, one of the two'],
    ['both', { table: 'takes', report: 'by_flow', series: series('kg') }, 'one of the two'],
    ['no series', { table: 'takes', x: 'day', series: [] }, 'expected at least one series'],
    ['no x for rows', { table: 'takes', series: series('kg') }, 'says what runs along'],
    ['an unknown column', { table: 'takes', x: 'day', series: series('kgs') }, 'unknown-name'],
    ['a text', { table: 'takes', x: 'day', series: series('hive') }, 'type-mismatch: The series hive'],
    [
      'a colour that is none',
      { table: 'takes', x: 'day', series: series('kg', { color: 'red' }) },
      'expected a colour like #0a6470',
    ],
    ['two of one name', { table: 'takes', x: 'day', series: [...series('kg'), ...series('KG')] }, 'two series are called KG'],
    ['an unknown order', { ...BY_DAY, order: { by: 'kgs' } }, 'no series called kgs. Nearest name: kg.'],
    ['an unknown series of a fit', { ...BY_DAY, fit: { series: 'plan' } }, 'no series called plan'],
    ['an unknown report', { report: 'by_flwo', series: series('kg') }, 'no report called by_flwo. Nearest name: by_flow.'],
    ['an unknown level', { ...BY_GROUP, level: 'site' }, 'no level site; its levels: flow, hive'],
    ['an unknown column of a report', { ...BY_GROUP, series: series('weight') }, 'unknown-column'],
    ['a condition on groups', { ...BY_GROUP, where: 'kg > 1' }, 'the condition of a report is its own'],
    ['a fit of groups', { ...BY_GROUP, fit: { series: 'kg' } }, 'a curve goes through the rows of a table'],
    ['a level of rows', { ...BY_DAY, level: 'flow' }, 'only a report has levels'],
    ['a field that there is not', { ...BY_DAY, colour: 'x' } as unknown as ChartDefinition, 'colour'],
  ])('%s', (_, definition, message) => {
    const book = harvests()
    expect(refused(() => book.chart(definition))).toContain(message)
    expect(refused(() => book.apply({ op: 'set-chart', name: 'c', chart: definition } as Operation))).toContain(message)
    expect(book.charts).toEqual([])
  })

  test.each<[string, ChartDefinition]>([
    ['the whole of a report', { ...BY_GROUP, series: [...series('kg'), ...series('all')] }],
    ['the sum of the table', { table: 'takes', x: 'day', series: [...series('kg'), ...series('sum(kg)')] }],
    ['a tally of the table', { table: 'takes', x: 'day', series: [...series('kg'), ...series('all_kg')] }],
  ])('%s beside its parts, as bars on one axis', (_, definition) => {
    const book = harvests()
    book.apply({ op: 'set-tally', table: 'takes', name: 'all_kg', formula: 'sum(kg)' })
    expect(refused(() => book.chart(definition))).toContain('total-beside-parts')
    const [parts, total] = definition.series
    expect(refused(() => book.chart({ ...definition, total: true }))).toBe('not refused')
    expect(refused(() => book.chart({ ...definition, series: [parts!, { ...total!, axis: 'right' }] }))).toBe('not refused')
    expect(refused(() => book.chart({ ...definition, series: [parts!, { ...total!, kind: 'line' }] }))).toBe('not refused')
  })

  test('a share of the whole is no total', () => {
    expect(refused(() => harvests().chart({ ...BY_GROUP, series: [...series('kg'), ...series('part')] }))).toBe('not refused')
  })
})

describe('what is kept', () => {
  const kept = (): Workbook => {
    const book = harvests()
    book.apply([
      {
        op: 'set-chart',
        name: 'days',
        chart: {
          table: 'takes',
          where: 'kg > 0',
          x: 'day',
          series: [
            { formula: 'kg', kind: 'line' },
            { name: 'planned', formula: 'plan * 2', kind: 'point' },
          ],
          order: { by: 'kg' },
          fit: { series: 'kg' },
        },
      },
      { op: 'set-chart', name: 'flows', chart: { ...BY_GROUP, order: { by: 'kg', descending: true } } },
    ])
    return book
  }

  test('follows the renaming of columns and tables', () => {
    const book = kept()
    book.apply([
      { op: 'rename-column', table: 'takes', column: 'kg', to: 'honey kg' },
      { op: 'rename-column', table: 'takes', column: 'day', to: 'taken' },
      { op: 'rename-column', table: 'takes', column: 'flow', to: 'forage' },
      { op: 'rename-table', table: 'takes', to: 'harvests' },
    ])
    expect(book.chartDefinition('days')).toEqual({
      table: 'harvests',
      where: '`honey kg` > 0',
      x: 'taken',
      series: [
        { formula: '`honey kg`', kind: 'line' },
        { name: 'planned', formula: 'plan * 2', kind: 'point' },
      ],
      order: { by: 'honey kg' },
      fit: { series: 'honey kg' },
    })
    expect(book.chartDefinition('flows')).toEqual({
      report: 'by_flow',
      level: 'forage',
      series: [{ formula: 'honey kg', kind: 'bar' }],
      order: { by: 'honey kg', descending: true },
    })
    expect(refused(() => [book.chart(book.chartDefinition('days')), book.chart(book.chartDefinition('flows'))])).toBe(
      'not refused',
    )
  })

  test('is told of where its columns are traced, with the reports it draws', () => {
    const trace = kept().trace('takes.kg')
    expect(trace.shownIn).toEqual([
      { from: 'takes.kg', view: 'report:by_flow' },
      { from: 'report:by_flow', view: 'chart:flows' },
      { from: 'takes.kg', view: 'chart:days' },
    ])
    expect(traceText(trace)).toContain(
      'is shown in\n  report:by_flow  (reads it)\n  chart:flows  (by report:by_flow)\n  chart:days  (reads it)',
    )
    expect(traceMermaid(trace)).toMatch(/-->\|"shown"\| c\d/)
    const book = kept()
    book.apply({ op: 'add-column', table: 'takes', column: { name: 'half', formula: 'plan / 2' } })
    expect(book.trace('takes.first').shownIn).toEqual([])
  })

  test('what it draws cannot be removed before it', () => {
    const book = kept()
    book.apply({ op: 'set-chart', name: 'flows', chart: BY_GROUP })
    expect(refused(() => book.apply({ op: 'remove-column', table: 'takes', column: 'plan' }))).toContain('used by')
    expect(refused(() => book.apply({ op: 'remove-column', table: 'takes', column: 'day' }))).toContain(
      'day is used by chart days',
    )
    expect(refused(() => book.apply({ op: 'remove-report', name: 'by_flow' }))).toBe(
      'report-in-use: by_flow is used by chart flows, so it cannot be removed.',
    )
    expect(refused(() => book.apply({ op: 'remove-table', table: 'takes' }))).toContain('chart days')
    expect(
      refused(() => book.apply({ op: 'set-report', name: 'by_flow', report: { table: 'takes', levels: [{ key: 'hive' }] } })),
    ).toContain('no level flow')
    book.apply([
      { op: 'remove-chart', name: 'flows' },
      { op: 'remove-report', name: 'by_flow' },
    ])
    expect([book.charts, book.reports]).toEqual([['days'], []])
  })

  test('a refusal says which chart and which of its parts', () => {
    const book = kept()
    try {
      book.apply({ op: 'set-chart', name: 'new', chart: { ...BY_DAY, series: [{ name: 'a', formula: 'kgs', kind: 'bar' }] } })
      expect.unreachable()
    } catch (error) {
      expect((error as Refusal).findings[0]).toMatchObject({ chart: 'new', column: 'a', code: 'unknown-name' })
    }
  })

  test('is undone and redone in its place, and goes through a file', () => {
    const book = kept()
    const state = (of: Workbook): unknown => of.charts.map((name) => [name, of.chartDefinition(name)])
    const before = state(book)
    book.apply({ op: 'remove-chart', name: 'days' })
    book.undo()
    expect(state(book)).toEqual(before)
    book.apply({ op: 'set-chart', name: 'Days', chart: BY_DAY })
    expect(book.charts).toEqual(['days', 'flows'])
    book.undo()
    expect(state(book)).toEqual(before)
    const stored = new StoredBook()
    stored.save(book)
    expect(state(stored.open(book.steps))).toEqual(before)
  })

  test('a program that only calculates carries it unread', () => {
    const stored = new StoredBook()
    stored.save(kept())
    const slim = SlimWorkbook.open(stored.snapshot, stored.cells)
    expect(slim.snapshot().snapshot.charts).toHaveLength(2)
    slim.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 9 }] })
    expect(refused(() => slim.apply({ op: 'rename-column', table: 'takes', column: 'kg', to: 'honey' }))).toContain(
      'use Workbook',
    )
  })
})

describe('what is typed', () => {
  test.each([
    [
      'x: day, line: a, b, right: b, title: Takes',
      {
        x: 'day',
        series: [
          { formula: 'a', kind: 'line' },
          { formula: 'b', kind: 'line', axis: 'right' },
        ],
        title: 'Takes',
      },
    ],
    [
      "x: start_of(day, 'month'), bar: all = if(a > b, a, b), fit: all: -4.9, 0, 1.8, order: all desc",
      {
        x: "start_of(day, 'month')",
        series: [{ name: 'all', formula: 'if(a > b, a, b)', kind: 'bar' }],
        order: { by: 'all', descending: true },
        fit: { series: 'all', coefficients: [-4.9, 0, 1.8] },
      },
    ],
    [
      'area: a, right: speed = d per t',
      {
        series: [
          { formula: 'a', kind: 'area' },
          { name: 'speed', formula: 'd per t', kind: 'line', axis: 'right' },
        ],
      },
    ],
    ['point: h, fit: h', { series: [{ formula: 'h', kind: 'point' }], fit: { series: 'h', degree: 1 } }],
  ])('%s', (text, expected) => {
    expect(chartOfTexts(parseChart(text))).toEqual(expected)
  })

  test.each([
    ['day, kg', 'expected parts like'],
    ['x: day', 'nothing is drawn'],
    ['line: a,, b', 'expected names or formulas'],
    ['line: a, fit: a: two', 'expected a fit like'],
  ])('%s is not understood', (text, message) => {
    expect(refused(() => chartOfTexts(parseChart(text)))).toContain(message)
  })

  test('colours and residuals go with what they are of', () => {
    expect(chartOfTexts({ line: ['a'], colors: ['a: #102030'] }).series).toEqual([
      { formula: 'a', kind: 'line', color: '#102030' },
    ])
    expect(refused(() => chartOfTexts({ line: ['a'], colors: ['b: #102030'] }))).toContain('no series')
    expect(refused(() => chartOfTexts({ line: ['a'], colors: ['a: red'] }))).toContain('expected a colour')
    expect(refused(() => chartOfTexts({ line: ['a'], residuals: true }))).toContain('there is no fit')
  })
})
