import { describe, expect, test } from 'vitest'
import { CellFault, type Finding, Refusal, Workbook } from '../src/index.js'

/** Rename, hide, detach, remove: the life of a column after it was defined. */

function book(): Workbook {
  const made = new Workbook()
  made.apply([
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'honey_kg', type: 'number', tags: ['weights'] },
        { name: 'frames', type: 'integer' },
        { name: 'wax_kg', type: 'number', tags: ['weights'] },
        { name: 'yield', formula: 'honey_kg / frames' },
        { name: 'twice', formula: 'yield * 2' },
        { name: 'total_kg', formula: 'sum_of(#weights)' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { honey_kg: 12, frames: 4, wax_kg: 0.5 },
        { honey_kg: 5, frames: 0 },
      ],
    },
  ])
  return made
}

function refusalOf(act: () => unknown): Refusal {
  try {
    act()
  } catch (error) {
    if (error instanceof Refusal) return error
    throw error
  }
  throw new Error('nothing was refused')
}

const values = (made: Workbook, column: string): unknown[] =>
  made
    .table('harvests')
    .column(column)
    .values()
    .map((value) => (value instanceof CellFault ? String(value) : value))
const names = (made: Workbook): string[] => made.table('harvests').columns.map((column) => column.name)

describe('pause and resume', () => {
  const paused = (): Workbook => {
    const made = book()
    made.apply({ op: 'pause-column', table: 'harvests', column: 'yield' })
    return made
  }
  const type = (made: Workbook, row: number, column: string, value: unknown): unknown =>
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row, column, value: value as number }] })

  test('keeps the formula while cells are typed over, and dependants follow them', () => {
    const made = paused()
    expect(made.table('harvests').column('yield')).toMatchObject({ formula: 'honey_kg / frames', isPaused: true })
    type(made, 1, 'yield', 7)
    type(made, 1, 'honey_kg', 100)
    expect(values(made, 'twice')).toEqual([14, '!division-by-zero'])
    expect(made.table('harvests').column('yield').typedIds()).toEqual([1])
    made.apply({ op: 'insert-rows', table: 'harvests', rows: [{ honey_kg: 1, frames: 1 }] })
    expect(values(made, 'yield')).toEqual([7, '!division-by-zero', null])
  })

  test('resuming says first what would be lost', () => {
    const made = paused()
    type(made, 1, 'yield', 7)
    type(made, 2, 'frames', 5)
    const refused = refusalOf(() => made.apply({ op: 'resume-column', table: 'harvests', column: 'yield' }))
    expect(refused.code).toBe('hand-edits-lost')
    expect(refused.message).toBe('Resuming yield would change 2 cells, 1 of them typed by hand: row 1.')
    expect(values(made, 'yield')).toEqual([7, '!division-by-zero'])
    expect(made.table('harvests').column('yield').isPaused).toBe(true)
    const [operation] = refused.findings[0]?.fixes?.[0]?.operations ?? []
    made.applyJson(operation as { op: string })
    expect(values(made, 'yield')).toEqual([3, 1])
    expect(values(made, 'twice')).toEqual([6, 2])
    made.undo()
    expect(values(made, 'yield')).toEqual([7, '!division-by-zero'])
    expect(made.table('harvests').column('yield').typedIds()).toEqual([1])
  })

  test('typing back what the formula gives is no loss, and nor is what was undone', () => {
    const made = paused()
    type(made, 1, 'yield', 8)
    type(made, 1, 'yield', 3)
    type(made, 2, 'yield', 1)
    made.undo()
    expect(made.table('harvests').column('yield').typedIds()).toEqual([1])
    made.apply({ op: 'resume-column', table: 'harvests', column: 'yield' })
    expect(values(made, 'yield')).toEqual([3, '!division-by-zero'])
  })

  test('its formula follows renaming, can be changed, and still keeps its sources', () => {
    const made = paused()
    made.apply({ op: 'rename-column', table: 'harvests', column: 'frames', to: 'boxes' })
    expect(made.table('harvests').column('yield').formula).toBe('honey_kg / boxes')
    expect(refusalOf(() => made.apply({ op: 'remove-column', table: 'harvests', column: 'boxes' })).code).toBe('column-in-use')
    const set = { formula: 'honey_kg per boxes' }
    made.apply({ op: 'change-column', table: 'harvests', column: 'yield', set })
    expect(
      refusalOf(() => made.apply({ op: 'change-column', table: 'harvests', column: 'yield', set: { formula: 'no' } })).code,
    ).toBe('unknown-name')
    made.apply({ op: 'resume-column', table: 'harvests', column: 'yield' })
    expect(values(made, 'yield')).toEqual([3, null])
  })

  test('detaching drops the formula for good, and removing brings all of it back when undone', () => {
    const made = paused()
    type(made, 1, 'yield', 7)
    made.apply({ op: 'remove-column', table: 'harvests', column: 'yield', dependants: 'remove' })
    made.undo()
    expect(made.table('harvests').column('yield')).toMatchObject({ formula: 'honey_kg / frames', isPaused: true })
    expect(made.table('harvests').column('yield').typedIds()).toEqual([1])
    made.apply({ op: 'detach-column', table: 'harvests', column: 'yield' })
    expect(made.table('harvests').column('yield')).toMatchObject({ formula: null, isPaused: false })
    made.undo()
    expect(made.table('harvests').column('yield').isPaused).toBe(true)
  })

  test.each([
    [{ op: 'pause-column', table: 'harvests', column: 'frames' }, 'nothing to pause'],
    [{ op: 'resume-column', table: 'harvests', column: 'twice' }, 'not paused'],
    [{ op: 'pause-column', table: 'harvests', column: 'yield' }, 'paused already'],
  ])('refuses %o', (operation, message) => expect(refusalOf(() => paused().applyJson(operation)).message).toContain(message))
})

