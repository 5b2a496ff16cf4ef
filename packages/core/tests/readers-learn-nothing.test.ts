import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  type BookReader,
  derivationText,
  type Operation,
  Refusal,
  type ShownValue,
  traceText,
  type Workbook,
} from '../src/index.js'
import { cooperative, SECRETS } from './helpers/co-operative.js'

/**
 * Non-interference (Goguen and Meseguer 1982): two workbooks that are alike but for what is hidden from a reader give them the
 * same answers to everything, whatever was asked before, refusals and their nearest names included.
 */

/** Names to ask for: what is seen, what is hidden in one of the two, what is near to either, and what is nowhere. */
const NAMES = [
  'kg',
  'boxes',
  'apiary',
  'label',
  'score',
  'worth',
  'twice',
  'cost',
  'kgs',
  'buyer',
  'sold',
  'hidden_worth',
  'costs',
  'k',
  'home.honey_price',
  'limit',
  'nothing',
]
const name = fc.constantFrom(...NAMES)
const quoted = name.map((one) => (one.includes('.') ? one : `\`${one}\``))
const formula = fc.oneof(
  quoted,
  fc.tuple(quoted, fc.constantFrom('+', '-', '*', '/', 'per', '&', '>', '='), quoted).map((parts) => parts.join(' ')),
  fc
    .tuple(fc.constantFrom('sum', 'mean', 'max', 'count', 'first', 'lag', 'rank'), quoted, quoted)
    .map(([call, of, by]) => `${call}(${of} by ${by})`),
  fc.constantFrom(
    'sum_of(#amount)',
    'every hives.cost',
    'sum(every hives.cost)',
    '1',
    'boxes > 1',
    'counted',
    'all_kg',
    'kg > cost',
  ),
)
const ask = fc.oneof(
  fc.record({
    kind: fc.constant('query' as const),
    where: fc.option(formula),
    order: fc.option(quoted),
    columns: fc.option(fc.array(name, { maxLength: 3 })),
  }),
  fc.record({ kind: fc.constant('group' as const), key: formula, tally: formula, line: formula }),
  fc.record({ kind: fc.constant('chart' as const), x: formula, series: formula }),
  fc.record({ kind: fc.constant('fit' as const), x: formula, y: formula }),
  fc.record({ kind: fc.constant('evaluate' as const), formula }),
  fc.record({ kind: fc.constant('try' as const), name, formula }),
  fc.record({ kind: fc.constant('language' as const), formula, at: fc.nat(12), to: name }),
  fc.record({
    kind: fc.constant('column' as const),
    name,
    of: fc.constantFrom('hives.', 'apiaries.', 'tally:hives.', 'value:', 'rule:'),
    row: fc.nat(12),
  }),
  fc.record({ kind: fc.constant('view' as const), name: fc.constantFrom('by apiary', 'secret', 'kg', 'drawn', 'cost') }),
  fc.record({ kind: fc.constant('whole' as const) }),
  fc.record({
    kind: fc.constant('set' as const),
    row: fc.nat(10),
    column: name,
    value: fc.constantFrom(1, 2, null, 'x'),
    strict: fc.boolean(),
  }),
  fc.record({ kind: fc.constant('insert' as const), column: name, value: fc.constantFrom(1, 'Fen', null) }),
  fc.record({ kind: fc.constant('fill' as const), column: name, formula }),
  fc.record({ kind: fc.constant('reread' as const), column: name, key: fc.option(name) }),
  fc.record({ kind: fc.constant('remove' as const), row: fc.nat(10) }),
  fc.record({ kind: fc.constant('define' as const), column: name, formula }),
  fc.record({ kind: fc.constantFrom('undo' as const, 'redo' as const) }),
)
type Ask = typeof ask extends fc.Arbitrary<infer Of> ? Of : never

/** One reader at one of the workbooks, with what they were told of without asking. */
class Attacker {
  readonly #reader: BookReader
  readonly #told: unknown[] = []

  constructor(book: Workbook) {
    this.#reader = book.reader({ role: 'edit', groups: ['buyers'], author: 'Mallory' })
    this.#reader.view.on('change', (change) => this.#told.push(change))
  }

