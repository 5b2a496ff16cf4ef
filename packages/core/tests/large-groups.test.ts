import fc from 'fast-check'
import { expect, test } from 'vitest'
import { CellFault, type Operation, Workbook } from '../src/index.js'

/** Groups so large that their values are kept in order: after every edit they must give what a new workbook gives. */

const FORMULAS = [
  'min(kg by yard)',
  'max(kg by yard)',
  'median(kg by yard where grade <> "c")',
  'percentile(kg, 0.3)',
  'percentile(kg, 2 by yard)',
  'mode(grade by yard)',
  'count_distinct(kg by yard)',
  'max(grade)',
  'variance(kg by yard)',
  'stdev(kg / 3)',
  'mode(good by yard)',
  'count_distinct(1 / kg by yard)',
  'min(day by yard where 1 / kg > 0)',
  'first(kg by yard)',
  'last(grade by yard where kg > 1)',
  'first(1 / kg by yard order by grade desc, day)',
  'last(kg order by 1 / (kg - 2))',
  'last(day by yard where good order by day)',
  'any(good by yard)',
  'all(1 / kg > 0 by yard)',
  'any(kg > 8)',
]
const ROWS = 2300

const kg = fc.constantFrom(1, 2, 0.1, 3e7, 1e-300, 1e200, null, { misfit: 'much' }, 0)
const cell = fc.oneof(
  fc.record({ column: fc.constant('kg'), value: kg }),
  fc.record({ column: fc.constant('grade'), value: fc.constantFrom('a', 'b', 'c', null) }),
  fc.record({ column: fc.constant('yard'), value: fc.constantFrom('N', 'S', null) }),
  fc.record({ column: fc.constant('good'), value: fc.constantFrom(true, false, null) }),
)
const edit = fc.oneof(
  { weight: 5, arbitrary: fc.record({ kind: fc.constant('cell' as const), at: fc.nat(), cell }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('remove' as const), at: fc.nat(), count: fc.constantFrom(1, 3, 1200) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('insert' as const), at: fc.nat(), kg }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('move' as const), at: fc.nat(), count: fc.constantFrom(1, 5) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('undo' as const), at: fc.nat() }) },
)

function source(seed: number): Record<string, unknown[]> {
  const of = (values: readonly unknown[], step: number): unknown[] =>
    Array.from({ length: ROWS }, (_, row) => values[(row * step + seed + (row >> 5)) % values.length])
  return {
    yard: of(['N', 'N', 'N', 'S'], 1),
    kg: of([1, 2, 3, 4, 5, 6, 7, null, 2.5], 5),
    grade: of(['a', 'b', 'c', 'a', null], 3),
    good: of([true, false, true], 1),
    day: of(['2026-03-01', '2026-03-02', null, '2026-02-28'], 7),
  }
}

function book(rows: Record<string, readonly unknown[]>): Workbook {
  const made = new Workbook()
  const types = { yard: 'text', kg: 'number', grade: 'text', good: 'boolean', day: 'date' }
  made.apply([
    { op: 'add-table', table: 't', columns: Object.entries(types).map(([name, type]) => ({ name, type })) },
    { op: 'insert-rows', table: 't', block: rows },
    ...FORMULAS.map((formula, index) => ({ op: 'add-column', table: 't', column: { name: `x${index}`, formula } })),
  ] as Operation[])
  return made
}

const results = (made: Workbook): unknown[] =>
  FORMULAS.map((_, index) =>
    made
      .table('t')
      .column(`x${index}`)
      .values()
      .map((value) => (value instanceof CellFault ? String(value) : value)),
  )

const anew = (made: Workbook): Workbook => {
  const table = made.table('t')
  const ids = table.rowIds()
  const names = ['yard', 'kg', 'grade', 'good', 'day']
  return book(Object.fromEntries(names.map((name) => [name, ids.map((id) => table.column(name).stored(id))])))
}

test('edits of large groups give what a new workbook gives', () => {
  fc.assert(
    fc.property(fc.nat(20), fc.array(edit, { minLength: 5, maxLength: 15, size: 'max' }), (seed, edits) => {
      const made = book(source(seed))
      for (const one of edits) {
        const ids = made.table('t').rowIds()
        const row = ids[one.at % Math.max(1, ids.length)] as number
        if (one.kind === 'undo') made.undo()
        else if (one.kind === 'insert') made.apply({ op: 'insert-rows', table: 't', rows: [{ yard: 'N', kg: one.kg }] })
        else if (one.kind === 'move')
          made.apply({
            op: 'move-rows',
            table: 't',
            rows: ids.slice(0, one.count),
            before: ids[10 + (one.at % 900)],
          } as Operation)
        else if (one.kind === 'remove')
          made.apply({ op: 'remove-rows', table: 't', rows: ids.slice(one.at % ids.length).slice(0, one.count) })
        else made.apply({ op: 'set-cells', table: 't', cells: [{ row, ...one.cell }] } as Operation)
        if (made.tables.length === 0) return
      }
      expect(results(made)).toEqual(results(anew(made)))
    }),
    { numRuns: 8 },
  )
}, 120_000)