describe('detach', () => {
  test('takes the values that edits of the same call have made', () => {
    const made = book()
    made.apply([
      { op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 20 }] },
      { op: 'detach-column', table: 'harvests', column: 'yield' },
    ])
    expect(values(made, 'yield')).toEqual([5, '!division-by-zero'])
  })

  test('keeps the values, drops the formula, and is typed over afterwards', () => {
    const made = book()
    made.apply({ op: 'detach-column', table: 'harvests', column: 'yield' })
    expect(made.table('harvests').column('yield').formula).toBeNull()
    expect(values(made, 'yield')).toEqual([3, '!division-by-zero'])
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 100 }] })
    expect(values(made, 'yield')[0]).toBe(3)
    const change = made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'yield', value: 7 }] })
    expect(change.recalculated).toMatchObject([{ column: 'twice', rows: 1 }])
    expect(values(made, 'twice')).toEqual([6, 14])
  })

  test('is undone with the formula, and the error it kept survives removal and return', () => {
    const made = book()
    made.apply({ op: 'detach-column', table: 'harvests', column: 'twice' })
    made.apply({ op: 'remove-column', table: 'harvests', column: 'twice' })
    made.undo()
    expect(values(made, 'twice')).toEqual([6, '!division-by-zero'])
    made.undo()
    expect(made.table('harvests').column('twice').formula).toBe('yield * 2')
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 40 }] })
    expect(values(made, 'twice')[0]).toBe(20)
  })

  test('a source column has nothing to detach', () => {
    const made = book()
    expect(refusalOf(() => made.apply({ op: 'detach-column', table: 'harvests', column: 'frames' })).code).toBe('bad-operation')
  })

  test('findings of the formula go with it', () => {
    const made = book()
    const change = made.apply({ op: 'detach-column', table: 'harvests', column: 'yield' })
    expect(change.findings.removed.map((one) => one.code)).toEqual(['division-by-zero'])
  })
})

describe('removing a column that others use', () => {
  test('is refused with the list of them and three ways on', () => {
    const made = book()
    const { findings } = refusalOf(() => made.apply({ op: 'remove-column', table: 'harvests', column: 'honey_kg' }))
    expect(findings[0]?.message).toBe('honey_kg is used by yield, so it cannot be removed by itself.')
    expect(findings[0]?.fixes.map((fix) => fix.title)).toEqual([
      'Hide it instead',
      'Detach yield, keeping the values',
      'Remove it with all that is calculated from it',
    ])
    expect(names(made)).toContain('honey_kg')
  })

  test.each([
    [0, ['honey_kg', 'frames', 'wax_kg', 'yield', 'twice', 'total_kg']],
    [1, ['frames', 'wax_kg', 'yield', 'twice', 'total_kg']],
    [2, ['frames', 'wax_kg', 'total_kg']],
  ])('each of them can be done and undone: %i', (fix, left) => {
    const made = book()
    const before = JSON.stringify(names(made).map((name) => [name, values(made, name)]))
    const { findings } = refusalOf(() => made.apply({ op: 'remove-column', table: 'harvests', column: 'honey_kg' }))
    made.apply((findings[0] as Finding).fixes[fix]?.operations as never)
    expect(names(made)).toEqual(left)
    expect(refusedAgain(made)).toBe(fix === 0)
    made.undo()
    expect(JSON.stringify(names(made).map((name) => [name, values(made, name)]))).toBe(before)
    made.redo()
    expect(names(made)).toEqual(left)
  })

  function refusedAgain(made: Workbook): boolean {
    return made.table('harvests').columns.some((column) => column.name === 'honey_kg' && column.dependents().length > 0)
  }
})