  /** All that comes back, as text; sizes of indexes and times aside. */
  answer(asked: Ask): string {
    let answer: unknown
    try {
      answer = this.#asked(asked)
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      answer = [error.code, error.message, error.findings, error.operation]
    }
    return JSON.stringify([answer, this.#told.splice(0)], (_, value: unknown) =>
      value instanceof Map ? [...value] : value instanceof Int32Array || value instanceof Float64Array ? [...value] : value,
    )
  }

  #asked(asked: Ask): unknown {
    const reader = this.#reader
    const { view } = reader
    const table = 'hives'
    switch (asked.kind) {
      case 'query': {
        const { where, order, columns } = asked
        const found = view.query({
          table,
          ...(where !== null && { where }),
          ...(order !== null && { order }),
          ...(columns !== null && { columns }),
        })
        return [found.columns.map(({ storage: _, ...of }) => of), found.matched, found.ids(), found.rows()]
      }
      case 'group': {
        const { key, tally, line } = asked
        const made = view.group({
          table,
          levels: [{ key }],
          tallies: [{ name: 't', formula: tally }],
          lines: [{ name: 'l', formula: line }],
        })
        return [made.rows(), made.findings()]
      }
      case 'chart':
        return view.chart({ table, x: asked.x, series: [{ formula: asked.series, kind: 'line' }] })
      case 'fit':
        return view.fit({ table, x: asked.x, y: asked.y })
      case 'evaluate':
        return [view.evaluate(table, asked.formula), view.explain(table, asked.formula)]
      case 'try':
        return view.previewColumn(table, { name: asked.name, formula: asked.formula })
      case 'language': {
        const language = view.language(table)
        const { formula: of, at, to } = asked
        return [
          language.findings(of),
          language.complete(of, at),
          language.hover(of, at),
          language.signature(of, at),
          language.rename(of, at, to),
          language.tokens(of),
        ]
      }
      case 'column': {
        const address = `${asked.of}\`${asked.name}\``
        return [traceText(view.trace(address)), derivationText(view.why(address, asked.row)), view.explain(table, asked.name)]
      }
      case 'view':
        return view.reports.includes(asked.name)
          ? view.report(asked.name).current.rows()
          : view.chart(view.chartDefinition(asked.name))
      case 'whole':
        return [view.check(), view.accepted(), view.memory(), view.stale, view.metadata, view.readerGroups, this.#described()]
      case 'set':
        return reader.apply(
          { op: 'set-cells', table, cells: [{ row: asked.row, column: asked.column, value: asked.value }] },
          { strict: asked.strict },
        )
      case 'insert':
        return reader
          .apply({ op: 'insert-rows', table, rows: [{ [asked.column]: asked.value }] })
          .inserted.map((rows) => [rows, rows.calculated()])
      case 'fill':
        return reader.apply({ op: 'fill-column', table, column: asked.column, formula: asked.formula })
      case 'reread':
        return reader.apply({
          op: 'reread-rows',
          table,
          block: { [asked.column]: [1, 2, 3] },
          ...(asked.key !== null && { key: [asked.key] }),
        })
      case 'remove':
        return reader.apply({ op: 'remove-rows', table, rows: [asked.row] })
      case 'define':
        return reader.previewJson({ op: 'add-column', table, column: { name: asked.column, formula: asked.formula } })
      default:
        return reader[asked.kind]()
    }
  }

  /** Tables with everything that is shown of them. */
  #described(): unknown {
    const { view } = this.#reader
    return view.tables.map((name) => {
      const table = view.table(name)
      const tallies = table.tallies.map((of): [string, ShownValue, string | null, unknown] => [
        of,
        table.tally(of),
        table.tallyFormula(of),
        table.tallyFacts(of),
      ])
      const columns = table.columns.map((of) => [
        of.name,
        of.type,
        of.formula,
        of.properties,
        of.values(),
        of.sources(),
        of.dependents(),
        of.findings(),
        of.completeness(),
        of.byteLength(),
        of.summary(),
      ])
      return [name, table.properties, table.links, table.rules, tallies, columns]
    })
  }
}

/** Edits of others to what is hidden, between what the reader asks. */
function elsewhere(book: Workbook, column: string, step: number): void {
  const of = book.table('hives').column(column)
  const operation: Operation =
    of.isCalculated || step % 3 === 2
      ? { op: 'change-column', table: 'hives', column, set: { note: `step ${step}` } }
      : { op: 'set-cells', table: 'hives', cells: [{ row: 1 + (step % 4), column, value: null }] }
  if (book.table('hives').hasRow(1 + (step % 4))) book.apply(operation, { author: 'Olga', at: '2026-06-03T08:00:00' })
}

describe.each(SECRETS)('two workbooks that differ in %s of a hidden column', (_, one, other) => {
  test('answer alike, whatever is asked', () => {
    fc.assert(
      fc.property(fc.array(ask, { minLength: 1, maxLength: 12 }), fc.boolean(), (asked, withEdits) => {
        const books = [cooperative(one), cooperative(other)] as const
        const attackers = books.map((book) => new Attacker(book))
        for (const [step, each] of asked.entries()) {
          const [first, second] = attackers.map((attacker) => attacker.answer(each))
          expect(first).toBe(second)
          if (!withEdits) continue
          elsewhere(books[0], one.name, step)
          elsewhere(books[1], other.name, step)
        }
      }),
      { numRuns: Number(process.env.RUNS ?? 40) },
    )
  })
})
