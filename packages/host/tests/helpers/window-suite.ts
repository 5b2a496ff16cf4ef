import type { BookSession, LiveWindow, WindowOutline, WindowShown } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { Home } from './homes.js'
import { edit, refused, until } from './session-tools.js'

/** Places of the co-operative, some inside others; they do not stand as they are read. */
const PLACES: readonly Operation[] = [
  {
    op: 'add-table',
    table: 'places',
    columns: [
      { name: 'place', type: 'text' },
      { name: 'inside', type: 'text' },
      { name: 'hives', type: 'integer' },
    ],
  },
  {
    op: 'insert-rows',
    table: 'places',
    rows: [
      { place: 'Upper orchard', inside: 'Orchard', hives: 4 },
      { place: 'Hill', hives: 9 },
      { place: 'Orchard', inside: 'Hill', hives: 6 },
      { place: 'Meadow', hives: 3 },
      { place: 'Heath', inside: 'Hill', hives: 3 },
    ],
  },
  { op: 'change-table', table: 'places', set: { label: 'place', parent: 'inside' } },
]

const placeIn = (row: number, inside: string | null): Operation => ({
  op: 'set-cells',
  table: 'places',
  cells: [{ row, column: 'inside', value: inside }],
})

/** The rows of a window one by one, further in by how deep they stand, `+3` for three that are folded away below. */
const drawn = ({ current }: LiveWindow): string[] =>
  current.rows.map(({ cells, stand }) => {
    const folded = stand?.isFolded === true ? ` +${stand.below}` : ''
    return `${'  '.repeat(stand?.depth ?? 0)}${cells.place}${folded}`
  })

