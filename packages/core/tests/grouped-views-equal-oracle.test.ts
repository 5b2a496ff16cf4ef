import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type GroupedResult, type GroupedView, type OperationJson, type ReportChange, Workbook } from '../src/index.js'
import { BookOracle, type BookSketch } from './helpers/oracle-book.js'
import { isFailed, type Result } from './helpers/oracle-values.js'
import { cellFor, LINKS, NAMES, rowOf, TABLES } from './helpers/random-models.js'
import { shownResult, shownValue, sketchOf } from './helpers/sketch-of-book.js'

/**
 * Random grouped views of random models, again after every edit: each line has exactly the rows that the oracle gives it, and
 * each figure is what the oracle computes over exactly those. Raise it for a long run: RUNS=2000 npx vitest run --project core
 * grouped-views-equal-oracle.
 */
const numRuns = Number(process.env.RUNS ?? 60)

const KEYS = ['hive', 'grade', 'lot', 'day', 'hive.yard', 'hive.site.north', 'kg > 1', '10 / kg', 'upper(grade)', 'part']
const CONDITIONS = ['kg > 0', 'grade is not blank', '10 / kg > 2', 'hive.frames > 1', 'lot = 99', 'part > 0.1']
const ROW_COLUMNS = ['kg', 'kg * 2', 'hive.frames', 'lag(kg)', 'part']
const TALLIES = [
  'sum(kg)',
  'mean(kg)',
  'count(kg)',
  'count_distinct(grade)',
  'median(lot)',
  'min(day)',
  'max(grade)',
  'last(kg order by day)',
  'first(grade)',
  "join_rows(grade, '+')",
  'sum(kg) per count()',
  'total_kg',
  'total_kg - sum(kg where kg < 2) + price',
  'any(kg > 2)',
  'all(10 / kg > 1)',
  'sum(hive.frames)',
  'percentile(kg, 0.3)',
  'stdev(kg)',
  'sum(part)',
]
const LINES = {
  of_parent: 'size per parent.size',
  of_whole: 'size per whole.size',
  change: 'size - previous.size',
  ahead: 'next.size',
  running: '(previous.running ?? 0) + size',
  twice: '2 * of_parent',
}

const level = fc.record({ key: fc.constantFrom(...KEYS) })
const view = fc.record(
  {
    where: fc.constantFrom(...CONDITIONS),
    levels: fc.array(level, { maxLength: 3 }),
    columns: fc.array(fc.constantFrom(...ROW_COLUMNS), { maxLength: 2 }),
    tallies: fc.array(fc.constantFrom(...TALLIES), { minLength: 1, maxLength: 4 }),
    details: fc.constantFrom('shown' as const, 'none' as const),
    top: fc.array(fc.record({ at: fc.nat(2), count: fc.nat(2), ascending: fc.boolean() }), { maxLength: 2 }),
    order: fc.array(fc.record({ at: fc.nat(2), descending: fc.boolean() }), { maxLength: 1 }),
    having: fc.constantFrom('size > 1', 't0 is not blank', 'of_whole > 0.2'),
    tallyDetails: fc.boolean(),
    across: level,
  },
  { requiredKeys: ['levels', 'tallies'] },
)
type RandomView = typeof view extends fc.Arbitrary<infer Value> ? Value : never

function viewOf(random: RandomView): GroupedView {
  const levels = random.levels.map(({ key }, at) => ({ name: `k${at}`, key }))
  const named = (at: number): { level: string } | undefined => (at < levels.length ? { level: `k${at}` } : undefined)
  const { where, details, having, tallyDetails, across } = random
  return {
    table: 'takes',
    levels,
    columns: (random.columns ?? []).map((formula, at) => ({ name: `c${at}`, formula })),
    tallies: [...random.tallies.map((formula, at) => ({ name: `t${at}`, formula })), { name: 'size', formula: 'count()' }],
    lines: Object.entries(LINES).map(([name, formula]) => ({ name, formula })),
    ...(where !== undefined && { where }),
    ...(details !== undefined && { details }),
    ...(having !== undefined && { having }),
    ...(across !== undefined && { across }),
    ...(tallyDetails !== undefined && { tallyDetails }),
    order: (random.order ?? []).flatMap(({ at, descending }) => {
      const of = named(at)
      return of === undefined ? [] : [{ ...of, by: 't0', descending }]
    }),
    top: (random.top ?? []).flatMap(({ at, count, ascending }) => {
      const of = named(at)
      return of === undefined ? [] : [{ ...of, by: 'size', count, ascending }]
    }),
  }
}

