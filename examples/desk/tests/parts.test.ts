import type { ColumnFacts, HistoryStep } from '@mellow-abacus/session'
import type { Trace } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { turnedBy } from '../src/book/desk-book'
import { holdsText } from '../src/find/cells-found'
import { draftParts } from '../src/formula/draft-parts'
import { blockHtml, blockText, pasteOperations } from '../src/grid/blocks'
import { groupedLines, type RowGroup, whereUnfolded } from '../src/grid/lines'
import { moved } from '../src/grid/moves'
import { bundled, type Thread, threadsOf } from '../src/grid/threads'
import { totalFormula, totalText, usualTotal } from '../src/grid/totals'
import { startText, typedValue } from '../src/grid/typed-value'
import { cellText, fullText, lookOf } from '../src/look/cell-text'
import { conditionOf } from '../src/look/condition-of'
import { chartOf } from '../src/views/chart-builder'
import { viewOf } from '../src/views/report-builder'
import { namedKeys, namedLines, namedOf, writtenNamed } from '../src/views/written'

const column = (name: string, type: ColumnFacts['type'], properties: object = {}, calculated = false): ColumnFacts => ({
  name,
  type,
  unit: (properties as { unit?: string }).unit ?? null,
  formula: calculated ? '1' : null,
  withheld: false,
  calculated,
  state: null,
  properties: { ...properties },
})

describe('what is typed into a cell', () => {
  test.each<[ColumnFacts['type'], string, object]>([
    ['number', '', { value: null }],
    ['number', ' 2.5 ', { value: 2.5 }],
    ['number', 'about 2', { refused: 'c holds numbers; "about 2" is none. Type one such as 12.5, or nothing for a blank.' }],
    ['integer', '3', { value: 3 }],
    ['integer', '3.5', { refused: 'c holds whole numbers; 3.5 would lose its fraction.' }],
    ['boolean', 'Yes', { value: true }],
    ['boolean', 'perhaps', { refused: 'c holds true or false; "perhaps" is neither.' }],
    ['date', '2026-03-14', { value: '2026-03-14' }],
    ['date', '2026-02-30', { refused: 'c holds dates like 2026-03-14; "2026-02-30" is none.' }],
    ['text', ' as it is ', { value: ' as it is ' }],
    [null, '9.5', { value: 9.5 }],
    [null, '0042', { value: '0042' }],
    [null, 'LM', { value: 'LM' }],
  ])('%s: "%s"', (type, text, expected) => {
    expect(typedValue(text, { name: 'c', type })).toEqual(expected)
  })

  test('an edit begins with the whole value', () => {
    expect([
      startText(0.1 + 0.2),
      startText(null),
      startText({ misfit: '4?' }),
      startText({ error: 'loop' }),
      startText(true),
    ]).toEqual(['0.30000000000000004', '', '4?', '', 'true'])
  })
})

describe('how cells are shown', () => {
  test.each<[Parameters<typeof cellText>[0], object, string, string]>([
    [1.5, { type: 'number', decimals: 2 }, '1.50', 'value'],
    [0.125, { type: 'number', display: 'percent', decimals: 1 }, '12.5%', 'value'],
    ['2026-03-14', { type: 'date', display: 'd MMM yyyy' }, '14 Mar 2026', 'value'],
    [null, { type: 'number' }, '', 'blank'],
    [{ error: 'division-by-zero' }, { type: 'number' }, '!division-by-zero', 'error'],
    [{ misfit: '4?' }, { type: 'number' }, '4?', 'misfit'],
    ['', { type: 'text' }, '""', 'value'],
    [true, { type: 'boolean' }, 'true', 'value'],
  ])('%j with %j is "%s"', (value, look, text, kind) => {
    expect(cellText(value, look as never)).toEqual({ text, kind })
  })

  test('a column has as many decimals as its typical value asks for, percent has one', () => {
    expect(lookOf(column('c', 'number', {}, true), [{ c: 1 / 3 }, { c: 20.5 }])).toEqual({ type: 'number', decimals: 4 })
    expect(lookOf(column('c', 'number', { display: 'percent' }), [])).toEqual({ type: 'number', display: 'percent', decimals: 1 })
    expect(fullText(1 / 3)).toBe('0.333333333333333')
  })
})