/** What windows of every session do, wherever its workbook is held. */
export function windowSuite(begin: () => Promise<Home>): void {
  let home: Home
  let ada: BookSession
  let bea: BookSession

  beforeEach(async () => {
    home = await begin()
    ada = await home.open({ role: 'define', author: 'Ada' })
    bea = await home.open({ role: 'edit', author: 'Bea', groups: ['buyers'] })
  })
  afterEach(() => home.close())

  test('a window that was left, and is looked through again, shows what is there by then', async () => {
    const request = { table: 'harvests', columns: ['honey_kg'], from: 1, to: 3 }
    const shows = ({ current }: LiveWindow): unknown => current.rows.map(({ cells }) => cells.honey_kg)
    const first = await ada.watch(request)
    expect(shows(first)).toEqual([0.5, 1.5])
    await first.show({ from: 3, to: 5 })
    await ada.apply(edit(1, 'honey_kg', 21))
    await first.show({ from: 1, to: 3 })
    await until(() => JSON.stringify(shows(first)) === '[21,1.5]')
    first()
    await ada.apply(edit(2, 'honey_kg', 22))
    using again = await ada.watch(request)
    expect(shows(again)).toEqual([21, 22])
  })

  test('a window follows edits: cells, rows that come and go, places and counts', async () => {
    using window = await bea.watch({
      table: 'harvests',
      where: 'honey_kg > 5',
      order: 'honey_kg desc',
      columns: ['hive', 'honey_kg'],
      to: 4,
    })
    const shows = (): unknown => [
      window.current.count,
      ...window.current.rows.map(({ place, cells }) => [place, cells.hive, cells.honey_kg]),
    ]
    expect(shows()).toEqual([7, [1, 'H3', 11.5], [2, 'H2', 10.5], [3, 'H1', 9.5]])
    const kept = window.current.rows[1]
    await ada.apply(edit(1, 'honey_kg', 11))
    await until(() => window.current.count === 8)
    expect(shows()).toEqual([8, [1, 'H3', 11.5], [2, 'H1', 11], [3, 'H2', 10.5]])
    await ada.apply(edit(12, 'hive', 'H1'))
    await until(() => window.current.rows[0]?.cells.hive === 'H1')
    expect(window.current.rows.find(({ id }) => id === 11)).toEqual({ ...kept, place: 3 })
    await ada.apply({ op: 'remove-rows', table: 'harvests', rows: [12] })
    await until(() => window.current.count === 7)
    expect(shows()).toEqual([7, [1, 'H1', 11], [2, 'H2', 10.5], [3, 'H1', 9.5]])
    await window.show({ from: 2, to: 4 })
    await until(() => window.current.rows.length === 2)
    expect(shows()).toEqual([7, [2, 'H2', 10.5], [3, 'H1', 9.5]])
    await ada.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'H2', honey_kg: 99 }] })
    await until(() => window.current.count === 8)
    expect(shows()).toEqual([8, [2, 'H1', 11], [3, 'H2', 10.5]])
  })

  test('a window in row order follows rows that are put elsewhere, and tables that go and come back', async () => {
    using window = await bea.watch({ table: 'harvests', from: 2, to: 4, columns: ['honey_kg'] })
    const shows = (): unknown => window.current.rows.map(({ id, place }) => [id, place])
    expect(shows()).toEqual([
      [2, 2],
      [3, 3],
    ])
    await ada.apply({ op: 'move-rows', table: 'harvests', rows: [12], before: 1 })
    await until(() => window.current.rows[0]?.id === 1)
    expect(shows()).toEqual([
      [1, 2],
      [2, 3],
    ])
    await ada.apply({ op: 'rename-table', table: 'harvests', to: 'takes' })
    await until(() => window.current.isGone)
    expect(window.current).toMatchObject({ rows: [], count: 0 })
    await ada.undo()
    await until(() => !window.current.isGone)
    expect(shows()).toEqual([
      [1, 2],
      [2, 3],
    ])
  })

  test('what a window shows can be waited for, one after the other', async () => {
    using window = await bea.watch({ table: 'hives', columns: ['honey'] })
    const seen: unknown[] = []
    const following = (async () => {
      for await (const { rows } of window) {
        seen.push(rows[0]?.cells.honey)
        if (seen.length === 3) break
      }
    })()
    for (const value of [1.5, 2.5]) {
      await ada.apply(edit(1, 'honey_kg', value))
      await until(() => seen.at(-1) === 19.5 + value)
    }
    await following
    expect(seen).toEqual([20, 21, 22])
  })

  test('a window that cannot be is refused, and one that has ended is silent', async () => {
    expect(await refused(bea.watch({ table: 'hivs' }))).toBe(
      'unknown-table: The workbook has no table called hivs. Nearest name: hives.',
    )
    expect(await refused(bea.watch({ table: 'hives', columns: ['cost'] }))).toContain('unknown-column')
    expect(await refused(bea.watch({ table: 'hives', from: 0 }))).toContain('expected places from 1')
    const window = await bea.watch({ table: 'hives' })
    const shown: WindowShown[] = []
    window.subscribe((one) => shown.push(one))
    window()
    window()
    await ada.apply(edit(1, 'honey_kg', 3))
    await ada.facts()
    expect(shown).toEqual([])
  })

  describe('with rows below their parents', () => {
    const outlined = (outline: WindowOutline, more: object = {}): Promise<LiveWindow> =>
      bea.watch({ table: 'places', outline, ...more })

    beforeEach(async () => {
      await ada.apply(PLACES)
    })

    test('shows them so, and leaves out those that are folded away', async () => {
      using whole = await outlined({})
      expect(drawn(whole)).toEqual(['Hill', '  Orchard', '    Upper orchard', '  Heath', 'Meadow'])
      expect(whole.current.rows.map(({ id, place }) => [id, place])).toEqual([
        [2, 1],
        [3, 2],
        [1, 3],
        [5, 4],
        [4, 5],
      ])
      expect(whole.current.rows[0]?.stand).toEqual({ depth: 0, below: 3, isFolded: false })
      using one = await outlined({ turned: [3] })
      expect([one.current.count, ...drawn(one)]).toEqual([4, 'Hill', '  Orchard +1', '  Heath', 'Meadow'])
      using roots = await outlined({ levels: 1 })
      expect([roots.current.count, ...drawn(roots)]).toEqual([2, 'Hill +3', 'Meadow'])
      // A row that has nothing below it is not folded, whatever is said of it.
      using opened = await outlined({ levels: 1, turned: [2, 4] })
      expect(drawn(opened)).toEqual(['Hill', '  Orchard +1', '  Heath', 'Meadow'])
      using part = await outlined({}, { from: 3, to: 5, columns: ['place'] })
      expect([part.current.count, ...drawn(part)]).toEqual([5, '    Upper orchard', '  Heath'])
      using some = await outlined({}, { where: 'hives < 9', order: 'place' })
      expect(drawn(some)).toEqual(['Heath', 'Meadow', 'Orchard', '  Upper orchard'])
      using plain = await bea.watch({ table: 'places', to: 2 })
      expect(plain.current.rows[0]).not.toHaveProperty('stand')
    })

    test('follows rows that are put elsewhere, renamed, come and go', async () => {
      using window = await outlined({ turned: [3] })
      const first = window.current.rows[0]
      const becomes = async (operation: Operation, ...rows: string[]): Promise<void> => {
        await ada.apply(operation)
        await until(() => JSON.stringify(drawn(window)) === JSON.stringify(rows)).catch(() => expect(drawn(window)).toEqual(rows))
      }
      await becomes(placeIn(1, 'Meadow'), 'Hill', '  Orchard', '  Heath', 'Meadow', '  Upper orchard')
      expect(window.current.rows[0]).toMatchObject({ id: first?.id, stand: { below: 2 } })
      await becomes(placeIn(3, null), 'Hill', '  Heath', 'Orchard', 'Meadow', '  Upper orchard')
      const renamed: Operation = { op: 'set-cells', table: 'places', cells: [{ row: 4, column: 'place', value: 'Lea' }] }
      await becomes(renamed, 'Upper orchard', 'Hill', '  Heath', 'Orchard', 'Lea')
      const added: Operation = { op: 'insert-rows', table: 'places', rows: [{ place: 'Shed', inside: 'Orchard' }] }
      await becomes(added, 'Upper orchard', 'Hill', '  Heath', 'Orchard +1', 'Lea')
      await becomes({ op: 'remove-rows', table: 'places', rows: [2] }, 'Upper orchard', 'Orchard +1', 'Lea', 'Heath')
      const flat: Operation = { op: 'change-table', table: 'places', set: { parent: null } }
      await becomes(flat, 'Upper orchard', 'Orchard', 'Lea', 'Heath', 'Shed')
      expect(window.current.rows.some((row) => 'stand' in row)).toBe(false)
    })

    test('finds a row where it stands, and none that is folded away', async () => {
      const seek = async (outline: WindowOutline, row: number): Promise<unknown> =>
        (await bea.seek({ table: 'places', outline, sought: { row } })).found
      expect(await seek({}, 5)).toEqual({ id: 5, place: 4 })
      expect(await seek({ turned: [3] }, 5)).toEqual({ id: 5, place: 3 })
      expect(await seek({ turned: [3] }, 1)).toBeNull()
      const next = await bea.seek({ table: 'places', outline: { levels: 1 }, sought: { where: 'hives < 5', behind: 0 } })
      expect(next.found).toEqual({ id: 4, place: 2 })
    })
  })
}
