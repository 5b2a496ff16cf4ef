import { describe, expect, test } from 'vitest'
import { type ChangeSet, type ColumnCells, type Operation, Refusal, Workbook } from '../src/index.js'

/** When columns follow their sources: at once, on demand, or in slices after an edit that moves very many cells. */

function harvests(mostAtOnce?: number): Workbook {
  const book = new Workbook(mostAtOnce === undefined ? {} : { mostAtOnce })
  book.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
        { name: 'jars', formula: 'kg * 2' },
        { name: 'of_hive', formula: 'sum(kg by hive)' },
        { name: 'share', formula: 'share(kg)' },
        { name: 'percent', formula: 'round(100 * share, 1)' },
        { name: 'before', formula: 'lag(kg)' },
      ],
    },
    { op: 'set-tally', table: 'harvests', name: 'total_kg', formula: 'sum(kg)' },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'A', kg: 1 },
        { hive: 'A', kg: 2 },
        { hive: 'B', kg: 5 },
      ],
    },
  ])
  return book
}

const setKg = (book: Workbook, row: number, value: number): ChangeSet =>
  book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row, column: 'kg', value }] })
const column = (book: Workbook, name: string): unknown[] => book.table('harvests').column(name).values()
const rowsOf = (cells: readonly ColumnCells[]): Record<string, number[]> =>
  Object.fromEntries(cells.map((one) => [one.column, [...one.ids()].sort((a, b) => a - b)]))

describe('on demand', () => {
  const onDemand = (): Workbook => {
    const book = harvests()
    book.apply({ op: 'set-mode', mode: 'on-demand' })
    return book
  }

  test('an edit marks exactly what it reaches, and changes no calculated value', () => {
    const book = onDemand()
    const change = setKg(book, 1, 10)
    expect(change.recalculated).toEqual([])
    expect(rowsOf(change.stale)).toEqual({
      jars: [1],
      of_hive: [1, 2],
      before: [1, 2],
      share: [1, 2, 3],
      percent: [1, 2, 3],
      total_kg: [1],
    })
    expect(rowsOf(book.stale)).toEqual(rowsOf(change.stale))
    expect(column(book, 'jars')).toEqual([2, 4, 10])
    expect(book.table('harvests').column('jars').staleIds()).toEqual([1])
    expect(book.table('harvests').tally('total_kg')).toBe(8)
  })

  test('recalculate brings up what is asked for with what it is made from, and no more', () => {
    const book = onDemand()
    setKg(book, 1, 10)
    const change = book.apply({ op: 'recalculate', columns: ['harvests.percent'] })
    expect(rowsOf(change.recalculated)).toEqual({ share: [1, 2, 3], percent: [1, 2, 3] })
    expect(column(book, 'percent')).toEqual([58.8, 11.8, 29.4])
    expect(Object.keys(rowsOf(book.stale)).sort()).toEqual(['before', 'jars', 'of_hive', 'total_kg'])
    book.apply({ op: 'recalculate' })
    expect(book.stale).toEqual([])
    expect(column(book, 'of_hive')).toEqual([12, 12, 5])
    expect(book.table('harvests').tally('total_kg')).toBe(17)
  })

  test('live again calculates everything, and a new row is stale until then', () => {
    const book = onDemand()
    book.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'B', kg: 4 }] })
    expect(column(book, 'jars')).toEqual([2, 4, 10, null])
    expect(book.table('harvests').column('jars').staleIds()).toEqual([4])
    const change = book.apply({ op: 'set-mode', mode: 'live' })
    expect(rowsOf(change.recalculated).of_hive).toEqual([3, 4])
    expect(column(book, 'jars')).toEqual([2, 4, 10, 8])
    expect(column(book, 'of_hive')).toEqual([3, 3, 9, 9])
  })

  test('a filter and a new column go by what is shown', () => {
    const book = onDemand()
    setKg(book, 1, 10)
    expect(book.query({ table: 'harvests', where: 'jars > 5' }).matched).toBe(1)
    expect(book.query({ table: 'harvests', where: 'sum(jars by hive) > 5' }).matched).toBe(3)
    book.apply({ op: 'add-column', table: 'harvests', column: { name: 'boxes', formula: 'jars / 6' } })
    expect(book.table('harvests').column('boxes').stale).toBe(3)
  })

  test('what comes to nothing leaves no mark', () => {
    const book = onDemand()
    const bad = { op: 'add-column', table: 'harvests', column: { name: 'x', formula: 'nothing + 1' } }
    const edit = { op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'kg', value: 3 }] }
    expect(() => book.applyJson([edit, bad])).toThrow(Refusal)
    expect(book.stale).toEqual([])
    expect(rowsOf(book.previewJson(edit).change.stale).jars).toEqual([1])
    expect(book.stale).toEqual([])
    expect(column(book, 'kg')).toEqual([1, 2, 5])
  })

  test.each(['harvests', 'harvests.none', 'value:none', 'none.jars', 'tally:harvests.none'])(
    'no column is called %s',
    (address) => {
      expect(() => onDemand().apply({ op: 'recalculate', columns: [address] })).toThrow(Refusal)
    },
  )

  test('names with points and backticks have addresses too', () => {
    const book = onDemand()
    book.apply({ op: 'rename-table', table: 'harvests', to: 'har.vests' })
    book.apply({ op: 'rename-column', table: 'har.vests', column: 'jars', to: 'ja`r s' })
    book.apply({ op: 'set-cells', table: 'har.vests', cells: [{ row: 1, column: 'kg', value: 3 }] })
    book.apply({ op: 'recalculate', columns: ['`har.vests`.`ja``r s`', 'har.vests.share'] })
    expect(book.stale.map((one) => one.column).sort()).toEqual(['before', 'of_hive', 'percent', 'total_kg'])
  })
})