describe('hide', () => {
  test('a hidden column is used by formulas and left out of what is shown', () => {
    const made = book()
    made.apply({ op: 'change-column', table: 'harvests', column: 'yield', set: { hidden: true } })
    expect(made.query({ table: 'harvests' }).columns.map((column) => column.name)).not.toContain('yield')
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 20 }] })
    expect(values(made, 'twice')[0]).toBe(10)
    expect(made.query({ table: 'harvests', columns: ['yield'] }).columns).toHaveLength(1)
  })
})

describe('rename', () => {
  test('rewrites every formula, with backticks where they are needed, and changes no value', () => {
    const made = book()
    const change = made.apply({ op: 'rename-column', table: 'harvests', column: 'yield', to: 'kg per frame' })
    expect(made.table('harvests').column('twice').formula).toBe('`kg per frame` * 2')
    expect(change.changed).toEqual([])
    expect(values(made, 'twice')).toEqual([6, '!division-by-zero'])
  })
})

describe('tags', () => {
  test('a column that takes or loses a tag is taken in by formulas at once', () => {
    const made = book()
    expect(values(made, 'total_kg')).toEqual([12.5, 5])
    made.apply({ op: 'change-column', table: 'harvests', column: 'frames', set: { tags: ['weights'] } })
    expect(values(made, 'total_kg')).toEqual([16.5, 5])
    made.apply({
      op: 'add-column',
      table: 'harvests',
      column: { name: 'jars', type: 'number', tags: ['Weights'] },
      values: [1, 1],
    })
    expect(values(made, 'total_kg')).toEqual([17.5, 6])
    made.apply({ op: 'change-column', table: 'harvests', column: 'honey_kg', set: { tags: null } })
    expect(values(made, 'total_kg')).toEqual([5.5, 1])
    made.undo()
    made.undo()
    made.undo()
    expect(values(made, 'total_kg')).toEqual([12.5, 5])
  })

  test('a tag leaves out the column being defined, and one that reads it closes a cycle', () => {
    const made = book()
    made.apply({ op: 'change-column', table: 'harvests', column: 'total_kg', set: { tags: ['weights'] } })
    expect(values(made, 'total_kg')).toEqual([12.5, 5])
    const { code } = refusalOf(() =>
      made.apply([{ op: 'add-column', table: 'harvests', column: { name: 'half', formula: 'total_kg / 2', tags: ['weights'] } }]),
    )
    expect(code).toBe('cycle')
  })

  test('losing the last tagged column refuses the formula', () => {
    const made = book()
    made.apply({ op: 'change-column', table: 'harvests', column: 'wax_kg', set: { tags: null } })
    const { code } = refusalOf(() =>
      made.apply({ op: 'change-column', table: 'harvests', column: 'honey_kg', set: { tags: null } }),
    )
    expect(code).toBe('unknown-tag')
    expect(values(made, 'total_kg')).toEqual([12, 5])
  })
})

