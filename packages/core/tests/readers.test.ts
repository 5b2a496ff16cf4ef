import { describe, expect, test } from 'vitest'
import {
  type BookReader,
  derivationText,
  LEAST_ROLES,
  OPERATION_NAMES,
  type Operation,
  Refusal,
  ROLES,
  type Role,
  type Workbook,
} from '../src/index.js'
import { cooperative } from './helpers/co-operative.js'

const book = (): Workbook => cooperative({ name: 'cost', values: [4, 5, 7, 1, 2, 3, 4, 5] })
const buyer = (of: Workbook, role: Role = 'edit'): BookReader => of.reader({ role, groups: ['Buyers'], author: 'Bea' })

function refused(work: () => unknown): string {
  try {
    work()
  } catch (error) {
    if (error instanceof Refusal) return `${error.code}: ${error.message}`
    throw error
  }
  return 'not refused'
}

describe('roles', () => {
  test('every operation has a least role', () => {
    expect(Object.keys(LEAST_ROLES).sort()).toEqual([...OPERATION_NAMES].sort())
    expect(Object.values(LEAST_ROLES).every((role) => ROLES.includes(role))).toBe(true)
  })

  const operations: readonly (readonly [Role, Operation])[] = [
    ['enter', { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value: 1 }] }],
    ['enter', { op: 'insert-rows', table: 'hives', rows: [{ kg: 1 }] }],
    ['enter', { op: 'remove-rows', table: 'hives', rows: [1] }],
    ['edit', { op: 'fill-column', table: 'hives', column: 'kg', formula: 'kg + 1' }],
    ['define', { op: 'add-column', table: 'hives', column: { name: 'more', formula: 'kg + 1' } }],
    ['define', { op: 'change-column', table: 'hives', column: 'kg', set: { unit: 'g' } }],
    ['own', { op: 'change-column', table: 'hives', column: 'kg', set: { hiddenFrom: ['buyers'] } }],
    ['own', { op: 'add-column', table: 'hives', column: { name: 'more', formula: 'kg + 1', hiddenFrom: ['buyers'] } }],
    ['own', { op: 'set-surroundings', zone: 'Europe/Berlin' }],
  ]
  test.each(operations)('%s is what %j takes', (least, operation) => {
    for (const role of ROLES) {
      const reader = book().reader({ role, author: 'Bea' })
      if (reader.may(least)) expect(reader.apply(operation).author).toBe('Bea')
      else
        expect(refused(() => reader.apply(operation))).toBe(
          `needs-role: ${operation.op} takes the role ${least}, and yours is ${role}.`,
        )
    }
  })

  test('a call is done whole or not at all, and names what it takes', () => {
    const of = book()
    const list: Operation[] = [
      { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value: 1 }] },
      { op: 'rename-column', table: 'hives', column: 'kg', to: 'mass' },
    ]
    expect(refused(() => buyer(of).apply(list))).toContain('needs-role')
    expect(of.table('hives').column('kg').value(1)).toBe(0)
  })

  test('whoever reads without a role only looks', () => {
    const reader = book().reader()
    expect(refused(() => reader.apply({ op: 'insert-rows', table: 'hives', rows: [{}] }))).toContain('needs-role')
    expect(refused(() => reader.undo())).toContain('needs-role')
    expect(refused(() => book().reader({ role: 'boss' as Role }))).toContain(
      'bad-operation: the options of the reader, field role',
    )
  })

  test('what only journals carry is refused', () => {
    const operation = { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value: 1, typed: false }] }
    expect(refused(() => buyer(book()).applyJson(operation))).toContain('there is no such field')
  })

  test('a fixed column is typed over by those who may define', () => {
    const of = book()
    of.apply({ op: 'change-column', table: 'hives', column: 'boxes', set: { fixed: true } })
    const cell: Operation = { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'boxes', value: 9 }] }
    const row: Operation = { op: 'insert-rows', table: 'hives', rows: [{ boxes: 1 }] }
    const fixed = 'fixed-cell: boxes is fixed: its cells are typed over only by those who may define.'
    expect(refused(() => of.reader({ role: 'edit' }).apply(cell))).toBe(fixed)
    expect(refused(() => of.reader({ role: 'edit' }).apply(row))).toBe(fixed)
    expect(of.reader({ role: 'edit' }).apply({ op: 'insert-rows', table: 'hives', rows: [{ kg: 1 }] }).inserted).toHaveLength(1)
    expect(of.reader({ role: 'define' }).apply(cell).changed[0]).toMatchObject({ column: 'boxes', rows: 1 })
  })
})