describe('an edit that moves more cells than are calculated at once', () => {
  test('returns with the rest marked stale, and whoever reads gets the right values', () => {
    const book = harvests(2)
    const change = setKg(book, 1, 10)
    expect(rowsOf(change.stale)).toEqual({ share: [1, 2, 3], percent: [1, 2, 3] })
    expect(rowsOf(change.recalculated).of_hive).toEqual([1, 2])
    expect(book.table('harvests').column('percent').value(2)).toBe(11.8)
    expect(column(book, 'share')).toEqual([10 / 17, 2 / 17, 5 / 17])
    expect(book.stale).toEqual([])
  })

  test('is flushed step by step while nobody waits', () => {
    const book = harvests(2)
    setKg(book, 1, 10)
    const first = book.flush(0)
    expect(first.isLeft).toBe(true)
    expect(rowsOf(first.recalculated)).toEqual({ share: [1, 2, 3] })
    const second = book.flush()
    expect(second.isLeft).toBe(false)
    expect(rowsOf(second.changed)).toEqual({ percent: [1, 2, 3] })
    expect(book.flush()).toEqual({ recalculated: [], changed: [], findings: { added: [], removed: [] }, isLeft: false })
  })

  test('queries, groups, previews and new columns see the values of now', () => {
    const read: ((book: Workbook) => unknown)[] = [
      (book) => book.query({ table: 'harvests', where: 'percent > 20', order: 'percent', columns: ['percent'] }).rows(),
      (book) =>
        book.group({ table: 'harvests', levels: [{ key: 'hive' }], tallies: [{ name: 'p', formula: 'sum(percent)' }] }).rows(),
      (book) => book.previewColumn('harvests', { name: 'x', formula: 'percent + 1' }).rows.map((row) => row.result),
      (book) => {
        book.apply({ op: 'add-column', table: 'harvests', column: { name: 'x', formula: 'rank(percent)' } })
        return column(book, 'x')
      },
      (book) => {
        book.apply({ op: 'detach-column', table: 'harvests', column: 'percent' })
        return column(book, 'percent')
      },
      (book) => book.check(),
    ]
    for (const look of read) {
      const [sliced, whole] = [harvests(2), harvests()]
      setKg(sliced, 1, 10)
      setKg(whole, 1, 10)
      expect(look(sliced)).toEqual(look(whole))
    }
  })
})

