import { describe, expect, test } from 'vitest'
import { type ChangeSet, Workbook } from '../src/index.js'

/** A source that is read again: rows matched by key, only what differs written, calculated columns kept in step. */

function book(): Workbook {
  const made = new Workbook()
  made.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'note', type: 'text' },
        { name: 'jars', formula: 'kg * 2' },
        { name: 'total', formula: 'sum(kg)' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'A', kg: 1, note: 'calm' },
        { tag: 'B', kg: 2 },
        { tag: 'B', kg: 3 },
        { tag: 'C', kg: 4 },
      ],
    },
  ])
  return made
}

const rows = (made: Workbook): unknown[] => made.query({ table: 'hives' }).rows()
const counts = (change: ChangeSet): unknown => ({
  changed: Object.fromEntries(change.changed.map((one) => [one.column, one.rows])),
  inserted: change.inserted.map((one) => one.ids),
  removed: change.removed.map((one) => one.ids),
})

describe('reread-rows', () => {
  test('writes what differs, adds what is new, removes what is gone, and keeps the rest', () => {
    const made = book()
    const block = { tag: ['C', 'B', 'D', 'A', 'B'], kg: [4, 2, 9, 7, 3] }
    const change = made.apply({ op: 'reread-rows', table: 'hives', block, key: ['tag'] })
    expect(counts(change)).toEqual({ changed: { kg: 1, jars: 2, total: 5 }, inserted: [[5]], removed: [] })
    expect(rows(made)).toEqual([
      ['A', 7, 'calm', 14, 25],
      ['B', 2, null, 4, 25],
      ['B', 3, null, 6, 25],
      ['C', 4, null, 8, 25],
      ['D', 9, null, 18, 25],
    ])
    made.undo()
    expect(rows(made)).toEqual(rows(book()))
  })

  test('read twice it changes nothing', () => {
    const made = book()
    const block = { tag: ['A', 'B', 'B', 'C'], kg: [1, 2, 3, 4] }
    expect(counts(made.apply({ op: 'reread-rows', table: 'hives', block, key: ['tag'] }))).toEqual({
      changed: {},
      inserted: [],
      removed: [],
    })
  })

  test('without a key it goes by place; a shorter source loses its last rows', () => {
    const made = book()
    const change = made.apply({ op: 'reread-rows', table: 'hives', block: { kg: [1, 5] }, gone: 'drop' })
    expect(counts(change)).toEqual({ changed: { kg: 1, jars: 1, total: 2 }, inserted: [], removed: [[3, 4]] })
    expect(made.table('hives').column('kg').values()).toEqual([1, 5])
  })

  test('what does not fit is a misfit with its text kept', () => {
    const made = book()
    made.apply({ op: 'reread-rows', table: 'hives', block: { tag: ['A'], kg: ['much'] }, key: ['tag'] })
    expect(String(made.table('hives').column('kg').values()[0])).toBe('!misfit')
  })

  test.each([
    [{ block: {} }, 'at least one column'],
    [{ block: { tag: ['A'], kg: [] } }, 'expected 1 values, received 0'],
    [{ block: { kg: [1] }, key: ['tag'] }, 'not among the columns read'],
    [{ block: { jars: [1] } }, 'calculated'],
    [{ block: { none: [1] } }, 'no column called none'],
  ])('refuses %o', (fields, message) => {
    const made = book()
    expect(() => made.apply({ op: 'reread-rows', table: 'hives', ...fields })).toThrow(message)
    expect(rows(made)).toEqual(rows(book()))
  })
})

describe('rows that the source has no more', () => {
  const shorter = { op: 'reread-rows', table: 'hives', block: { tag: ['A'], kg: [1] }, key: ['tag'] }
  const noted = (): Workbook => {
    const made = book()
    made.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 2, column: 'note', value: 'mine' }] })
    return made
  }

  test('go by themselves where nothing was typed beside them', () => {
    const made = book()
    made.applyJson(shorter)
    expect(made.table('hives').rowCount).toBe(1)
  })

  test('are named and refused where values would go that the source never had', () => {
    const made = noted()
    expect(() => made.applyJson(shorter)).toThrow(/1 row of hives would go.*typed in note: row 2/)
    expect(rows(made)).toEqual(rows(noted()))
  })

  test.each([
    ['keep', 4],
    ['drop', 1],
  ])('%s by choice', (gone, count) => {
    const made = noted()
    made.applyJson({ ...shorter, gone })
    expect(made.table('hives').rowCount).toBe(count)
    made.undo()
    expect(rows(made)).toEqual(rows(noted()))
  })
})

describe('the order of the source', () => {
  const turned = { op: 'reread-rows', table: 'hives', block: { tag: ['D', 'C', 'B', 'A'], kg: [9, 4, 2, 1] }, key: ['tag'] }
  const tags = (made: Workbook): unknown[] => made.table('hives').column('tag').values()

  test('is not that of the table unless asked for', () => {
    const made = book()
    made.applyJson({ ...turned, gone: 'keep' })
    const before = tags(book()) as string[]
    expect(tags(made).slice(0, before.length)).toEqual(before)
  })

  test('is taken with order, which undoes', () => {
    const made = book()
    const before = rows(made)
    made.applyJson({ ...turned, gone: 'keep', order: 'source' })
    expect(tags(made).slice(0, 4)).toEqual(['D', 'C', 'B', 'A'])
    made.undo()
    expect(rows(made)).toEqual(before)
  })
})
