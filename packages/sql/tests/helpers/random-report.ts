import fc from 'fast-check'
import type { OperationJson, Workbook } from 'mellow-abacus'
import type { TableName } from '../../../core/tests/helpers/random-models.js'
import type { TestEngine } from './engines.js'
import { type Difference, isSame, shown } from './published.js'

/** A report of a random model: the operations that set it. */
export type RandomReport = readonly OperationJson[]

const KEYS: Record<TableName, readonly string[]> = {
  yards: ['north', 'code', 'area', '1 / area'],
  hives: ['yard', 'site.area', 'above.tag', 'tag', 'since', '10 / frames', 'site.north'],
  takes: ['hive', 'grade', 'lot', 'day', 'kg / lot', 'hive.yard', 'hive.site.area', "start_of(day, 'month')", 'kg > 1'],
}
const NUMBERS: Record<TableName, readonly string[]> = {
  yards: ['area', '1 / area'],
  hives: ['frames', 'site.area', '10 / frames', 'count(takes)'],
  takes: ['kg', 'lot', 'kg / lot', 'hive.frames', 'kg + lot', '(lag(kg) ?? 0)'],
}
const CONDITIONS: Record<TableName, readonly string[]> = {
  yards: ['north', 'area > 1', '1 / area > 0'],
  hives: ['frames > 1', 'site.north', '10 / frames > 2', 'above is blank'],
  takes: ['kg > 1', 'grade = "a"', 'kg / lot < 3', 'hive.frames > 2', 'not (kg > 2)'],
}
/** What an order may go by: no engine gives other bits of these. */
const EXACT = ['count()', 'min(X)', 'max(X)', 'count(X where C)', 'max(X where C)']
const OTHERS = ['sum(X)', 'mean(X)', 'sum(X where C)', 'median(X)', 'count_distinct(X)', 'sum(X) per count(X)', 'any(C)']
const LINES = [
  'total per parent.total',
  'total per whole.total',
  'total - previous.total',
  'next.total ?? -1',
  '(previous.NAME ?? 0) + (total ?? 0)',
  'count() per whole.count()',
  'parent.parent.total',
  'parent.previous.total',
  'whole.total - parent.total',
  'total * price',
  'if_error(total, 0) + count()',
  'case when previous.total < total then "up" when next.total is blank then "last" end',
  'k0',
  'parent.k0',
]

const pick = (items: readonly string[]): fc.Arbitrary<string> => fc.constantFrom(...items)
const maybe = <One>(one: fc.Arbitrary<One>): fc.Arbitrary<One | undefined> => fc.option(one, { nil: undefined })

/** A report over a table of a random model; it is called `r`. */
export const randomReport: fc.Arbitrary<RandomReport> = fc
  .constantFrom<TableName>('takes', 'takes', 'takes', 'hives', 'yards')
  .chain((table) => {
    const filled = (formula: string): fc.Arbitrary<string> =>
      fc
        .tuple(pick(NUMBERS[table]), pick(CONDITIONS[table]))
        .map(([number, condition]) => formula.replaceAll('X', number).replaceAll('C', condition))
    return fc
      .record({
        keys: fc.array(pick(KEYS[table]), { maxLength: 3 }),
        where: maybe(pick(CONDITIONS[table])),
        total: pick(EXACT).chain(filled),
        tallies: fc.array(pick(OTHERS).chain(filled), { maxLength: 2 }),
        lines: fc.array(pick(LINES), { maxLength: 3 }),
        orders: fc.array(fc.record({ at: fc.nat(2), descending: fc.boolean(), isByTotal: fc.boolean() }), { maxLength: 2 }),
        limit: maybe(fc.integer({ min: 0, max: 2 })),
        flat: fc.boolean(),
        orderKey: fc.boolean(),
      })
      .map(({ keys, where, total, tallies, lines, orders, limit, flat, orderKey }): RandomReport => {
        const levels = keys.map((key, index) => ({ name: `k${index}`, key }))
        const has = (line: string): boolean => !line.includes('k0') || levels.length > 0
        const order = orders
          .filter(({ at }) => at < levels.length)
          .map(({ at, descending, isByTotal }) => ({ level: `k${at}`, by: isByTotal ? 'total' : `k${at}`, descending }))
        const report = {
          table,
          levels,
          ...(where !== undefined && { where }),
          tallies: [{ name: 'total', formula: total }, ...tallies.map((formula, at) => ({ name: `t${at}`, formula }))],
          lines: lines.filter(has).map((line, at) => ({
            name: `l${at}`,
            formula: line.replace('NAME', `l${at}`).replace('whole.count()', 'whole.total'),
          })),
          order,
          ...(limit !== undefined && { limit }),
          ...(flat && { flat }),
        }
        const sorting = { op: 'change-column', table: 'takes', column: 'grade', set: { orderKey: 'lot' } }
        return [...(orderKey ? [sorting] : []), { op: 'set-report', name: 'r', report }] as unknown as RandomReport
      })
  })

/** Compares the lines of the report with those of its view. */
export async function reportDifferences(
  engine: TestEngine,
  book: Workbook,
  approximate: ReadonlySet<string>,
): Promise<Difference[]> {
  const { columns, slots } = book.report('r').current
  const rows = await engine.rows('select v.* from m."r!report" as v')
  const found: Difference[] = []
  if (rows.length !== slots.length) found.push({ place: 'r', formula: null, expected: slots.length, found: rows.length })
  const cells = book.report('r').current.rows()
  const numbers = cells.flat().filter((one) => typeof one === 'number')
  const largest = numbers.reduce((most, one) => Math.max(most, Math.abs(one)), 1)
  for (const [at, line] of cells.entries()) {
    const row = rows[at]
    for (const [index, { name }] of columns.entries()) {
      const fault = row?.[`${name}!fault`]
      const value = fault === null || fault === undefined ? (row?.[name] ?? null) : `!${String(fault)}`
      const expected = shown(line[index] ?? null)
      if (!isSame(expected, value, approximate.has(`report:r.${name}`), null, largest))
        found.push({ place: `r.${name} line ${at}`, formula: null, expected, found: value })
    }
  }
  return found
}
