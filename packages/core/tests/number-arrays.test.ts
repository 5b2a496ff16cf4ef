import { describe, expect, test } from 'vitest'
import { Refusal, Workbook } from '../src/index.js'

/** Typed arrays in and out, and runs of ids: what programs with millions of rows use. */

function book(): Workbook {
  const made = new Workbook()
  const columns = [
    { name: 'kg', type: 'number' },
    { name: 'day', type: 'date' },
    { name: 'note', type: 'text' },
    { name: 'twice', formula: 'kg * 2' },
  ]
  made.applyJson({ op: 'add-table', table: 't', columns })
  return made
}

describe('typed arrays', () => {
  const kg = Float64Array.of(1.5, Number.NaN, 3)
  const day = Int32Array.of(0, 1, 20_000)

  test.each([false, true])('come in as columns, into a table with rows already: %s', (hasRows) => {
    const made = book()
    if (hasRows) made.apply({ op: 'insert-rows', table: 't', rows: [{ kg: 9 }] })
    const change = made.apply({ op: 'insert-rows', table: 't', block: { kg, day } })
    const at = hasRows ? 1 : 0
    expect(made.table('t').column('kg').values().slice(at)).toEqual([1.5, null, 3])
    expect(made.table('t').column('day').values().slice(at)).toEqual(['1970-01-01', '1970-01-02', '2024-10-04'])
    expect(made.table('t').column('twice').numbers().slice(at)).toEqual(Float64Array.of(3, Number.NaN, 6))
    expect(change.inserted[0]?.rows).toBe(3)
    made.undo()
    expect(made.table('t').rowCount).toBe(at)
    made.redo()
    expect(made.table('t').column('twice').values().slice(at)).toEqual([3, null, 6])
  })

  test('what is no number of the column is refused', () => {
    for (const block of [
      { kg: Float64Array.of(Number.POSITIVE_INFINITY) },
      { day: Float64Array.of(0.5) },
      { note: Float64Array.of(1) },
      { twice: kg },
    ])
      expect(() => book().apply({ op: 'insert-rows', table: 't', block })).toThrow(Refusal)
  })

  test('texts and booleans have no numbers', () => {
    const made = book()
    made.apply({ op: 'insert-rows', table: 't', rows: [{ note: '5' }] })
    expect(made.table('t').column('note').numbers()).toEqual(Float64Array.of(Number.NaN))
  })
})

test('many new rows are told as a run of ids, which repeats and is undone like a list', () => {
  const made = book()
  const values = Float64Array.from({ length: 300 }, (_, row) => row)
  made.apply({ op: 'insert-rows', table: 't', rows: [{ kg: 1 }] })
  const { operations } = made.apply({ op: 'insert-rows', table: 't', block: { kg: values } })
  expect(operations).toMatchObject([{ ids: { first: 2, count: 300 } }])
  const again = book()
  again.apply({ op: 'insert-rows', table: 't', rows: [{ kg: 1 }] })
  again.applyJson({ ...operations[0], op: 'insert-rows', block: { kg: [...values] } })
  expect(again.table('t').rowIds()).toEqual(made.table('t').rowIds())
  made.undo()
  expect(made.table('t').rowIds()).toEqual([1])
  expect(() => made.apply({ op: 'insert-rows', table: 't', block: { kg: [1] }, ids: { first: 2, count: 2 } })).toThrow(
    'expected 2 values',
  )
  expect(() => made.apply({ op: 'remove-rows', table: 't', rows: { first: 1, count: 2 } })).toThrow('no row')
})