describe('totals', () => {
  test.each<[ColumnFacts, string]>([
    [column('latitude', 'number', { unit: '°' }), 'mean'],
    [column('bare', 'number'), 'none'],
    [column('kg', 'number', { unit: 'kg' }), 'sum'],
    [column('share', 'number', { unit: '%' }), 'mean'],
    [column('bees', 'integer'), 'sum'],
    [column('worth', 'number', { display: 'currency:EUR' }), 'sum'],
    [column('name', 'text'), 'different'],
    [column('day', 'date'), 'greatest'],
    [column('ok', 'boolean'), 'share'],
  ])('of $name', (of, total) => {
    expect(usualTotal(of)).toBe(total)
  })

  test('errors are left out, and names are quoted where they must be', () => {
    expect(totalFormula('sum', 'honey kg')).toBe('sum(`honey kg` where not (`honey kg` is error))')
    expect(totalText('sum', 23030.4, { type: 'number', decimals: 1 }, 'kg')).toBe('23,030.4 kg')
    expect(totalText('mean', 3.2770314, { type: 'number', decimals: 5 }, '%')).toBe('3.277 %')
    expect(totalText('mean', 3229.94, { type: 'number', decimals: 2 }, null)).toBe('3230')
    expect(totalText('mean', 8.25, { type: 'number', decimals: 1 }, 'kg')).toBe('8.3 kg')
    expect(totalText('share', 0.5, { type: 'boolean' }, null)).toBe('50 %')
  })
})

describe('threads', () => {
  const edge = (from: string, to: string, depth: number) => ({
    from,
    to,
    depth,
    kind: 'row',
    role: 'value',
    text: '',
    plan: null,
  })
  const trace = {
    column: 't.b',
    upstream: [edge('t.a', 't.b', 1), edge('u.x', 't.b', 1)],
    downstream: [edge('t.b', 't.c', 1), edge('t.c', 't.d', 2)],
  } as unknown as Trace
  const names = new Map(['a', 'b', 'c', 'd'].map((name) => [`t.${name}`, name]))

  test('go as far as they are to reach, within the table', () => {
    expect(threadsOf(trace, names, 1)).toEqual([
      { from: 'a', to: 'b', kind: 'source' },
      { from: 'b', to: 'c', kind: 'dependent' },
    ])
    expect(threadsOf(trace, names, 'all')).toHaveLength(3)
  })

  test('are one cord with their number where they are many to one side', () => {
    const many: Thread[] = Array.from({ length: 9 }, (_, at) => ({ from: 'p', to: `c${at}`, kind: 'dependent' }))
    const placeOf = (name: string): number => (name === 'p' ? 5 : 10 + Number(name.slice(1)))
    const few: Thread = { from: 'a0', to: 'p', kind: 'source' }
    const place = (name: string): number => (name === 'a0' ? 1 : placeOf(name))
    expect(bundled([...many, few], 'p', place)).toEqual({ single: [few], cords: [{ side: 1, count: 9, to: 'c8' }] })
  })
})

describe('keys', () => {
  test.each<[string, boolean, object | null]>([
    ['ArrowDown', false, { place: 4, column: 2 }],
    ['ArrowDown', true, { place: 90, column: 2 }],
    ['ArrowLeft', true, { place: 3, column: 0 }],
    ['PageUp', false, { place: 1, column: 2 }],
    ['End', true, { place: 90, column: 4 }],
    ['Home', false, { place: 3, column: 0 }],
    ['x', false, null],
  ])('%s with Ctrl %s', (key, ctrlKey, expected) => {
    expect(moved({ place: 3, column: 2 }, { key, ctrlKey, metaKey: false }, { rows: 90, columns: 5, page: 20 })).toEqual(expected)
  })
})