describe('progress', () => {
  const formulas = (): Operation[] =>
    ['kg * 3', 'sum(kg by hive)', 'lag(kg)', 'count(every harvests where kg <> this.kg)'].map((formula, index) => ({
      op: 'add-column',
      table: 'harvests',
      column: { name: `x${index}`, formula },
    }))

  test('is told from nothing to all, and the result is the same as without', () => {
    const [told, untold] = [harvests(), harvests()]
    const shares: number[] = []
    told.apply(formulas(), { progress: (share) => void shares.push(share) })
    untold.apply(formulas())
    expect(shares[0]).toBe(0)
    expect(shares.at(-1)).toBe(1)
    expect([...shares].sort((a, b) => a - b)).toEqual(shares)
    for (const name of ['x0', 'x1', 'x2', 'x3']) expect(column(told, name)).toEqual(column(untold, name))
    expect(told.stale).toEqual([])
  })

  test.each([1, 2, 3, 4])('ended at step %i it leaves the workbook as it was', (last) => {
    const book = harvests()
    const before = book.table('harvests').columns.map((one) => [one.name, one.values()])
    let step = 0
    const edit = { op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'kg', value: 10 }] }
    const run = (): ChangeSet => book.applyJson([...formulas(), edit], { progress: () => ++step < last })
    expect(run).toThrow('cancelled')
    expect(step).toBe(last)
    expect(book.table('harvests').columns.map((one) => [one.name, one.values()])).toEqual(before)
    expect(book.revision).toBe(1)
  })

  test('goes with recalculating on demand, which can be ended too', () => {
    const book = harvests()
    book.apply({ op: 'set-mode', mode: 'on-demand' })
    setKg(book, 1, 10)
    expect(() => book.apply({ op: 'recalculate' }, { progress: () => false })).toThrow(Refusal)
    const shares: number[] = []
    book.apply({ op: 'recalculate', columns: ['harvests.percent'] }, { progress: (share) => void shares.push(share) })
    expect(shares).toEqual([0, 1 / 3, 2 / 3, 1].map((share) => expect.closeTo(share)))
    expect(column(book, 'percent')).toEqual([58.8, 11.8, 29.4])
  })
})

describe('a scan that nobody would wait for', () => {
  test('is told of before it runs, and runs only when somebody reads it', () => {
    const book = new Workbook()
    const rows = 25_000
    book.apply([
      { op: 'add-table', table: 'a', columns: [{ name: 'x', type: 'number' }] },
      { op: 'insert-rows', table: 'a', count: rows },
    ])
    const definition = { op: 'add-column', table: 'a', column: { name: 'n', formula: 'count(every a where x <> this.x)' } }
    const change = book.applyJson(definition)
    expect(change.stale).toMatchObject([{ column: 'n', rows }])
    expect(change.findings.added).toMatchObject([
      {
        code: 'costly-scan',
        message: 'count(every a where x <> this.x) looks at 625000000 pairs of rows, which takes about 13 seconds.',
      },
    ])
    const first = book.flush(0)
    expect(first.isLeft).toBe(true)
    expect(book.stale[0]?.rows).toBeLessThanOrEqual(rows)
    book.undo()
    expect(book.check()).toEqual([])
  })
})

