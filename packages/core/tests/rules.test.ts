import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Finding, type Operation, type OperationJson, Refusal, Workbook } from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** Rules are watched row by row at every edit; a finding that is accepted comes back when the rows behind it change. */

function batches(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'batches',
      columns: [
        { name: 'lot', type: 'text' },
        { name: 'moisture', type: 'number' },
        { name: 'jars', type: 'integer' },
        { name: 'rate', formula: '100 / jars' },
      ],
    },
    { op: 'set-tally', table: 'batches', name: 'all_jars', formula: 'sum(jars)' },
    {
      op: 'insert-rows',
      table: 'batches',
      rows: [
        { lot: 'a', moisture: 17, jars: 4 },
        { lot: 'b', moisture: 31, jars: 0 },
        { lot: 'c', jars: 2 },
      ],
    },
  ])
  return book
}
const rule = (name: string, condition: string, more: object = {}): Operation => ({
  op: 'set-rule',
  table: 'batches',
  name,
  condition,
  ...more,
})
const told = (findings: readonly Finding[]): string[] =>
  findings.filter((one) => one.code.startsWith('rule')).map((one) => `${one.severity} ${one.column}: ${one.message}`)

describe('what a rule says', () => {
  test.each<[string, Operation, string[]]>([
    [
      'of a row',
      rule('moist', 'moisture between 10 and 25'),
      ['warning moist: The rule moist (moisture between 10 and 25) does not hold on 1 row: row 2.'],
    ],
    ['nothing where it holds', rule('dry', 'moisture < 40'), []],
    [
      'of blanks, when told to',
      rule('moist', 'moisture < 40', { blankIsWrong: true, note: 'Measure it.', severity: 'hint' }),
      ['hint moist: The rule moist (moisture < 40) does not hold on 1 row: row 3. Measure it.'],
    ],
    [
      'of totals, once',
      rule('few', 'all_jars < 5'),
      ['warning few: The rule few (all_jars < 5) does not hold for the table as a whole.'],
    ],
    [
      'of errors, which are neither',
      rule('rated', 'rate > 30'),
      [
        'warning rated: The rule rated (rate > 30) does not hold on 1 row: row 1.',
        'warning rated: The rule rated (rate > 30) cannot be told on 1 row, since something in it is an error there.',
      ],
    ],
    [
      'of names like those of columns',
      rule('moisture', 'moisture > 20'),
      ['warning moisture: The rule moisture (moisture > 20) does not hold on 1 row: row 1.'],
    ],
  ])('%s', (_, operation, messages) => {
    const book = batches()
    const change = book.apply(operation)
    expect(told(change.findings.added)).toEqual(messages)
    expect(told(book.check())).toEqual(messages)
    expect(change.recalculated).toEqual([])
    book.undo()
    expect(told(book.check())).toEqual([])
    book.redo()
    expect(told(book.check())).toEqual(messages)
  })

  test.each<[string, OperationJson, string]>([
    ['no condition', rule('r', 'moisture + 1'), 'type-mismatch'],
    ['an unknown name', rule('r', 'wetness > 1'), 'unknown-name'],
    ['a table that is not there', { ...rule('r', 'true'), table: 'lots' } as OperationJson, 'unknown-table'],
  ])('refused: %s', (_, operation, code) => {
    const book = batches()
    expect(() => book.applyJson(operation)).toThrow(expect.objectContaining({ name: 'Refusal', code }) as Error)
    expect(book.table('batches').rules).toEqual([])
  })

  test('a rule keeps a column from being removed, follows its new name, and goes with it', () => {
    const book = batches()
    book.apply(rule('moist', 'moisture < 25'))
    const remove = { op: 'remove-column', table: 'batches', column: 'moisture' }
    expect(() => book.applyJson(remove)).toThrow(Refusal)
    book.apply({ op: 'rename-column', table: 'batches', column: 'moisture', to: 'water' })
    expect(book.table('batches').rules).toEqual([{ name: 'moist', condition: 'water < 25', severity: 'warning' }])
    book.applyJson({ ...remove, column: 'water', dependants: 'remove' })
    expect(book.table('batches').rules).toEqual([])
    book.undo()
    expect(told(book.check())).toHaveLength(1)
    book.apply({ op: 'remove-table', table: 'batches' })
    book.undo()
    expect(told(book.check())).toHaveLength(1)
    expect(book.addressed('rule:moist')).toEqual({ kind: 'rule', table: 'batches', name: 'moist' })
    expect(() => book.addressed('rule:moits')).toThrow('Nearest name: moist')
  })
})