describe('a hidden column', () => {
  test('is not there, and what is calculated from it gives its results without its formula', () => {
    const { view } = buyer(book())
    expect(view.table('hives').columns.map(({ name, formula, isWithheld }) => [name, formula, isWithheld])).toEqual([
      ['label', null, false],
      ['apiary', null, false],
      ['kg', null, false],
      ['boxes', null, false],
      ['score', null, true],
      ['worth', 'kg * home.honey_price', false],
      ['share_of_kg', 'kg per sum(kg by apiary)', false],
      ['twice', 'score + 1 / boxes', false],
    ])
    expect(view.table('hives').column('score').values()).toEqual([0, 5, 10, 15, 20, 25, 30, 35])
    expect(view.table('hives').rules.map(({ name }) => name)).toEqual(['boxed'])
    expect(view.table('hives').tally('counted')).toBe(8)
    expect(view.table('hives').tallyFormula('counted')).toBeNull()
    expect([view.reports, view.charts]).toEqual([['by apiary'], ['kg']])
    expect(view.table('hives').properties.source).toBeNull()
    expect(view.metadata).toEqual({})
    expect(JSON.stringify([view.memory(), view.trace('hives.boxes'), view.check()])).not.toContain('cost')
  })

  test('why shows the cells that are seen, and that there are others', () => {
    expect(derivationText(buyer(book()).view.why('hives.score', 2))).toBe(
      [
        'hives.score, row 2: 5, by a formula that is withheld',
        '  hives.boxes, row 2: 1',
        '  hives.kg, row 2: 2.5',
        '  and from columns you do not see',
      ].join('\n'),
    )
  })

  test('is there for those who may define, and for other groups', () => {
    for (const reader of [buyer(book(), 'define'), buyer(book(), 'own'), book().reader({ role: 'edit', groups: ['keepers'] })]) {
      expect(reader.isBound).toBe(false)
      expect(reader.view.table('hives').column('cost').values()).toEqual([4, 5, 7, 1, 2, 3, 4, 5])
    }
  })

  test('comes and goes with the next call', () => {
    const of = book()
    const { view } = buyer(of)
    of.apply({ op: 'change-column', table: 'hives', column: 'cost', set: { hiddenFrom: null } })
    expect(view.query({ table: 'hives', where: 'cost > 4' }).matched).toBe(3)
    of.undo()
    expect(refused(() => view.query({ table: 'hives', where: 'cost > 4' }))).toContain('unknown-name')
    of.apply({ op: 'change-column', table: 'hives', column: 'kg', set: { hiddenFrom: ['buyers', 'keepers'] } })
    expect(view.table('hives').columns.map(({ name }) => name)).not.toContain('kg')
    expect(of.readerGroups).toEqual(['buyers', 'keepers'])
  })

  test('a report that is open follows the edits of others', () => {
    const of = book()
    using report = buyer(of).view.report('by apiary')
    of.apply([
      { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value: 100 }] },
      { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'cost', value: 100 }] },
    ])
    expect(report.current.rows().flat()).toContain(122.5)
  })

  const keys: readonly (readonly [string, Operation[], string])[] = [
    [
      'a label',
      [{ op: 'change-column', table: 'hives', column: 'label', set: { hiddenFrom: ['buyers'] } }],
      'it is the label of its table',
    ],
    [
      'a key of a link',
      [{ op: 'change-column', table: 'hives', column: 'apiary', set: { hiddenFrom: ['buyers'] } }],
      'a key of the link home',
    ],
    [
      'the other key',
      [{ op: 'change-column', table: 'apiaries', column: 'code', set: { hiddenFrom: ['buyers'] } }],
      'a key of the link home',
    ],
    ['a key of the table', [{ op: 'change-table', table: 'hives', set: { key: ['cost'] } }], 'a key of its table'],
    ['a parent', [{ op: 'change-table', table: 'hives', set: { parent: 'cost' } }], 'the parent of its table'],
  ]
  test.each(keys)('%s cannot be hidden', (_, operations, use) => {
    const of = book()
    expect(refused(() => of.apply(operations))).toMatch(new RegExp(`hides-key: .* cannot be hidden from readers: .*${use}`))
    expect(of.revision).toBe(2)
  })
})

