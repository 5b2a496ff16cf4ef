import { describe, expect, test } from 'vitest'
import { CellFault, type Derivation, derivationText, Refusal, traceMermaid, traceText, Workbook } from '../src/index.js'

/** Where a value comes from, and what leads where. */

function book(): Workbook {
  const made = new Workbook({ now: Date.parse('2026-05-10T00:00:00Z') })
  made.apply([
    {
      op: 'add-table',
      table: 'yards',
      columns: [
        { name: 'code', type: 'text' },
        { name: 'rate', type: 'number' },
        { name: 'kg', formula: 'sum(harvests.kg via hive.yard)' },
      ],
    },
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'yard', type: 'text' },
        { name: 'boxes', type: 'number' },
        { name: 'below', formula: 'count(below above)' },
        { name: 'up', type: 'text' },
      ],
    },
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'day', type: 'date' },
        { name: 'kg', type: 'number' },
        {
          name: 'pay',
          formula:
            'let net = kg * 0.5 in case when hive.boxes > 2 then net * hive.yard.rate when kg is blank then blank else net / book.size end',
        },
        { name: 'share', formula: 'kg per sum(kg by hive)' },
        { name: 'before', formula: 'count(every harvests where day < this.day and kg > 1)' },
        { name: 'same', formula: 'max(every harvests.kg where hive = this.hive)' },
        { name: 'odd', formula: 'count(every hives where boxes <> this.kg)' },
        { name: 'run', formula: 'cumulative_sum(kg by hive order by day)' },
        { name: 'last_kg', formula: 'lag(kg)' },
        { name: 'stock', formula: '(lag(stock) ?? 0) + kg' },
        { name: 'of_all', formula: 'kg per harvests.total' },
        { name: 'days', formula: 'workdays_between(day, @2026-05-20, every harvests.day where kg > 5)' },
        { name: 'safe', formula: "if_error(1 / (kg - 4), coalesce(last_kg, -1)) & ' kg'" },
      ],
    },
    { op: 'add-link', table: 'hives', columns: ['yard'], to: 'yards', keys: ['code'] },
    { op: 'add-link', table: 'hives', columns: ['up'], to: 'hives', keys: ['tag'], name: 'above' },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    { op: 'set-value', name: 'size', value: 0.5 },
    { op: 'set-tally', table: 'harvests', name: 'total', formula: 'sum(kg)' },
    {
      op: 'insert-rows',
      table: 'yards',
      rows: [
        { code: 'N', rate: 2 },
        { code: 'S', rate: 3 },
      ],
    },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'A', yard: 'N', boxes: 3 },
        { tag: 'B', yard: 'S', boxes: 1, up: 'A' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'A', day: '2026-05-01', kg: 4 },
        { hive: 'B', day: '2026-05-02', kg: 5 },
        { hive: 'A', day: '2026-05-03', kg: 6 },
        { hive: 'C', day: '2026-05-09' },
      ],
    },
  ])
  return made
}