test('after any edits, stored and opened again among them, a rule names the rows that break it', () => {
  const cell = fc.constantFrom(5, 30, 24.5, null, { misfit: 'wet' })
  const edit = fc.oneof(
    fc.record({ kind: fc.constant('set' as const), at: fc.nat(9), value: cell }),
    fc.record({ kind: fc.constant('add' as const), value: cell }),
    fc.record({ kind: fc.constantFrom('drop' as const, 'undo' as const, 'store' as const), at: fc.nat(9) }),
  )
  fc.assert(
    fc.property(fc.array(edit, { maxLength: 20 }), (edits) => {
      let book = batches()
      const stored = new StoredBook()
      book.apply([rule('moist', 'moisture < 25'), rule('known', 'moisture >= 0', { blankIsWrong: true })])
      let depth = 0
      for (const one of edits) {
        const ids = book.table('batches').rowIds()
        const row = 'at' in one ? ids[one.at % Math.max(1, ids.length)] : undefined
        if (one.kind === 'store') {
          stored.save(book)
          book = stored.open(book.steps)
        } else if (one.kind === 'undo') {
          if (depth > 0) book.undo()
          depth = Math.max(0, depth - 1)
        } else {
          if (one.kind === 'add') book.apply({ op: 'insert-rows', table: 'batches', rows: [{ moisture: one.value }] })
          else if (row === undefined) continue
          else if (one.kind !== 'set') book.apply({ op: 'remove-rows', table: 'batches', rows: [row] })
          else book.apply({ op: 'set-cells', table: 'batches', cells: [{ row, column: 'moisture', value: one.value }] })
          depth++
        }
        const rows = (code: string, name: string): number =>
          book.check().find((found) => found.code === code && found.column === name)?.rows ?? 0
        const where = (condition: string): number => book.query({ table: 'batches', where: condition }).matched
        expect(rows('rule-broken', 'moist')).toBe(where('if_error(moisture >= 25, false)'))
        expect(rows('rule-broken', 'known')).toBe(where('moisture is blank or if_error(moisture < 0, false)'))
        expect(rows('rule-undecided', 'moist')).toBe(where('moisture is error'))
      }
    }),
    { numRuns: 60 },
  )
})

describe('an accepted finding', () => {
  const accept = (book: Workbook, code: string, because = 'counted by hand'): void => {
    const found = book.check().find((one) => one.code === code) as Finding
    book.apply(book.accepting(found, because))
  }
  const codes = (book: Workbook): string[] => book.check().map((one) => one.code)

  test.each<[string, Operation[], boolean]>([
    [
      'stays accepted when other rows change',
      [{ op: 'set-cells', table: 'batches', cells: [{ row: 1, column: 'moisture', value: 18 }] }],
      true,
    ],
    [
      'comes back when its row changes',
      [{ op: 'set-cells', table: 'batches', cells: [{ row: 2, column: 'moisture', value: 33 }] }],
      false,
    ],
    [
      'comes back when another row breaks it',
      [{ op: 'set-cells', table: 'batches', cells: [{ row: 1, column: 'moisture', value: 40 }] }],
      false,
    ],
    [
      'comes back when one row takes the place of another',
      [
        {
          op: 'set-cells',
          table: 'batches',
          cells: [
            { row: 1, column: 'moisture', value: 31 },
            { row: 2, column: 'moisture', value: 17 },
          ],
        },
      ],
      false,
    ],
    ['stays when rows stand in another order', [{ op: 'move-rows', table: 'batches', rows: [3], before: 1 }], true],
  ])('%s', (_, operations, stays) => {
    const book = batches()
    book.apply(rule('moist', 'moisture < 25'))
    accept(book, 'rule-broken')
    expect(codes(book)).not.toContain('rule-broken')
    expect(book.accepted().map(({ acceptance }) => acceptance.because)).toEqual(['counted by hand'])
    const change = book.apply(operations)
    expect(codes(book).includes('rule-broken')).toBe(!stays)
    expect(change.findings.added.some((one) => one.code === 'rule-broken')).toBe(!stays)
    book.undo()
    expect(codes(book)).not.toContain('rule-broken')
    book.undo()
    expect(codes(book)).toContain('rule-broken')
  })

  test('of data behind a formula, by its rows', () => {
    const book = batches()
    accept(book, 'division-by-zero')
    expect(codes(book)).not.toContain('division-by-zero')
    book.apply({ op: 'insert-rows', table: 'batches', rows: [{ jars: 5 }] })
    expect(codes(book)).not.toContain('division-by-zero')
    book.apply({ op: 'insert-rows', table: 'batches', rows: [{ jars: 0 }] })
    expect(codes(book)).toContain('division-by-zero')
  })

  test('needs a reason, and a finding that is there; it is stored', () => {
    const book = batches()
    book.apply(rule('moist', 'moisture < 25'))
    const found = book.check().find((one) => one.code === 'rule-broken') as Finding
    expect(() => book.apply(book.accepting(found, '  '))).toThrow('a reason')
    book.apply({ op: 'set-cells', table: 'batches', cells: [{ row: 2, column: 'moisture', value: 1 }] })
    expect(() => book.accepting(found, 'gone')).toThrow('no finding')
    book.undo()
    accept(book, 'rule-broken')
    const stored = new StoredBook()
    stored.save(book)
    const opened = stored.open(book.steps)
    expect(opened.accepted()).toEqual(book.accepted())
    expect(codes(opened)).not.toContain('rule-broken')
    opened.undo()
    expect(codes(opened)).toContain('rule-broken')
  })
})