describe('blocks of cells', () => {
  const columns = [column('n', 'number'), column('t', 'text'), column('c', 'number', {}, true)]

  test('are copied as text and as a table', () => {
    const rows = [
      { n: 1.5, t: 'a\tb' },
      { n: null, t: '<b>' },
    ]
    expect(blockText(rows, ['n', 't'])).toBe('1.5\t"a\tb"\n\t<b>')
    expect(blockHtml(rows, ['t'])).toBe('<table><tr><td>a\tb</td></tr><tr><td>&lt;b></td></tr></table>')
  })

  test('are pasted over rows that there are, and as rows that there are not yet', () => {
    expect(
      pasteOperations(
        't',
        [
          ['1', 'a'],
          ['2', 'b'],
        ],
        columns,
        [7],
        true,
      ),
    ).toEqual([
      {
        op: 'set-cells',
        table: 't',
        cells: [
          { row: 7, column: 'n', value: 1 },
          { row: 7, column: 't', value: 'a' },
        ],
      },
      { op: 'insert-rows', table: 't', rows: [{ n: 2, t: 'b' }] },
    ])
    const untyped = [column('a', null), column('b', null)]
    const rows = [
      ['1', 'A7'],
      ['2', '8'],
    ]
    // Of a column that has no type yet, all that comes into it decides.
    expect(pasteOperations('t', rows, untyped, [], true)).toEqual([
      {
        op: 'insert-rows',
        table: 't',
        rows: [
          { a: 1, b: 'A7' },
          { a: 2, b: '8' },
        ],
      },
    ])
    // Dates are dates, where its type may be said; what is no date of the calendar is a text.
    const days = [
      ['2026-03-14', '2026-02-30'],
      ['', '2026-02-01'],
    ]
    const dated = { op: 'change-column', table: 't', column: 'a', set: { type: 'date' } }
    expect(pasteOperations('t', days, untyped, [7, 8], true)[0]).toEqual(dated)
    expect(pasteOperations('t', days, untyped, [7, 8], true)).toHaveLength(2)
    expect(pasteOperations('t', days, untyped, [7, 8], false)).toHaveLength(1)
    expect(() => pasteOperations('t', [['x']], columns, [7], true)).toThrow('n holds numbers')
    expect(() => pasteOperations('t', [['1', 'a', '2']], columns, [7], true)).toThrow('c is calculated')
    expect(() => pasteOperations('t', [['1', 'a', '2', '3']], columns, [7], true)).toThrow('The block has 4 columns')
  })
})

test.each([
  [['LM'], "site = 'LM'"],
  [['LM', "O'Hara"], "site in ('LM', 'O''Hara')"],
  [[null], 'site is blank'],
  [[3, null], 'site = 3 or site is blank'],
  [[], ''],
])('picked values %j are the condition %s', (values, condition) => {
  expect(conditionOf('site', values)).toBe(condition)
})

describe('what is written in a builder', () => {
  test.each([
    ['total = sum(honey_kg)', { name: 'total', formula: 'sum(honey_kg)' }],
    ['`of all` = a per b', { name: 'of all', formula: 'a per b' }],
    ['hive.yard.name', { name: 'hive.yard.name', formula: 'hive.yard.name' }],
    ['a == b', { name: 'a == b', formula: 'a == b' }],
  ])('%s', (text, named) => {
    expect(namedOf(text)).toEqual(named)
    expect(namedOf(writtenNamed(named))).toEqual(named)
  })

  test('keys end at commas that are of no call and of no text; lines at their ends', () => {
    expect(namedKeys("month = text(taken, 'yyyy, MM'), forage").map(({ name }) => name)).toEqual(['month', 'forage'])
    expect(namedLines('a = 1\n\n b = 2')).toEqual([
      { name: 'a', formula: '1' },
      { name: 'b', formula: '2' },
    ])
  })

  test('what the fields do not say of a report stays as it was', () => {
    const fields = { table: 't', levels: 'site', tallies: 'kg = sum(kg)', lines: '', where: ' kg > 1 ' }
    const former = { table: 't', tallies: [{ name: 'kg', formula: 'mean(kg)', unit: 'kg' }], order: [{ by: 'kg' }] }
    expect(viewOf(fields, former)).toEqual({
      table: 't',
      levels: [{ key: 'site' }],
      tallies: [{ name: 'kg', formula: 'sum(kg)', unit: 'kg' }],
      where: 'kg > 1',
      order: [{ by: 'kg' }],
    })
  })

  test('a chart draws nothing until something is said to be drawn; a curve goes through the first series', () => {
    const fields = {
      source: 'table combs',
      x: 'day',
      title: '',
      series: [{ formula: '', kind: 'line', axis: 'left' }],
      degree: '3',
    } as const
    expect(chartOf(fields, undefined)).toBeNull()
    expect(chartOf({ ...fields, series: [{ formula: 'comb_cm2', kind: 'point', axis: 'right' }] }, undefined)).toEqual({
      table: 'combs',
      x: 'day',
      series: [{ formula: 'comb_cm2', kind: 'point', axis: 'right' }],
      fit: { series: 'comb_cm2', degree: 3 },
    })
  })
})