test('what ranges leave to look at is estimated from some of them', () => {
  const book = new Workbook()
  const rows = 40_000
  const define = (name: string, formula: string): ChangeSet =>
    book.apply({ op: 'add-column', table: 'a', column: { name, formula } })
  book.apply([
    { op: 'add-table', table: 'a', columns: [{ name: 'x', type: 'number' }] },
    { op: 'insert-rows', table: 'a', block: { x: Array.from({ length: rows }, (_, at) => at) } },
  ])
  const narrow = define('near', 'median(every a.x where x between this.x - 2 and this.x + 2)')
  expect([narrow.stale, narrow.findings.added]).toEqual([[], []])
  const wide = define('below', 'median(every a.x where x <= this.x)')
  expect(wide.stale).toMatchObject([{ column: 'below', rows }])
  expect(wide.findings.added).toMatchObject([
    { code: 'costly-scan', message: expect.stringMatching(/looks at 7\d{8}(\.\d)? pairs/) },
  ])
  // A total of the same rows comes from a tree, whatever their number.
  expect(define('sum', 'sum(every a.x where x <= this.x)').stale).toEqual([])
})

test('what hierarchies leave to look at is counted, and loops are found in one walk', () => {
  const rows = 40_000
  const hierarchy = (parentOf: (row: number) => number | null): ChangeSet => {
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 'a', columns: ['id', 'up', 'x'].map((name) => ({ name, type: 'number' })) },
      {
        op: 'insert-rows',
        table: 'a',
        block: Object.fromEntries(
          [['id', (row: number) => row] as const, ['up', parentOf] as const, ['x', () => 1] as const].map(([name, of]) => [
            name,
            Array.from({ length: rows }, (_, row) => of(row)),
          ]),
        ),
      },
      { op: 'add-link', table: 'a', columns: ['up'], to: 'a', keys: ['id'] },
    ])
    const change = book.apply({ op: 'add-column', table: 'a', column: { name: 's', formula: 'sum(x below up)' } })
    if (change.stale.length === 0) return Object.assign(change, { values: book.table('a').column('s').values() })
    return change
  }
  const codes = ({ findings }: ChangeSet): string[] => findings.added.map(({ code }) => code)
  // Each below the one before: half of all pairs.
  const chain = hierarchy((row) => (row === 0 ? null : row - 1))
  expect([codes(chain), chain.stale[0]?.rows]).toEqual([['costly-scan'], rows])
  const loops = hierarchy((row) => (((row % 2000) + 1) % 2000) + Math.floor(row / 2000) * 2000) as ChangeSet & {
    values: unknown[]
  }
  expect(new Set(loops.values.map(String))).toEqual(new Set(['!loop']))
  const tree = hierarchy((row) => (row === 0 ? null : Math.floor((row - 1) / 2))) as ChangeSet & { values: unknown[] }
  expect(tree.values.slice(0, 3)).toEqual([rows - 1, 23_615, 16_382])
})

test('an error of a filter that is computed late reaches rows of other groups', () => {
  const book = harvests(0)
  const formula = 'sum(every harvests.kg where hive = this.hive and 1 / kg > 0)'
  book.apply({ op: 'add-column', table: 'harvests', column: { name: 'm', formula } })
  book.apply({ op: 'insert-rows', table: 'harvests', rows: [{ kg: 1 }] })
  expect(column(book, 'm')).toEqual([3, 3, 5, null])
  setKg(book, 4, 0)
  expect(column(book, 'm').map(String)).toEqual(Array.from({ length: 4 }, () => '!division-by-zero'))
})

test('sums that were computed late follow what cells held before from then on', () => {
  const book = harvests()
  book.apply({ op: 'set-mode', mode: 'on-demand' })
  book.apply({ op: 'add-column', table: 'harvests', column: { name: 'm', formula: 'mean(kg * 2 by hive)' } })
  book.apply({ op: 'recalculate' })
  book.apply({ op: 'set-mode', mode: 'live' })
  book.apply({ op: 'remove-rows', table: 'harvests', rows: [1] })
  expect(column(book, 'm')).toEqual([4, 10])
})

