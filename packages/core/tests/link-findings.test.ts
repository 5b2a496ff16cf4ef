import { describe, expect, test } from 'vitest'
import { type Finding, Workbook } from '../src/index.js'

/** What is wrong with the keys of links: missing, doubled, alike but not equal; with counts that follow every edit. */

function book(harvests: readonly (string | null)[], hives: readonly (string | null)[]): Workbook {
  const made = new Workbook()
  made.apply([
    { op: 'add-table', table: 'hives', columns: [{ name: 'tag', type: 'text' }] },
    { op: 'add-table', table: 'harvests', columns: [{ name: 'hive', type: 'text' }] },
    { op: 'insert-rows', table: 'hives', rows: hives.map((tag) => ({ tag })) },
    { op: 'insert-rows', table: 'harvests', rows: harvests.map((hive) => ({ hive })) },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
  ])
  return made
}

const told = (findings: readonly Finding[]): unknown[] => findings.map(({ code, rows, message }) => [code, rows, message])

describe('keys', () => {
  test.each([
    ['all in order', ['A', 'B', null], ['A', 'B'], []],
    [
      'missing',
      ['A', 'X', 'X', 'Y', 'Z', 'W', null],
      ['A'],
      [['unmatched-keys', 5, 'harvests.hive leads nowhere for 5 rows: hives has no "X", "Y", "Z" or 1 more.']],
    ],
    [
      'doubled, blanks not counted',
      ['A'],
      ['A', 'B', 'A', null, null],
      [['repeated-keys', 2, 'hives has 1 key in several rows, as "A"; what is read over harvests.hive is many-matches there.']],
    ],
    [
      'alike',
      ['a', ' B', 'C'],
      ['A', 'B', 'C'],
      [['look-alike-keys', 2, 'harvests.hive leads nowhere for 2 rows, although "a" looks like "A".']],
    ],
  ])('%s', (_, harvests, hives, expected) => expect(told(book(harvests, hives).check())).toEqual(expected))

  test('that look alike are mended in one step', () => {
    const made = book(['a', 'A', 'b '], ['A', 'B'])
    const [fix] = made.check()[0]?.fixes ?? []
    expect(fix?.title).toBe('Write 2 keys as hives has them')
    const change = made.applyJson(fix?.operations as { op: string }[])
    expect(made.table('harvests').column('hive').values()).toEqual(['A', 'A', 'B'])
    expect(change.findings.removed.map((one) => one.code)).toEqual(['look-alike-keys'])
    expect(made.check()).toEqual([])
  })

  test('are counted again with every edit of either table', () => {
    const made = book(['A', 'X'], ['A'])
    const set = (table: string, row: number, column: string, value: string | null) =>
      made.apply({ op: 'set-cells', table, cells: [{ row, column, value }] })
    expect(set('harvests', 2, 'hive', 'A').findings.removed.map((one) => one.code)).toEqual(['unmatched-keys'])
    expect(set('hives', 1, 'tag', 'B').findings.added).toMatchObject([{ code: 'unmatched-keys', rows: 2 }])
    const { findings } = made.apply({ op: 'insert-rows', table: 'hives', rows: [{ tag: 'A' }, { tag: 'A' }] })
    expect(findings.added).toMatchObject([{ code: 'repeated-keys', rows: 2 }])
    expect(findings.removed).toMatchObject([{ code: 'unmatched-keys' }])
    expect(made.apply({ op: 'remove-rows', table: 'hives', rows: [2] }).findings.removed).toMatchObject([
      { code: 'repeated-keys' },
    ])
    made.apply({ op: 'remove-link', table: 'harvests', name: 'hive' })
    expect(made.check()).toEqual([])
  })

  test('over several columns are told together', () => {
    const made = new Workbook()
    const columns = [
      { name: 'yard', type: 'text' },
      { name: 'number', type: 'number' },
    ]
    made.applyJson([
      { op: 'add-table', table: 'hives', columns },
      { op: 'add-table', table: 'harvests', columns },
      { op: 'insert-rows', table: 'hives', rows: [{ yard: 'N', number: 1 }] },
      {
        op: 'insert-rows',
        table: 'harvests',
        rows: [
          { yard: 'N', number: 1 },
          { yard: 'N', number: 2 },
        ],
      },
      { op: 'add-link', table: 'harvests', columns: ['yard', 'number'], to: 'hives', keys: ['yard', 'number'], name: 'hive' },
    ])
    expect(told(made.check())).toEqual([['unmatched-keys', 1, 'harvests.hive leads nowhere for 1 row: hives has no "N" + "2".']])
  })

  test('that are calculated are counted when they are', () => {
    const made = book(['a'], ['A'])
    made.apply([
      { op: 'add-column', table: 'harvests', column: { name: 'key', formula: 'upper(hive)' } },
      { op: 'add-link', table: 'harvests', columns: ['key'], to: 'hives', keys: ['tag'], name: 'own' },
    ])
    expect(made.check().map((one) => [one.code, one.column])).toEqual([['look-alike-keys', 'hive']])
    made.apply({ op: 'set-mode', mode: 'on-demand' })
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'hive', value: 'x' }] })
    made.apply({ op: 'set-mode', mode: 'live' })
    expect(made.check().map((one) => [one.code, one.column])).toEqual([
      ['unmatched-keys', 'hive'],
      ['unmatched-keys', 'key'],
    ])
  })
})