test('a draft says a name and a formula, or not yet', () => {
  expect(draftParts({ column: null, text: 'half = kg / 2' })).toEqual({ name: 'half', formula: 'kg / 2', from: 7 })
  expect(draftParts({ column: null, text: 'half' })).toBeNull()
  expect(draftParts({ column: 'half', text: 'kg / 2' })).toEqual({ name: 'half', formula: 'kg / 2', from: 0 })
})

test('which steps stand is told from the history', () => {
  const step = (revision: number, kind: HistoryStep['kind'], author: string | null = 'you'): HistoryStep => ({
    revision,
    kind,
    at: null,
    author,
    what: '',
    cells: [],
    recalculated: [],
  })
  const steps = [step(1, 'apply', null), step(2, 'apply'), step(3, 'apply'), step(4, 'undo'), step(5, 'undo'), step(6, 'redo')]
  expect(turnedBy(steps)).toEqual({ done: [2], undone: [3] })
  expect(turnedBy([...steps, step(7, 'apply')])).toEqual({ done: [2, 7], undone: [] })
})

describe('lines of rows in groups', () => {
  const group = (rows: number, isFolded = false): RowGroup => ({ key: rows, rows, isFolded, totals: new Map() })

  test('each row stands below the line of its group, wherever groups are folded', () => {
    const groups = [group(2), group(3, true), group(1), group(4, true)]
    const lines = groupedLines(groups)
    const told = Array.from({ length: lines.count }, (_, index) => {
      const line = lines.lineAt(index)
      return 'group' in line ? `group ${groups.indexOf(line.group)}` : line.place
    })
    expect(told).toEqual(['group 0', 1, 2, 'group 1', 'group 2', 3, 'group 3'])
    for (const place of [1, 2, 3]) {
      expect(lines.lineAt(lines.indexOf(place))).toEqual({ place })
      expect(lines.groupAt(place)).toBe(place === 3 ? groups[2] : groups[0])
    }
  })

  test.each([
    [['a', "b'c"], "site is error or (site is blank or not (site in ('a', 'b''c')))"],
    [[null, 'a'], "site is error or (site is blank or not (site = 'a')) and (not (site is blank))"],
    [[{ error: 'loop' as const }], 'not (site is error)'],
    [[{ error: 'loop' as const }, null], 'not (site is error) and (not (site is blank))'],
  ])('folded groups %j are left out', (folded, condition) => {
    expect(whereUnfolded('', { name: 'site', isDate: false }, folded)).toBe(condition)
    expect(whereUnfolded('x > 1', { name: 'site', isDate: false }, folded)).toBe(`(x > 1) and (${condition})`)
  })
})

test.each([
  ["O'Hara", "(site is not error and contains(lower(site), 'o''hara'))"],
  ['12', "(site is not error and contains(lower(site), '12')) or (kg is not error and kg = 12)"],
  ['2026-02-28', "(site is not error and contains(lower(site), '2026-02-28')) or (seen is not error and seen = @2026-02-28)"],
  ['2026-02-31', "(site is not error and contains(lower(site), '2026-02-31'))"],
])('what holds "%s" is asked of texts, and of numbers and dates where it is one', (sought, condition) => {
  const columns = [column('site', 'text'), column('kg', 'number'), column('seen', 'date'), column('ok', 'boolean')]
  expect(holdsText(columns, sought)).toBe(condition)
})