describe('edits', () => {
  test('fill in what the reader sees, and repeat the same', () => {
    const of = book()
    of.apply({ op: 'change-column', table: 'hives', column: 'cost', set: { tags: ['amount'] } })
    const change = buyer(of).apply({ op: 'fill-column', table: 'hives', column: 'boxes', formula: 'round(sum_of(#amount) + 1)' })
    expect(change.changed.map(({ column }) => column)).toEqual(['boxes', 'twice', 'score'].filter((name) => name !== 'score'))
    expect(of.table('hives').column('boxes').values()).toEqual([1, 4, 6, 9, 11, 14, 16, 19])
    of.undo()
    of.redo()
    expect(of.table('hives').column('boxes').values()).toEqual([1, 4, 6, 9, 11, 14, 16, 19])
  })

  test('rows that go take what is hidden along, and bring it back', () => {
    const of = book()
    const reader = buyer(of)
    expect(reader.apply({ op: 'remove-rows', table: 'hives', rows: [2] }).removed).toEqual([{ table: 'hives', ids: [2] }])
    reader.undo()
    expect(of.table('hives').column('cost').values()).toEqual([4, 5, 7, 1, 2, 3, 4, 5])
  })

  test('change sets tell of what is seen', () => {
    const of = book()
    const told: string[] = []
    using _ = buyer(of).view.on('change', (change) => {
      told.push(`${change.revision} ${change.changed.map(({ column }) => column).join()}`)
      expect(JSON.stringify(change)).not.toContain('cost')
    })
    of.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'cost', value: 3 }] })
    of.apply({
      op: 'set-cells',
      table: 'hives',
      cells: [
        { row: 1, column: 'cost', value: 4 },
        { row: 1, column: 'kg', value: 4 },
      ],
    })
    of.apply({ op: 'insert-rows', table: 'hives', rows: [{ cost: 1 }] })
    expect(told).toHaveLength(2)
    expect(told[0]).toContain('4 kg')
  })

  test('strictness is about what the reader would be told of', () => {
    const of = book()
    of.apply({ op: 'set-rule', table: 'hives', name: 'dear', condition: 'cost is not blank' })
    expect(
      buyer(of).apply({ op: 'insert-rows', table: 'hives', rows: [{ kg: 4, boxes: 2 }] }, { strict: true }).inserted,
    ).toHaveLength(1)
    expect(
      refused(() => of.apply({ op: 'insert-rows', table: 'hives', rows: [{ kg: 4, boxes: 2 }] }, { strict: true })),
    ).toContain('rule-broken')
    expect(
      refused(() => buyer(of).apply({ op: 'insert-rows', table: 'hives', rows: [{ kg: 4, boxes: 0 }] }, { strict: true })),
    ).toContain('division-by-zero')
  })

  test('a preview tells of what is seen and changes nothing', () => {
    const of = book()
    const { change, columns } = buyer(of).previewJson({
      op: 'set-cells',
      table: 'hives',
      cells: [{ row: 1, column: 'boxes', value: 7 }],
    })
    expect(change.changed.map(({ column }) => column)).toEqual(['boxes', 'score', 'twice'].filter((name) => name !== 'score'))
    expect(columns.map(({ column, changed }) => [column, changed])).toEqual([['twice', 1]])
    expect(JSON.stringify(columns)).not.toContain('cost')
    expect(of.revision).toBe(2)
  })
})