describe('tick', () => {
  const clocked = (): Workbook => {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 'hives',
        columns: [
          { name: 'opened', type: 'date' },
          { name: 'age', formula: 'days_between(opened, today())' },
          { name: 'chance', formula: 'random()' },
          { name: 'mean_age', formula: 'mean(age)' },
          { name: 'still', formula: 'year(opened)' },
        ],
      },
      { op: 'insert-rows', table: 'hives', rows: [{ opened: '2026-03-01' }, { opened: '2026-03-03' }] },
    ])
    return book
  }

  test('moves what reads the clock or the seed, and what is made from it', () => {
    const book = clocked()
    const chances = book.table('hives').column('chance').values()
    const change = book.apply({ op: 'tick', now: '2026-03-11T07:30:00', seed: 5 })
    expect(Object.keys(rowsOf(change.recalculated)).sort()).toEqual(['age', 'chance', 'mean_age'])
    expect(book.table('hives').column('age').values()).toEqual([10, 8])
    expect(book.table('hives').column('mean_age').values()).toEqual([9, 9])
    expect(book.table('hives').column('chance').values()).not.toEqual(chances)
    book.undo()
    expect(book.table('hives').column('chance').values()).toEqual(chances)
  })

  test('takes the time of the machine when none is given, and says so in the operation', () => {
    const { operations } = clocked().apply({ op: 'tick' })
    expect(operations).toMatchObject([{ op: 'tick', seed: 2 }])
    expect((operations[0] as { now: string }).now).toMatch(/^20\d\d-/)
  })

  test('refuses a clock that is none', () => expect(() => clocked().apply({ op: 'tick', now: 'noon' })).toThrow('ISO 8601'))
})

describe('preview', () => {
  test('tells what would change with rows that tell most, and changes nothing', () => {
    const book = harvests()
    const { revision } = book
    const preview = book.preview([
      { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'kg', value: 0 }] },
      { op: 'insert-rows', table: 'harvests', rows: [{ hive: 'C' }] },
      { op: 'add-column', table: 'harvests', column: { name: 'per_kg', formula: 'if(kg > 1, 1, 1 / kg)' } },
    ])
    expect(preview.change.inserted).toMatchObject([{ rows: 1, ids: [4] }])
    expect(rowsOf(preview.change.changed).of_hive).toEqual([1, 2])
    const byName = new Map(preview.columns.map((one) => [one.column, one]))
    expect(byName.get('jars')).toMatchObject({ changed: 1 })
    expect(byName.get('jars')?.rows).toMatchObject([{ row: 2, before: 4, result: 0 }])
    expect(byName.get('per_kg')?.rows.map(({ why, before }) => [why.split('; ')[0], before])).toEqual([
      ['smallest result', undefined],
      ['first error', undefined],
      ['when kg > 1', undefined],
      ['a blank falls through', undefined],
    ])
    expect(byName.get('per_kg')?.findings.map((one) => one.code)).toContain('division-by-zero')
    expect(book.revision).toBe(revision)
    expect(book.table('harvests').columns.map((one) => one.name)).not.toContain('per_kg')
    expect(column(book, 'kg')).toEqual([1, 2, 5])
    // Ids that were tried out are given again.
    const next = book.apply({ op: 'insert-rows', table: 'harvests', rows: [{ kg: 1 }] })
    expect(next.inserted[0]?.ids).toEqual([4])
  })

  test('refuses what apply would refuse, and nobody is told of anything', () => {
    const book = harvests()
    let told = 0
    book.on('change', () => told++)
    expect(() => book.preview({ op: 'remove-column', table: 'harvests', column: 'kg' })).toThrow(Refusal)
    book.preview({ op: 'remove-column', table: 'harvests', column: 'kg', dependants: 'remove' })
    expect(told).toBe(0)
    expect(column(book, 'percent')).toEqual([12.5, 25, 62.5])
  })
})