describe('why', () => {
  const reads = ({ reads: all }: Derivation): unknown[] => all.map(({ text, value }) => [text, value])

  test('puts the values in, tells steps and the branch taken, and leaves out what was not read', () => {
    const derived = book().why('harvests.pay', 1)
    expect(derived).toMatchObject({ column: 'harvests.pay', row: 1, rowNumber: 1, value: 4, isStale: false })
    expect(derived.withValues).toBe(
      'let net = 4 * 0.5 in case when 3 > 2 then net * 2 when kg is blank then blank else net / book.size end',
    )
    expect(derived.steps).toEqual([{ name: 'net', text: 'kg * 0.5', value: 2 }])
    expect(derived.branches).toEqual([{ text: 'hive.boxes > 2', value: true }])
    expect(reads(derived)).toEqual([
      ['kg', 4],
      ['hive.boxes', 3],
      ['hive.yard.rate', 2],
    ])
    expect(derived.reads[2]?.cell).toMatchObject({ column: 'yards.rate', row: 1, value: 2, formula: null })
  })

  test.each([
    [2, 'else', 5],
    [4, 'kg is blank', null],
  ])('row %i takes the branch %s', (row, branch, value) => {
    const derived = book().why('harvests.pay', row)
    expect(derived.branches).toEqual([{ text: branch, value: true }])
    expect(derived.value).toBe(value)
  })

  test.each([
    ['yards.kg', 1, 'harvests', [1, 3], 2],
    ['harvests.share', 3, 'harvests', [1, 3], 2],
    ['harvests.before', 3, 'harvests', [1, 2], 2],
    ['harvests.same', 1, 'harvests', [1, 3], 2],
    ['harvests.odd', 2, 'hives', [1, 2], 2],
    ['hives.below', 1, 'hives', [2], 1],
    ['tally:harvests.total', undefined, 'harvests', [1, 2, 3, 4], 4],
  ])('%s lists the rows it took in', (address, row, table, ids, count) => {
    const derived = book().why(address, row)
    const used = derived.reads.find((one) => one.rows !== undefined)?.rows
    expect(used).toMatchObject({ table, count })
    expect(used?.first.map((one) => one.row)).toEqual(ids)
  })

  test('lists only the first few of many rows, in row order', () => {
    const made = book()
    made.apply({
      op: 'insert-rows',
      table: 'harvests',
      rows: Array.from({ length: 20 }, () => ({ hive: 'A', kg: 1 })),
      before: 1,
    })
    const used = made.why('harvests.share', 1).reads[1]?.rows
    expect(used?.count).toBe(22)
    expect(used?.first.map((one) => one.rowNumber)).toEqual([1, 2, 3, 4, 5])
    expect(derivationText(made.why('harvests.share', 1))).toContain('… 17 more')
  })

  test('goes back over calculated columns, tallies and values to what was typed', () => {
    const text = derivationText(book().why('harvests.of_all', 2)).split('\n')
    expect(text).toEqual([
      'harvests.of_all, row 2: 0.333333333333333 = kg per harvests.total',
      '  = 5 per 15',
      '  harvests.kg, row 2: 5',
      '  tally:harvests.total: 15 = sum(kg)',
      '    = 15',
      '    sum(kg): 15',
      '      over 4 rows of harvests',
      '      row 1: kg 4',
      '      row 2: kg 5',
      '      row 3: kg 6',
      '      row 4: kg (blank)',
    ])
    expect(book().why('value:size')).toMatchObject({ value: 0.5, formula: null, row: null })
  })

  test('tells errors that were caught, operands that were not needed, texts and dates as a formula writes them', () => {
    const caught = book().why('harvests.safe', 1)
    expect(caught.withValues).toBe("if_error(1 / (4 - 4), coalesce(blank, -1)) & ' kg'")
    expect(book().why('harvests.safe', 2).withValues).toBe("if_error(1 / (5 - 4), coalesce(last_kg, -1)) & ' kg'")
    expect(book().why('harvests.days', 1).withValues).toMatch(/^workdays_between\(@2026-05-01, @2026-05-20/)
    const made = book()
    made.apply({ op: 'add-column', table: 'harvests', column: { name: 'bad', formula: "if(1 / (kg - 4) > 0, hive & 'x', '')" } })
    const failed = made.why('harvests.bad', 1)
    expect(failed.branches).toEqual([{ text: '1 / (kg - 4) > 0', value: new CellFault('division-by-zero') }])
    expect(made.why('harvests.bad', 2).withValues).toBe("if(1 / (5 - 4) > 0, 'B' & 'x', '')")
  })

  test('marks what is not of now', () => {
    const made = book()
    made.apply({ op: 'set-mode', mode: 'on-demand' })
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'kg', value: 8 }] })
    expect(made.why('harvests.pay', 1).isStale).toBe(true)
    expect(made.why('harvests.pay', 2).isStale).toBe(false)
    expect(derivationText(made.why('harvests.pay', 1))).toContain('(not up to date)')
    made.apply({ op: 'pause-column', table: 'harvests', column: 'share' })
    expect(made.why('harvests.share', 1)).toMatchObject({ isStale: true, formula: 'kg per sum(kg by hive)', reads: [] })
  })

  test('a long chain is told as far as can be read', () => {
    const made = new Workbook()
    const columns = Array.from({ length: 300 }, (_, index) => ({
      name: `c${index}`,
      formula: index === 0 ? 'x' : `c${index - 1} + 1`,
    }))
    made.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'x', type: 'number' }, ...columns] },
      { op: 'insert-rows', table: 't', rows: [{ x: 1 }] },
    ])
    expect(derivationText(made.why('t.c299', 1))).toContain('(not followed further)')
  })

  test.each([
    ['harvests.pay', 9],
    ['harvests.pay', undefined],
    ['harvests.none', 1],
    ['value:none', undefined],
  ])('refuses %s, row %s', (address, row) => expect(() => book().why(address, row)).toThrow(Refusal))

  test('leaves nothing behind', () => {
    const made = book()
    const before = JSON.stringify(made.table('harvests').columns.map((one) => one.values()))
    for (const address of ['harvests.pay', 'harvests.before', 'harvests.odd', 'harvests.stock']) made.why(address, 2)
    expect(JSON.stringify(made.table('harvests').columns.map((one) => one.values()))).toBe(before)
    const change = made.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'boxes', value: 5 }] })
    expect(change.recalculated.map((one) => one.column).sort()).toEqual(['odd', 'pay'])
  })
})