describe('steps of one of several', () => {
  const edit = (row: number, column: string, value: number): Operation => ({
    op: 'set-cells',
    table: 'hives',
    cells: [{ row, column, value }],
  })

  test('each takes back their own', () => {
    const of = book()
    const [ada, bea] = [of.reader({ role: 'edit', author: 'Ada' }), buyer(of)]
    ada.apply(edit(1, 'kg', 7))
    bea.apply(edit(2, 'kg', 8))
    ada.apply(edit(3, 'kg', 9))
    expect([ada.undo(), bea.undo(), ada.undo(), ada.undo()].map((change) => change?.revision)).toEqual([6, 7, 8, undefined])
    expect(of.table('hives').column('kg').values().slice(0, 3)).toEqual([0, 2.5, 5])
    bea.redo()
    ada.redo()
    expect(of.table('hives').column('kg').values().slice(0, 3)).toEqual([7, 8, 5])
    ada.redo()
    expect(of.table('hives').column('kg').values().slice(0, 3)).toEqual([7, 8, 9])
  })

  test('not where others have touched the same since, and it is said who', () => {
    const of = book()
    const [ada, bea] = [of.reader({ role: 'edit', author: 'Ada' }), buyer(of)]
    ada.apply(edit(1, 'kg', 7))
    bea.apply(edit(1, 'kg', 8))
    expect(refused(() => ada.undo())).toBe(
      'step-overtaken: Step 3 can be neither taken back nor done again: Bea has changed hives.kg since, in step 4.',
    )
    bea.undo()
    expect(ada.undo()?.revision).toBe(6)
  })

  const since: readonly (readonly [string, Operation, Operation[], boolean])[] = [
    ['another cell of the row', edit(1, 'kg', 7), [edit(1, 'boxes', 8)], true],
    ['another row of the column', edit(1, 'kg', 7), [edit(2, 'kg', 8)], true],
    ['the whole column', edit(1, 'kg', 7), [{ op: 'fill-column', table: 'hives', column: 'kg', formula: '1' }], false],
    ['its name', edit(1, 'kg', 7), [{ op: 'rename-column', table: 'hives', column: 'kg', to: 'mass' }], false],
    ['the name of its table', edit(1, 'kg', 7), [{ op: 'rename-table', table: 'hives', to: 'colonies' }], false],
    ['the row', edit(1, 'kg', 7), [{ op: 'remove-rows', table: 'hives', rows: [1] }], false],
    ['another column', edit(1, 'kg', 7), [{ op: 'add-column', table: 'hives', column: { name: 'n', formula: 'kg' } }], true],
    ['a cell of the new row', { op: 'insert-rows', table: 'hives', rows: [{}] }, [edit(9, 'kg', 1)], false],
    ['a hidden cell of the new row', { op: 'insert-rows', table: 'hives', rows: [{}] }, [edit(9, 'cost', 1)], true],
    [
      'a hidden cell under another name',
      { op: 'insert-rows', table: 'hives', rows: [{}] },
      [edit(9, 'cost', 1), { op: 'rename-column', table: 'hives', column: 'cost', to: 'price' }],
      true,
    ],
    ['a value of the book', edit(1, 'kg', 7), [{ op: 'set-value', name: 'limit', value: 6 }], true],
  ]
  test.each(since)('%s touched since', (_, own, others, isPossible) => {
    const of = book()
    const bea = buyer(of)
    bea.apply(own)
    for (const one of others) of.apply(one, { author: 'Olga' })
    if (isPossible) expect(bea.undo()).not.toBeNull()
    else expect(refused(() => bea.undo())).toContain('step-overtaken')
  })

  test('a step on a column that is hidden since is not taken back', () => {
    const of = book()
    const bea = buyer(of)
    bea.apply(edit(1, 'kg', 7))
    of.apply({ op: 'change-column', table: 'hives', column: 'kg', set: { hiddenFrom: ['buyers'] } }, { author: 'Olga' })
    expect(refused(() => bea.undo())).toMatch(/^withheld-reason/)
  })

  test('the last step of anyone is taken back as ever, and done again while nobody else has gone on', () => {
    const of = book()
    buyer(of).apply(edit(1, 'kg', 7))
    of.undo({ author: 'Olga' })
    expect(of.redo({ author: 'Olga' })?.revision).toBe(5)
    of.undo({ author: 'Olga' })
    of.apply(edit(2, 'kg', 1), { author: 'Olga' })
    expect(of.redo({ author: 'Olga' })).toBeNull()
    expect(buyer(of).redo()?.revision).toBe(8)
  })
})