describe('rows that are moved', () => {
  test('take along what goes by row order', () => {
    const book = harvests()
    const change = book.apply({ op: 'move-rows', table: 'harvests', rows: [3], before: 1 })
    expect(column(book, 'kg')).toEqual([5, 1, 2])
    expect(column(book, 'before')).toEqual([null, 5, 1])
    expect(rowsOf(change.changed)).toEqual({ before: [1, 3] })
    book.undo()
    expect(column(book, 'before')).toEqual([null, 1, 2])
  })

  test.each([
    [{ rows: [9] }, 'no row'],
    [{ rows: [1, 1] }, 'different rows'],
    [{ rows: [1, 2], before: 2 }, 'before itself'],
    [{ rows: [1, 2], places: [2, 1] }, 'ascending'],
    [{ rows: [1, 2], places: [2, 9] }, 'ascending'],
  ])('refuses %o', (fields, message) => {
    const book = harvests()
    expect(() => book.apply({ op: 'move-rows', table: 'harvests', ...fields })).toThrow(message)
    expect(column(book, 'kg')).toEqual([1, 2, 5])
  })
})

test('a row without a key matters to a reader whose bound is an error', () => {
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 'takes', columns: [{ name: 'kg', type: 'number' }] },
    { op: 'add-table', table: 'hives', columns: [{ name: 'frames', type: 'number' }] },
    { op: 'insert-rows', table: 'takes', rows: [{ kg: 0.2 }, {}] },
    { op: 'insert-rows', table: 'hives', rows: [{ frames: { misfit: 'some' } }] },
    { op: 'add-column', table: 'hives', column: { name: 'n', formula: 'count(every takes where kg > this.frames and kg > 1)' } },
  ])
  const result = () => book.table('hives').column('n').values().map(String)
  expect(result()).toEqual(['!misfit'])
  book.apply({ op: 'remove-rows', table: 'takes', rows: [2] })
  expect(result()).toEqual(['0'])
})

describe('rows that go and come in one call', () => {
  test('a refused call with rows removed does not count them twice', () => {
    const book = harvests()
    const bad = { op: 'remove-column', table: 'harvests', column: 'none' }
    expect(() => book.applyJson([{ op: 'remove-rows', table: 'harvests', rows: [1] }, bad])).toThrow(Refusal)
    expect(column(book, 'of_hive')).toEqual([3, 3, 5])
    expect(book.table('harvests').tally('total_kg')).toBe(8)
  })

  test('another row in the place of one that is gone is seen by what groups rows', () => {
    const book = harvests()
    book.apply({ op: 'add-column', table: 'harvests', column: { name: 'number', formula: 'row_number(by hive)' } })
    book.apply([
      { op: 'remove-rows', table: 'harvests', rows: [3] },
      { op: 'insert-rows', table: 'harvests', rows: [{ hive: 'B', kg: 1 }] },
    ])
    expect(column(book, 'number')).toEqual([1, 2, 1])
    expect(column(book, 'of_hive')).toEqual([3, 3, 1])
  })
})

test('a group that has lost its rows while it was stale, and gets the same ones back, is seen', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
      ],
    },
    {
      op: 'add-table',
      table: 'takes',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'x', formula: 'percentile(every hives.frames, 0.5 where tag = this.hive)' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'B', frames: 5 },
        { tag: 'D', frames: 1 },
      ],
    },
    { op: 'insert-rows', table: 'takes', rows: [{ hive: 'B' }] },
    { op: 'set-mode', mode: 'on-demand' },
    { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'tag', value: 'C' }] },
  ])
  const shown = (): unknown[] => book.table('takes').column('x').values()
  book.apply({ op: 'move-rows', table: 'hives', rows: [1] })
  book.apply({ op: 'set-mode', mode: 'live' })
  expect(shown()).toEqual([null])
  book.apply({ op: 'insert-rows', table: 'hives', rows: [{ tag: 'B', frames: 5 }] })
  expect(shown()).toEqual([5])
})