describe('trace', () => {
  const planOf = (address: string): (string | null)[] => [
    ...new Set(
      book()
        .trace(address)
        .upstream.filter((one) => one.depth === 1)
        .map((one) => one.plan),
    ),
  ]

  test.each([
    ['yards.kg', 'one result a linked row, kept up to date row by row'],
    ['harvests.share', 'one result a group, kept up to date row by row'],
    ['harvests.before', 'a sorted index, counted between two places'],
    ['harvests.same', 'one result for each key that occurs, found by equality, kept up to date row by row'],
    ['harvests.odd', 'for each row, every row of the table one after the other'],
    ['hives.below', 'for each row, the rows below one after the other'],
    ['harvests.run', 'its group in its order, computed again as a whole'],
    ['harvests.last_kg', 'the row order, at most 1 rows away'],
    ['harvests.stock', 'row by row, from the first row touched'],
    ['tally:harvests.total', 'one result for the whole table, kept up to date row by row'],
    ['harvests.days', 'a list of days, read once'],
  ])('%s: %s', (address, plan) => expect(planOf(address)).toContain(plan))

  test('follows a column both ways, over links, groups, tallies and values, with the distance', () => {
    const { upstream, downstream, formula } = book().trace('harvests.kg')
    expect(formula).toBeNull()
    expect(upstream).toEqual([])
    expect(downstream.filter((one) => one.to === 'harvests.of_all').map((one) => [one.from, one.kind, one.depth])).toEqual([
      ['harvests.kg', 'same row', 1],
      ['tally:harvests.total', 'tally', 2],
    ])
    expect(downstream.find((one) => one.to === 'yards.kg')).toMatchObject({ kind: 'linked rows', role: 'value' })
    expect(downstream.find((one) => one.to === 'harvests.odd')).toMatchObject({ kind: 'same row', role: 'compared with' })
  })

  test('says why each edge exists', () => {
    const edges = book()
      .trace('harvests.pay')
      .upstream.filter((one) => one.depth === 1)
    expect(edges.map(({ from, kind, role, text }) => [from, kind, role, text])).toEqual([
      ['harvests.kg', 'same row', 'value', 'kg'],
      ['harvests.hive', 'link', 'link key', 'hive.boxes'],
      ['hives.tag', 'link', 'link key', 'hive.boxes'],
      ['hives.boxes', 'link', 'value', 'hive.boxes'],
      ['hives.yard', 'link', 'link key', 'hive.yard.rate'],
      ['yards.code', 'link', 'link key', 'hive.yard.rate'],
      ['harvests.hive', 'link', 'link key', 'hive.yard.rate'],
      ['hives.tag', 'link', 'link key', 'hive.yard.rate'],
      ['yards.rate', 'link', 'value', 'hive.yard.rate'],
      ['value:size', 'named value', 'value', 'book.size'],
    ])
  })

  test('is told as text and as a flowchart', () => {
    const trace = book().trace('harvests.of_all')
    expect(traceText(trace).split('\n')).toEqual([
      'harvests.of_all = kg per harvests.total',
      'is made from',
      '  harvests.kg  (same row)',
      '  tally:harvests.total  (tally in harvests.total) — one value for all rows',
      '    harvests.kg → tally:harvests.total  (all rows in sum(kg)) — one result for the whole table, kept up to date row by row',
      'leads to',
      '  nothing yet',
    ])
    expect(traceMermaid(trace).split('\n')).toEqual([
      'flowchart LR',
      '  c0["harvests.of_all"]',
      '  c1["harvests.kg"]',
      '  c2["tally:harvests.total"]',
      '  c1 -->|"same row"| c0',
      '  c2 -->|"tally"| c0',
      '  c1 -->|"all rows"| c2',
    ])
    expect(traceText(book().trace('hives.tag'))).toContain('hives.tag, a source\nis made from\n  nothing')
  })

  test('a star and a chain of thousands are followed in no time to speak of', () => {
    const made = new Workbook()
    const columns = Array.from({ length: 2000 }, (_, index) => ({
      name: `c${index}`,
      formula: index === 0 ? 'x' : `c${index - 1} + x`,
    }))
    made.apply({ op: 'add-table', table: 't', columns: [{ name: 'x', type: 'number' }, ...columns] })
    expect(made.trace('t.x').downstream).toHaveLength(2000 + 1999)
    expect(made.trace('t.c1999').upstream).toHaveLength(2000 + 1999)
  })
})

test('explain tells a formula, or that of a column', () => {
  expect(book().explain('harvests', 'of_all').lines).toEqual(book().explain('harvests', 'kg per harvests.total').lines)
})