/** The oracle over a model with some more columns of takes, and over parts of its rows as they then are. */
class ViewOracle {
  readonly #sketch: BookSketch
  readonly #takes: Readonly<Record<string, Result>>[]

  constructor(book: Workbook, more: Readonly<Record<string, string>>) {
    const sketch = sketchOf(book)
    const takes = sketch.tables.takes as BookSketch['tables'][string]
    const formulas = { ...takes.formulas, ...more }
    const full = new BookOracle({ ...sketch, tables: { ...sketch.tables, takes: { ...takes, formulas } } })
    const names = [...Object.keys(formulas), ...Object.keys(takes.rows[0] ?? {})]
    this.#sketch = sketch
    this.#takes = takes.rows.map((_, row) => Object.fromEntries(names.map((name) => [name, full.cell('takes', name, row)])))
  }

  cell(row: number, name: string): Result {
    return this.#takes[row]?.[name] ?? null
  }

  /** What tallies are over some rows. */
  tallies(rows: readonly number[], formulas: readonly string[]): Result[] {
    const takes = this.#sketch.tables.takes as BookSketch['tables'][string]
    const named = Object.fromEntries(formulas.map((formula, at) => [`t${at}`, formula]))
    const part = {
      ...takes,
      formulas: {},
      rows: rows.map((row) => this.#takes[row] ?? {}),
      tallies: { ...takes.tallies, ...named },
    }
    const oracle = new BookOracle({ ...this.#sketch, tables: { ...this.#sketch.tables, takes: part } })
    return formulas.map((_, at) => oracle.tally('takes', `t${at}`))
  }
}

const isTrue = (result: Result): boolean => result !== null && !isFailed(result) && result.value === true

/** A line of a result with its cells by name. */
type SeenLine = GroupedResult['lines'][number] & { readonly cells: Readonly<Record<string, unknown>> }

function seen(result: GroupedResult): SeenLine[] {
  return result.rows().map((row, at) => {
    const cells = Object.fromEntries(result.columns.map(({ name }, place) => [name, shownValue(row[place] ?? null)]))
    return { ...(result.lines[at] as GroupedResult['lines'][number]), cells }
  })
}

function hold(book: Workbook, view: GroupedView): void {
  const { levels = [], tallies = [], columns = [], where, tallyDetails, top = [], having } = view
  const more: Record<string, string> = Object.fromEntries([
    ...levels.map(({ key }, at) => [`k${at}`, key]),
    ...columns.map(({ name, formula }) => [name, formula]),
    ['kept', where ?? 'true'],
    ['across', view.across?.key ?? 'blank'],
  ])
  const oracle = new ViewOracle(book, more)
  const ids = book.table('takes').rowIds()
  const kept = [...ids.keys()].filter((row) => isTrue(oracle.cell(row, 'kept')))
  const pathOf = (row: number, depth: number): string =>
    JSON.stringify(levels.slice(0, depth).map((_, at) => shownResult(oracle.cell(row, `k${at}`))))
  const lines = seen(book.group(view))
  const keptAcross = new Map<unknown, number>()
  for (const row of kept) {
    const value = shownResult(oracle.cell(row, 'across'))
    keptAcross.set(value, (keptAcross.get(value) ?? 0) + 1)
  }
  const valuesAcross = [...keptAcross.keys()]
  const formulas = tallies.map(({ formula }) => formula)
  const rowsSeen: number[] = []
  // The group around each line, and which groups of it stand alone.
  const shownPaths = new Set(
    lines
      .filter(({ kind }) => kind === 'group')
      .map(({ cells, level }) => JSON.stringify(levels.slice(0, level).map((_, at) => cells[`k${at}`]))),
  )
  for (const line of lines) {
    const { kind, level, cells } = line
    const keys = levels.map((_, at) => cells[`k${at}`])
    let rows: number[]
    if (kind === 'row') rows = [ids.indexOf(line.row as number)]
    else if (kind === 'others') {
      const around = JSON.stringify(keys.slice(0, level - 1))
      rows = kept.filter((row) => pathOf(row, level - 1) === around && !shownPaths.has(pathOf(row, level)))
      expect(line.groupCount).toBe(new Set(rows.map((row) => pathOf(row, level))).size)
    } else rows = kept.filter((row) => pathOf(row, level) === JSON.stringify(keys.slice(0, level)))
    expect(line.rowCount).toBe(rows.length)
    if (kind === 'row') {
      rowsSeen.push(rows[0] as number)
      for (const { name } of columns) expect(cells[name]).toEqual(shownResult(oracle.cell(rows[0] as number, name)))
    }
    if (kind === 'row' && tallyDetails !== true) continue
    const expected = oracle.tallies(rows, formulas).map(shownResult)
    expect(tallies.map(({ name }) => cells[name])).toEqual(expected)
    if (view.across === undefined || kind === 'row') continue
    for (const value of valuesAcross) {
      const part = rows.filter((row) => shownResult(oracle.cell(row, 'across')) === value)
      const name = value === null ? '(blank)' : String(value).replace(/^!/, '')
      const ofPart = oracle.tallies(part, formulas).map(shownResult)
      expect(tallies.map((tally) => cells[`${name} ${tally.name}`])).toEqual(ofPart)
      expect(cells[`${name} of_whole`]).toBe(per(part.length, keptAcross.get(value) ?? 0))
    }
  }
  expect(lines.at(-1)?.kind).toBe('whole')
  holdLines(lines)
  holdOrder(lines, view)
  if (view.details === 'shown' && top.length === 0 && having === undefined)
    expect([...rowsSeen].sort((a, b) => a - b)).toEqual(kept)
}

const per = (a: number | null, b: number | null): number | null => (a === null || b === null || b === 0 ? null : a / b)

/** Holds the columns made from other lines to what their neighbours show. */
function holdLines(lines: readonly SeenLine[]): void {
  const whole = lines.at(-1) as SeenLine
  const sizeOf = (line: SeenLine | undefined): number | null => (line?.cells.size as number | null | undefined) ?? null
  const minus = (a: number | null, b: number | null): number | null => (a === null || b === null ? null : a - b)
  const around: SeenLine[] = []
  const siblings = new Map<SeenLine, SeenLine[]>()
  const parents = new Map<SeenLine, SeenLine>()
  for (const line of lines.slice(0, -1)) {
    around.length = line.level
    const parent = around[line.level - 1] ?? whole
    parents.set(line, parent)
    siblings.set(parent, [...(siblings.get(parent) ?? []), line])
    around[line.level] = line
  }
  const running = new Map<SeenLine | undefined, number | null>()
  for (const line of lines) {
    const parent = parents.get(line)
    const list = parent === undefined ? [line] : (siblings.get(parent) as SeenLine[])
    const place = list.indexOf(line)
    const before = list[place - 1]
    const own = sizeOf(line)
    const sum = own === null ? null : (running.get(before) ?? 0) + own
    running.set(line, sum)
    const share = per(own, sizeOf(parent))
    expect(line.cells).toMatchObject({
      of_parent: share,
      of_whole: per(own, sizeOf(whole)),
      change: minus(own, sizeOf(before)),
      ahead: sizeOf(list[place + 1]),
      running: sum,
      twice: share === null ? null : share * 2,
    })
  }
}

/** Holds the order of groups: values by key unless an order is asked for, then the blank one, then errors, then the others. */
function holdOrder(lines: readonly SeenLine[], { order = [], top = [] }: GroupedView): void {
  const rank = ({ kind, cells, level }: SeenLine): number => {
    const key = cells[`k${level - 1}`]
    if (kind === 'others') return 3
    return key === null ? 1 : typeof key === 'string' && key.startsWith('!') ? 2 : 0
  }
  const last = new Map<number, SeenLine>()
  for (const line of lines.filter(({ kind }) => kind !== 'row')) {
    for (const level of [...last.keys()]) if (level > line.level) last.delete(level)
    const before = last.get(line.level)
    last.set(line.level, line)
    if (before === undefined) continue
    expect(rank(before)).toBeLessThanOrEqual(rank(line))
    const name = `k${line.level - 1}`
    const isOrdered = [...order, ...top].some(({ level }) => level === name)
    if (rank(before) !== 0 || rank(line) !== 0 || isOrdered) continue
    expect((before.cells[name] as number) < (line.cells[name] as number)).toBe(true)
  }
}

/** Holds a report to naming every group of which a figure is another now, or that has come or gone. */
function holdTold(before: readonly SeenLine[], now: readonly SeenLine[], told: readonly ReportChange[], view: GroupedView): void {
  const { levels = [], tallies = [] } = view
  const textOf = (keys: readonly unknown[]): string => JSON.stringify(keys)
  const figures = (lines: readonly SeenLine[]): Map<string, string> =>
    new Map(
      lines
        .filter(({ kind }) => kind === 'group' || kind === 'whole')
        .map(({ level, cells }) => [
          textOf(levels.slice(0, level).map((_, at) => cells[`k${at}`])),
          textOf(tallies.map(({ name }) => cells[name])),
        ]),
    )
  const [former, present] = [figures(before), figures(now)]
  const named = new Set(told.flatMap(({ groups }) => groups ?? []).map(({ keys }) => textOf(keys.map(shownValue))))
  if (told.some(({ groups }) => groups === null) || view.top?.length !== 0 || view.having !== undefined) return
  for (const group of new Set([...former.keys(), ...present.keys()]))
    if (former.get(group) !== present.get(group)) expect([...named]).toContain(group)
}

const edit = fc.oneof(
  fc.constantFrom(...NAMES).chain((table) =>
    fc.constantFrom(...Object.keys(TABLES[table])).chain((column) =>
      fc.record({
        kind: fc.constant('cell' as const),
        table: fc.constant(table),
        column: fc.constant(column),
        at: fc.nat(20),
        value: cellFor(table, column),
      }),
    ),
  ),
  fc.record({ kind: fc.constant('insert' as const), rows: fc.array(rowOf('takes'), { minLength: 1, maxLength: 3 }) }),
  fc.record({ kind: fc.constant('remove' as const), at: fc.nat(20) }),
)
type Edit = typeof edit extends fc.Arbitrary<infer Value> ? Value : never

function apply(book: Workbook, one: Edit): void {
  if (one.kind === 'insert') return void book.applyJson({ op: 'insert-rows', table: 'takes', rows: one.rows })
  const table = one.kind === 'cell' ? one.table : 'takes'
  const ids = book.table(table).rowIds()
  const row = ids[one.at % Math.max(1, ids.length)]
  if (row === undefined) return
  if (one.kind === 'remove') return void book.apply({ op: 'remove-rows', table, rows: [row] })
  book.applyJson({ op: 'set-cells', table, cells: [{ row, column: one.column, value: one.value }] })
}

test('every figure of a grouped view is what the oracle says of exactly the rows of its line', () => {
  fc.assert(
    fc.property(
      fc.record({
        yards: fc.array(rowOf('yards'), { maxLength: 3 }),
        hives: fc.array(rowOf('hives'), { maxLength: 4 }),
        takes: fc.array(rowOf('takes'), { maxLength: 14, size: 'max' }),
      }),
      view,
      fc.array(edit, { maxLength: 4 }),
      (rows, random, edits) => {
        const book = new Workbook()
        const operations: OperationJson[] = [
          ...NAMES.map((table) => ({
            op: 'add-table',
            table,
            columns: Object.entries(TABLES[table]).map(([name, type]) => ({ name, type })),
          })),
          ...LINKS.map((link) => ({ op: 'add-link', ...link })),
          { op: 'add-column', table: 'takes', column: { name: 'part', formula: 'share(kg)' } },
          { op: 'set-value', name: 'price', value: 1.5 },
          { op: 'set-tally', table: 'takes', name: 'total_kg', formula: 'sum(kg where kg < 100)' },
          { op: 'set-tally', table: 'yards', name: 'hive_sum', formula: 'sum(every hives.frames)' },
          ...NAMES.map((table) => ({ op: 'insert-rows', table, rows: rows[table] })),
        ]
        book.applyJson(operations)
        const asked = viewOf(random)
        hold(book, asked)
        book.apply({ op: 'set-report', name: 'kept', report: asked })
        using report = book.report('kept')
        let told: ReportChange[] = []
        report.subscribe((change) => told.push(change))
        for (const one of edits) {
          const before = seen(report.current)
          told = []
          apply(book, one)
          hold(book, asked)
          expect(report.current.rows()).toEqual(book.group(asked).rows())
          expect(report.current.lines).toEqual(book.group(asked).lines)
          holdTold(before, seen(report.current), told, asked)
        }
      },
    ),
    { numRuns, endOnFailure: process.env.SHRINK === 'no' },
  )
}, 3_600_000)
