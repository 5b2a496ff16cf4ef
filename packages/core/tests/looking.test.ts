import { describe, expect, test } from 'vitest'
import { type Refusal, Workbook } from '../src/index.js'
import { inspections } from './helpers/inspections-book.js'

/** Looking without changing: queries and previews. */

describe('queries', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'x', type: 'number' },
        { name: 's', type: 'text' },
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      rows: [
        { x: 2, s: 'b' },
        { x: null, s: 'a' },
        { x: 1, s: 'b' },
        { x: { misfit: '?' }, s: null },
        { x: 2, s: 'a' },
      ],
    },
  ])
  test.each([
    ['x', [3, 1, 5, 2, 4]],
    ['x desc', [1, 5, 3, 2, 4]],
    ['s, x desc', [5, 2, 1, 3, 4]],
    ['`s` desc, x', [3, 1, 5, 2, 4]],
  ])('order %s: values, blanks, errors; ties in row order', (order, ids) =>
    expect(book.query({ table: 't', order }).ids()).toEqual(ids),
  )

  test('where keeps the rows that are true, limit says how many there were', () => {
    const found = book.query({ table: 't', where: 'x >= 1', columns: ['s'], limit: 2 })
    expect([found.ids(), found.matched, found.rows()]).toEqual([[1, 3], 3, [['b'], ['b']]])
    expect(book.query({ table: 't', where: 'blank' }).ids()).toEqual([])
  })

  test.each([
    [{ where: 'x + 1' }, 'type-mismatch'],
    [{ where: 'y' }, 'unknown-name'],
    [{ order: 'y' }, 'unknown-column'],
    [{ order: 'x,' }, 'bad-operation'],
    [{ columns: ['y'] }, 'unknown-column'],
  ])('%j is refused', (query, code) => {
    try {
      book.query({ table: 't', ...query })
      expect.unreachable()
    } catch (error) {
      expect((error as Refusal).code).toBe(code)
    }
  })
})

describe('a preview', () => {
  test('shows sample rows and changes nothing', () => {
    const book = inspections()
    const preview = book.previewColumn('inspections', {
      name: 'act',
      formula: "case when infestation > 2 then 'treat' when mites = 0 then 'none' else 'wait' end",
    })
    expect(preview).toMatchObject({ type: 'text', rowCount: 2, blanks: 0, errors: 0 })
    expect(preview.rows.map(({ row, why, result }) => [row, why, result])).toEqual([
      [1, 'when infestation > 2', 'treat'],
      [2, "a blank falls through; else 'wait'; a blank source", 'wait'],
    ])
    expect(preview.findings).toMatchObject([{ code: 'blank-falls-through', rows: 1 }])
    expect(book.table('inspections').columns).toHaveLength(3)
  })

  test('of a formula that cannot run has findings and no rows', () => {
    expect(inspections().previewColumn('inspections', { name: 'x', formula: 'mites +' })).toMatchObject({
      type: null,
      rows: [],
      findings: [{ code: 'expected-value' }],
    })
  })

  test('sees a ring through other columns', () => {
    expect(
      inspections().previewColumn('inspections', { name: 'infestation', formula: 'infestation + 1' }).findings,
    ).toMatchObject([{ code: 'cycle' }])
    const book = inspections()
    book.apply({ op: 'add-column', table: 'inspections', column: { name: 'next', formula: 'infestation + 1' } })
    expect(book.previewColumn('inspections', { name: 'infestation', formula: 'next' }).findings).toMatchObject([
      { code: 'cycle' },
    ])
  })
})