describe('what gives a hidden column away', () => {
  const formulas: readonly (readonly [string, string | null])[] = [
    ['cost', 'it can be worked out from this'],
    ['2 * (cost + kg) - 1', 'it can be worked out from this'],
    ['kg per cost', 'it can be worked out from this'],
    ['cost ?? 0', 'it can be worked out from this'],
    ['if(kg > 2, -cost, 0)', 'it can be worked out from this'],
    ['let x = cost / 2 in x + kg', 'it can be worked out from this'],
    ['lag(cost order by label)', 'it can be worked out from this'],
    ['sum(cost by label)', 'this is made of a single row of it in 8 rows'],
    ['100 * max(cost where apiary = "Mill" by label)', 'this is made of a single row of it in 2 rows'],
    ['sum(cost by apiary)', null],
    ['round(cost, 0)', null],
    ['cost > 4', null],
    ['cost * cost', null],
    ['kg + 1', null],
  ]
  test.each(formulas)('%s', (formula, how) => {
    const of = book()
    of.apply({ op: 'add-column', table: 'hives', column: { name: 'shown', formula } })
    const found = of.check().filter(({ column, code }) => column === 'shown' && code === 'reveals-hidden')
    expect(found.map(({ message }) => message)).toEqual(
      how === null ? [] : [`shown gives cost away to buyers, from whom that is hidden: ${how}.`],
    )
    const [fix] = found[0]?.fixes ?? []
    if (fix?.operations !== undefined) of.applyJson(fix.operations)
    expect(of.check().filter(({ column, code }) => column === 'shown' && code === 'reveals-hidden')).toEqual([])
  })

  test('it is told to those who define and see the column, when it is hidden and when it is shown again', () => {
    const of = book()
    of.apply({ op: 'add-column', table: 'hives', column: { name: 'shown', formula: 'boxes * 2' } })
    const hides = of.apply({ op: 'change-column', table: 'hives', column: 'boxes', set: { hiddenFrom: ['keepers'] } })
    expect(hides.findings.added.map(({ code, column }) => [code, column])).toContainEqual(['reveals-hidden', 'shown'])
    const shows = of.apply({ op: 'change-column', table: 'hives', column: 'boxes', set: { hiddenFrom: null } })
    expect(shows.findings.removed.map(({ code, column }) => [code, column])).toContainEqual(['reveals-hidden', 'shown'])
    of.apply({ op: 'change-column', table: 'hives', column: 'boxes', set: { hiddenFrom: ['keepers'] } })
    const codes = (reader: BookReader): string[] => reader.view.check().map(({ code }) => code)
    expect(codes(of.reader({ role: 'define', groups: ['keepers'] }))).toContain('reveals-hidden')
    expect(codes(of.reader({ role: 'edit', groups: ['keepers'] }))).not.toContain('reveals-hidden')
  })
})
