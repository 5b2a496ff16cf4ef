import { describe, expect, test } from 'vitest'
import { applyEdits, type CellValue, type Finding, type Operation, Workbook } from '../src/index.js'

/** Findings that depend on data: their rows are counted, follow every edit, and go away with their last row. */

function visits(formula: string): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'visits',
      columns: [
        { name: 'from', type: 'date' },
        { name: 'to', type: 'date' },
        { name: 'angle', type: 'number' },
        { name: 'count', type: 'number' },
        { name: 'at', type: 'datetime' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'visits',
      rows: [
        { from: '2026-03-01', to: '2026-03-14', angle: 1, count: 3, at: '2026-03-20T09:00:00' },
        { from: '2026-03-09', to: '2026-03-02', angle: 90, count: 0, at: '2026-03-20T09:00:00' },
        { from: '2026-03-09', to: null, angle: -180, count: null, at: null },
      ],
    },
    { op: 'add-column', table: 'visits', column: { name: 'result', formula } },
  ])
  return book
}

const found = (book: Workbook, code: string): Finding | undefined =>
  book
    .table('visits')
    .column('result')
    .findings()
    .find((one) => one.code === code)
const set = (book: Workbook, row: number, column: string, value: CellValue): Operation => {
  const operation: Operation = { op: 'set-cells', table: 'visits', cells: [{ row, column, value }] }
  book.applyJson(operation)
  return operation
}

describe.each([
  ['negative-interval', 'days_between(`from`, `to`)', 1, [2, 'to', '2026-03-10']],
  ['negative-interval', '`to` - `from`', 1, [2, 'to', '2026-03-10']],
  ['negative-interval', 'at - `to`', 0, [1, 'to', '2026-03-14']],
  ['negative-interval', 'workdays_between(`from`, `to`)', 1, [2, 'to', '2026-03-10']],
  ['negative-interval', "elapsed(`from`, `to`, 'week')", 1, [2, 'to', '2026-03-10']],
  ['angle-beyond-turn', 'sin(angle)', 2, [2, 'angle', 0.5]],
  ['angle-beyond-turn', 'cos(angle / 2)', 2, [2, 'angle', 0.5]],
  ['division-by-zero', '1 / count', 1, [2, 'count', 5]],
  ['division-by-zero', '2 * angle / count + 1', 1, [2, 'count', 5]],
  ['blank-falls-through', 'if(count > 1, 1, 2)', 1, [3, 'count', 5]],
  ['blank-falls-through', 'case when count > 1 then 1 when angle > 50 then 3 else 2 end', 1, [3, 'count', 0]],
  ['blank-falls-through', "case count when 3 then 'x' else 'y' end", 1, [3, 'count', 5]],
] as const)('%s of %s', (code, formula, rows, [row, column, value]) => {
  test('counts its rows', () => expect(found(visits(formula), code)?.rows ?? 0).toBe(rows))

  test('follows an edit and its undoing', () => {
    const book = visits(formula)
    set(book, row, column, value)
    expect(found(book, code)?.rows ?? 0).toBe(Math.max(0, rows - 1))
    book.undo()
    expect(found(book, code)?.rows ?? 0).toBe(rows)
  })

  test('goes with its rows', () => {
    const book = visits(formula)
    const { findings } = book.apply({ op: 'remove-rows', table: 'visits', rows: [2, 3] })
    expect(found(book, code)).toBeUndefined()
    expect(findings.removed.map((one) => one.code)).toEqual(rows > 0 ? [code] : [])
  })

  test('its fixes remove it', () => {
    const book = visits(formula)
    for (const fix of found(book, code)?.fixes ?? []) {
      if (fix.edits === undefined) book.apply([...(fix.operations ?? [])] as Operation[])
      else
        book.apply({ op: 'change-column', table: 'visits', column: 'result', set: { formula: applyEdits(formula, fix.edits) } })
      expect(found(book, code), fix.title).toBeUndefined()
      book.undo()
    }
  })
})

describe('what is not watched', () => {
  test.each([
    ['sin(radians(angle))', 'angle-beyond-turn'],
    ['sin(2 * pi() * angle)', 'angle-beyond-turn'],
    ['sin(90)', 'angle-beyond-turn'],
    ['days_between(`from`, @2026-01-01)', 'negative-interval'],
    ['`from` - 20', 'negative-interval'],
    ['count per count', 'division-by-zero'],
    ['angle / 2', 'division-by-zero'],
    ['if(count is blank, 0, if(count > 1, 1, 2))', 'blank-falls-through'],
  ])('%s: no %s', (formula, code) => expect(found(visits(formula), code)).toBeUndefined())

  test('an untaken branch is not counted', () => {
    expect(found(visits('case when angle < 5 then 1 else 1 / count end'), 'division-by-zero')?.rows).toBe(1)
    expect(found(visits('case when angle > 5 then 1 else 1 / count end'), 'division-by-zero')).toBeUndefined()
    expect(found(visits('case when angle > 5 then 1 when 1 / count > 9 then 2 else 3 end'), 'division-by-zero')).toBeUndefined()
  })
})

describe('a fix that is an operation', () => {
  test('makes a text column one of numbers, so that the formula fits', () => {
    const book = new Workbook()
    book.apply({ op: 'add-table', table: 't', columns: [{ name: 'kg', type: 'text' }] })
    book.apply({ op: 'insert-rows', table: 't', rows: [{ kg: '1.5' }, { kg: 'about 3' }] })
    const [wrong] = book.language('t').findings('kg * 2')
    expect(wrong?.code).toBe('type-mismatch')
    const operations = wrong?.fixes.find((fix) => fix.operations !== undefined)?.operations
    book.apply([...(operations ?? [])] as Operation[])
    expect(book.language('t').findings('kg * 2')).toEqual([])
    expect(book.table('t').column('kg').stored(2)).toEqual({ misfit: 'about 3' })
  })
})