describe('what data shows about types', () => {
  test('numbers kept as text are counted through edits, and the fix makes them numbers', () => {
    const made = new Workbook()
    made.apply({ op: 'add-table', table: 't', columns: [{ name: 'kg' }] })
    const first = made.apply({ op: 'insert-rows', table: 't', rows: ['1.5', '2', 'about 3', '4'].map((kg) => ({ kg })) })
    const [found] = first.findings.added
    expect([found?.code, found?.rows]).toEqual(['numbers-as-text', 3])
    made.apply({ op: 'set-cells', table: 't', cells: [{ row: 1, column: 'kg', value: 'none' }] })
    expect(made.check().map((one) => one.rows)).toEqual([2])
    made.apply({ op: 'set-cells', table: 't', cells: [{ row: 2, column: 'kg', value: '007' }] })
    expect(made.check()).toEqual([])
    made.undo()
    const [again] = made.check()
    made.apply(again?.fixes[0]?.operations as never)
    expect(made.table('t').column('kg').type).toBe('number')
    expect(made.check().map((one) => one.code)).toEqual(['misfits'])
  })

  test('a column of whole numbers whose formula gives fractions says so, and becomes a number column', () => {
    const made = book()
    made.apply({ op: 'add-column', table: 'harvests', column: { name: 'part', type: 'integer', formula: 'honey_kg / 5' } })
    const found = made.check().find((one) => one.code === 'fractions')
    expect(found?.rows).toBe(1)
    made.apply(found?.fixes[0]?.operations as never)
    expect(values(made, 'part')).toEqual([2.4, 1])
    expect(made.check().some((one) => one.code === 'fractions')).toBe(false)
  })
})

describe('choices', () => {
  const withChoices = (): Workbook => {
    const made = book()
    made.apply([
      {
        op: 'add-column',
        table: 'harvests',
        column: { name: 'forage', type: 'text', choices: ['lime', 'clover'] },
        values: ['lime', null],
      },
      { op: 'add-column', table: 'harvests', column: { name: 'grade', formula: "if(honey_kg > 9, 'A', 'B')" } },
    ])
    return made
  }
  const codes = (made: Workbook, formula: string): string[] =>
    made
      .language('harvests')
      .findings(formula)
      .map((one) => one.code)

  test.each([
    ["forage = 'lime'", []],
    ["forage = 'Lime'", ['not-a-choice']],
    ["'heather' <> forage", ['not-a-choice']],
    ["forage in ('lime', 'clovr')", ['not-a-choice']],
    ["case forage when 'lime' then 1 when 'heather' then 2 end", ['not-a-choice']],
    ['forage = grade', []],
  ])('%s', (formula, expected) => expect(codes(withChoices(), formula)).toEqual(expected))

  test('the fix takes the nearest choice', () => {
    const made = withChoices()
    const [found] = made.language('harvests').findings("forage = 'clovr'")
    expect(found?.fixes[0]?.edits?.[0]?.insert).toBe("'clover'")
    expect(found?.message).toContain('lime, clover')
  })

  test('a formula is held to the choices of its own column, also when they change', () => {
    const made = withChoices()
    const change = made.apply({ op: 'change-column', table: 'harvests', column: 'grade', set: { choices: ['A', 'C'] } })
    expect(change.findings.added.map((one) => one.code)).toEqual(['not-a-choice'])
    expect(
      made.apply({ op: 'change-column', table: 'harvests', column: 'grade', set: { choices: ['A', 'B'] } }).findings.removed,
    ).toHaveLength(1)
  })
})

describe('random columns', () => {
  const drawn = (made: Workbook): unknown[] => values(made, 'draw')
  const withDraw = (): Workbook => {
    const made = book()
    made.apply({ op: 'add-column', table: 'harvests', column: { name: 'draw', formula: 'random() + random()' } })
    return made
  }

  test('stay the same through edits, renames, removal and return, and differ between rows and calls', () => {
    const made = withDraw()
    const first = drawn(made)
    expect(new Set(first).size).toBe(2)
    made.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 1 }] })
    made.apply({ op: 'rename-column', table: 'harvests', column: 'draw', to: 'luck' })
    made.apply({ op: 'remove-column', table: 'harvests', column: 'luck' })
    made.undo()
    made.undo()
    expect(drawn(made)).toEqual(first)
    expect(drawn(withDraw())).toEqual(first)
    made.apply({ op: 'change-column', table: 'harvests', column: 'draw', set: { formula: 'random() - random()' } })
    expect(drawn(made)).not.toContain(0)
  })

  test('a preview shows what the column will hold', () => {
    const made = book()
    const preview = made.previewColumn('harvests', { name: 'draw', formula: 'random()' })
    made.apply({ op: 'add-column', table: 'harvests', column: { name: 'draw', formula: 'random()' } })
    expect(preview.rows.map((row) => row.result)).toEqual(drawn(made).slice(0, preview.rows.length))
  })
})
