import { type BookSession, type SeekRequest, type SessionEvent, SessionFault } from '@mellow-abacus/session'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import type { Home } from './homes.js'
import { edit, refused, until } from './session-tools.js'
import { windowSuite } from './window-suite.js'

/** What every session does, wherever its workbook is held. */
export function sessionSuite(where: string, begin: () => Promise<Home>): void {
  describe(`a session ${where}`, () => suite(begin))
  describe(`windows of a session ${where}`, () => windowSuite(begin))
}

function suite(begin: () => Promise<Home>): void {
  let home: Home
  let ada: BookSession
  let bea: BookSession

  beforeEach(async () => {
    home = await begin()
    ada = await home.open({ role: 'define', author: 'Ada' })
    bea = await home.open({ role: 'edit', author: 'Bea', groups: ['buyers'] })
  })
  afterEach(() => home.close())

  test('says who is at it, and what there is', async () => {
    expect(bea.reader).toEqual({ role: 'edit', groups: ['buyers'], author: 'Bea' })
    const { tables, values, reports, charts, revision } = await bea.facts()
    expect(revision).toBe(1)
    expect(tables.map(({ name, rows, columns }) => [name, rows, columns.map((column) => column.name)])).toEqual([
      ['hives', 3, ['code', 'apiary', 'honey', 'margin']],
      ['harvests', 12, ['hive', 'taken', 'honey_kg', 'share_of_hive']],
    ])
    expect(tables[0]?.columns[3]).toMatchObject({ formula: null, withheld: true, calculated: true, type: 'number' })
    expect(tables[1]?.links).toEqual([{ name: 'hive', columns: ['hive'], to: 'hives', keys: ['code'] }])
    expect(tables[1]?.tallies).toEqual([{ name: 'total', type: 'number', formula: 'sum(honey_kg)', value: 72 }])
    expect([values, reports.map(({ name }) => name), charts.map(({ name }) => name)]).toEqual([
      [{ name: 'price', formula: null, value: 9 }],
      ['by hive'],
      ['kg'],
    ])
    expect((await ada.facts()).tables[0]?.columns.map(({ name }) => name)).toContain('cost')
  })

  test('edits, and is answered with the rows that it touched and what followed', async () => {
    const change = await bea.apply(edit(1, 'honey_kg', 10.5))
    expect(change).toMatchObject({ revision: 2, author: 'Bea', definitions: false })
    expect(change.at).toMatch(/^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d$/)
    expect(change.rows).toEqual([
      { table: 'harvests', id: 1, cells: { hive: 'H1', taken: '2026-06-01', honey_kg: 10.5, share_of_hive: 0.35 } },
    ])
    expect(change.changed).toContainEqual({ table: 'hives', column: 'honey', rows: 1 })
    const added = await bea.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'H3', honey_kg: 5 }] })
    expect(added.inserted).toEqual([{ table: 'harvests', ids: [13] }])
    expect(added.rows.map(({ id }) => id)).toEqual([13])
    expect((await bea.apply(edit(1, 'honey_kg', 1), { returns: 'minimal' })).rows).toEqual([])
  })

  test('reads rows, groups, charts, fits and single values', async () => {
    const found = await bea.query({
      table: 'harvests',
      where: 'honey_kg > 9',
      order: 'taken desc',
      columns: ['taken', 'honey_kg'],
      limit: 2,
    })
    expect(found).toMatchObject({ revision: 1, columns: ['taken', 'honey_kg'], matched: 3 })
    expect(found.rows).toEqual([
      { id: 12, cells: { taken: '2026-06-12', honey_kg: 11.5 } },
      { id: 11, cells: { taken: '2026-06-11', honey_kg: 10.5 } },
    ])
    const report = await bea.report('by hive')
    expect(report.columns.map(({ name }) => name)).toEqual(['level', 'hive', 'kg'])
    expect(report.lines.map(({ kind, rows, values }) => [kind, rows, values.at(-1)])).toEqual([
      ['group', 4, 20],
      ['group', 4, 24],
      ['group', 4, 28],
      ['whole', 12, 72],
    ])
    const chart = await bea.chart('kg')
    expect(chart.x).toMatchObject({ name: 'taken', type: 'date', categories: null })
    expect(chart.series[0]?.points.slice(0, 2)).toEqual([
      ['2026-06-01', 0.5],
      ['2026-06-02', 1.5],
    ])
    const fit = await bea.fit({ table: 'harvests', x: 'honey_kg', y: '2 * honey_kg + 1' })
    expect(fit.coefficients.map(({ value }) => value)).toEqual([2, 1])
    expect(await bea.value('price')).toBe(9)
  })

  test('reads rows a page at a time', async () => {
    const request = { table: 'harvests', order: 'honey_kg desc', columns: ['honey_kg'], limit: 5 }
    const first = await bea.query(request)
    await ada.apply({ op: 'remove-rows', table: 'harvests', rows: [8, 11] })
    const second = await bea.query({ ...request, after: first.next ?? '' })
    const third = await bea.query({ ...request, after: second.next ?? '' })
    expect([first, second, third].map(({ rows }) => rows.map(({ id }) => id))).toEqual([
      [12, 11, 10, 9, 8],
      [7, 6, 5, 4, 3],
      [2, 1],
    ])
    expect(third.next).toBeNull()
    expect(await refused(bea.query({ ...request, after: '%' }))).toContain('it is not where a page of this query ended')
  })

  test('finds where a row stands and the next one of a condition, what a column holds, functions by what they are for', async () => {
    const seek = async (request: Omit<SeekRequest, 'table'>) =>
      (await bea.seek({ table: 'harvests', order: 'honey_kg desc', ...request })).found
    expect(await seek({ sought: { row: 12 } })).toEqual({ id: 12, place: 1 })
    expect(await seek({ where: 'honey_kg < 4', sought: { row: 2 } })).toEqual({ id: 2, place: 3 })
    expect(await seek({ where: 'honey_kg < 4', sought: { row: 12 } })).toBeNull()
    expect(await seek({ sought: { row: 99 } })).toBeNull()
    const next = (where: string, behind: number) => seek({ sought: { where, behind } })
    expect(await next("hive = 'H1'", 0)).toEqual({ id: 10, place: 3 })
    expect(await next("hive = 'H1'", 3)).toEqual({ id: 7, place: 6 })
    expect(await next("hive = 'H1'", 12)).toEqual({ id: 10, place: 3 })
    expect(await next('honey_kg is blank', 0)).toBeNull()
    expect(await refused(next('cost > 1', 0))).toContain('unknown-name')
    expect(await refused(next('honey_kg > 1', -1))).not.toBe('not refused')

    expect((await bea.functions('split a name')).map(({ name }) => name)).toContain('word')
    expect(await bea.functions('round')).toContainEqual({
      name: 'round',
      family: 'number',
      form: 'round(value, [digits])',
      says: expect.stringMatching(/^Rounds/),
      example: expect.stringContaining('round('),
    })
    expect((await bea.functions('')).length).toBeGreaterThan(100)
    expect(await bea.functions('qwertz')).toEqual([])

    expect(await bea.profile({ table: 'harvests', column: 'honey_kg' })).toMatchObject({
      ...{ revision: 1, values: 12, blanks: 0, errors: 0, different: 12 },
      ...{ least: 0.5, greatest: 11.5, mean: 6, median: 6, commonest: [] },
    })
    const { steps, commonest, least, mean } = await bea.profile({ table: 'harvests', column: 'taken' })
    expect([steps.reduce((sum, rows) => sum + rows, 0), steps[0], steps.at(-1)]).toEqual([12, 1, 1])
    expect([commonest, least, mean]).toEqual([[], '2026-06-01', null])
    expect(await bea.profile({ table: 'harvests', column: 'hive' })).toMatchObject({
      ...{ different: 3, greatest: 'H3', steps: [], median: null },
      commonest: [
        { value: 'H1', rows: 4 },
        { value: 'H2', rows: 4 },
        { value: 'H3', rows: 4 },
      ],
    })
    expect(await refused(bea.profile({ table: 'hives', column: 'cost' }))).toContain('unknown-column')
  })

  test('carries errors, misfits and any name as plain data', async () => {
    await ada.apply([
      { op: 'add-column', table: 'harvests', column: { name: '__proto__', formula: '1 / (honey_kg - 0.5)' } },
      { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'honey_kg', value: { misfit: 'much' } }] },
    ])
    const { rows } = await bea.query({ table: 'harvests', columns: ['honey_kg', '__proto__'], limit: 2 })
    expect(Object.entries(rows[0]?.cells ?? {})).toEqual([
      ['honey_kg', 0.5],
      ['__proto__', { error: 'division-by-zero' }],
    ])
    expect(Object.entries(rows[1]?.cells ?? {})).toEqual([
      ['honey_kg', { misfit: 'much' }],
      ['__proto__', { error: 'misfit' }],
    ])
  })

  test('explains, derives and traces', async () => {
    expect((await bea.explain('harvests', 'share_of_hive')).lines.length).toBeGreaterThan(0)
    const why = await bea.why('hives.margin', 1)
    expect(why).toMatchObject({ formula: null, isWithheld: true, value: 180 })
    expect(JSON.stringify(why)).not.toContain('cost')
    expect((await bea.trace('harvests.honey_kg')).downstream.map(({ to }) => to)).toContain('hives.honey')
    expect(await bea.findings()).toEqual([])
  })

  test('finds formulas that give what is wanted, from what its reader may see', async () => {
    const examples = [{ row: 1, values: { double: 40 } }]
    const [first] = await bea.suggest({ table: 'hives', from: ['honey'], columns: ['double'], examples })
    expect(first).toMatchObject({ formulas: { double: 'honey * 2' }, blanks: 0, errors: 0 })
    await expect(bea.suggest({ table: 'hives', from: ['cost'], columns: ['double'], examples })).rejects.toMatchObject({
      findings: [{ code: 'unknown-column' }],
    })
    const contrary = [...examples, { row: 1, values: { double: 7 } }]
    await expect(bea.suggest({ table: 'hives', from: ['honey'], columns: ['double'], examples: contrary })).rejects.toMatchObject(
      {
        findings: [{ code: 'examples-contradict' }],
      },
    )
  })

  test('finds formulas by what they are for, made of columns that its reader may see', async () => {
    const [first] = await bea.formulasFor('harvests', 'rank by honey')
    expect(first?.formulas).toEqual({ place_by_honey_kg: 'rank(honey_kg desc)' })
    expect(JSON.stringify(await bea.formulasFor('hives', 'running total of cost'))).not.toContain('cost')
    await expect(bea.formulasFor('nowhere', 'rank')).rejects.toMatchObject({ findings: [{ code: 'unknown-table' }] })
  })

  test('says what moved a value between two steps, and leaves all as it is', async () => {
    const { revision } = await ada.facts()
    await bea.apply([edit(1, 'honey_kg', 10.5), edit(2, 'honey_kg', 4)].flat() as never)
    await ada.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'H1', honey_kg: 2 }] })
    await bea.apply(edit(3, 'taken', '2026-07-01'))
    const total = (await ada.facts()).tables[1]?.tallies[0]?.value as number
    const moved = await bea.moved({ address: 'tally:harvests.total', from: revision })
    expect(moved).toMatchObject({ isWhole: true, before: 72, after: total, change: total - 72 })
    expect(moved.steps.map(({ revision: made, author, change }) => [made, author, change])).toEqual([
      [revision + 1, 'Bea', total - 74],
      [revision + 2, 'Ada', 2],
    ])
    expect(moved.rows?.rows.reduce((sum, { change }) => sum + change, 0)).toBe(total - 72)
    expect(moved.rows?.rows.find(({ row }) => row === 13)).toMatchObject({ was: 'new', change: 2 })
    expect(await bea.moved({ address: 'tally:harvests.total', from: revision + 1, to: revision + 2 })).toMatchObject({
      before: total - 2,
      after: total,
    })
    expect((await bea.moved({ address: 'harvests.honey_kg', row: 13, from: revision })).steps[0]).toMatchObject({ after: 2 })
    const ofReport = { address: 'report:`by hive`.kg', from: revision }
    expect((await ada.moved(ofReport)).rows?.difference).toBe(total - 72)
    expect((await ada.moved({ ...ofReport, keys: ['H1'] })).steps.map(({ change }) => change)).toContain(2)
    expect(await refused(bea.moved({ address: 'hives.cost', row: 1, from: revision }))).toContain('unknown-column')
    expect(await refused(bea.moved({ address: 'tally:harvests.total', from: 99 }))).toContain('expected two revisions')
    expect((await ada.facts()).revision).toBe(revision + 3)
    expect((await ada.facts()).tables[1]?.tallies[0]?.value).toBe(total)
    // One from whom something is hidden cannot look behind a step by which something was defined.
    await ada.apply({ op: 'set-value', name: 'price', value: 10 })
    expect(await bea.moved({ address: 'value:price', from: revision })).toMatchObject({ isWhole: false, steps: [] })
    expect(await ada.moved({ address: 'value:price', from: revision })).toMatchObject({ isWhole: true, before: 9, after: 10 })
  })

  test('tells of the functions of the workbook, and calls them', async () => {
    await ada.apply([
      {
        op: 'set-function',
        name: 'per_hundred',
        parameters: ['part', 'whole'],
        formula: '100 * part per whole',
        note: 'Percent',
      },
      { op: 'add-column', table: 'harvests', column: { name: 'percent', formula: 'per_hundred(honey_kg, 12)' } },
    ])
    expect((await bea.facts()).functions).toEqual([
      {
        name: 'per_hundred',
        parameters: ['part', 'whole'],
        formula: '100 * part per whole',
        note: 'Percent',
        form: 'per_hundred(part: number, whole: number)',
        type: 'number',
      },
    ])
    expect(await bea.functions('percent')).toContainEqual({
      name: 'per_hundred',
      family: 'of this workbook',
      form: 'per_hundred(part: number, whole: number)',
      says: 'Percent',
      example: null,
    })
    expect((await bea.language.complete('harvests', 'per_h', 5)).options[0]?.label).toBe('per_hundred')
    expect((await bea.language.signature('harvests', 'per_hundred(1, ', 15))?.active).toBe(1)
    expect((await bea.why('harvests.percent', 12)).steps[0]?.text).toBe('100 * part per whole with part = honey_kg, whole = 12')
    expect((await bea.history()).steps.at(-1)?.what).toContain('function per_hundred(part, whole) = 100 * part per whole')
    expect(await refused(bea.apply({ op: 'remove-function', name: 'per_hundred' }))).toContain('needs-role')
  })

  test('answers editors of formulas', async () => {
    const { language } = bea
    expect((await language.findings('hives', 'cost + 1')).map(({ code }) => code)).toEqual(['unknown-name'])
    expect((await language.findings('hives', 'honey + 1')).map(({ code }) => code)).toEqual([])
    expect((await language.complete('hives', 'ho', 2)).options.map(({ label }) => label)).toContain('honey')
    expect((await language.hover('hives', 'honey', 1))?.title).toContain('honey')
    expect((await language.signature('hives', 'round(', 6))?.parameters.length).toBeGreaterThan(0)
    expect(await language.format('hives', 'honey+1')).toBe('honey + 1')
    expect(await language.rename('hives', 'honey', 1, 'kg')).toEqual({
      operation: { op: 'rename-column', table: 'hives', column: 'honey', to: 'kg' },
    })
    expect((await language.tokens('hives', 'honey + 1')).length).toBe(3)
    const preview = await language.preview('hives', { name: 'double', formula: 'honey * 2' })
    expect(preview.rows[0]).toMatchObject({ result: 40, sources: { honey: 20 } })
  })

  test('previews without doing', async () => {
    const { change, columns } = await bea.preview(edit(1, 'honey_kg', 10.5))
    expect(change.changed).toContainEqual({ table: 'hives', column: 'honey', rows: 1 })
    const honey = columns.find(({ column }) => column === 'honey')
    expect(honey?.rows[0]).toMatchObject({ before: 20, result: 30 })
    expect((await bea.facts()).revision).toBe(1)
  })

  test('is refused what its reader may not do, and what cannot be, with everything found', async () => {
    expect(await refused(bea.apply({ op: 'remove-table', table: 'hives' }))).toBe(
      'needs-role: remove-table takes the role own, and yours is edit.',
    )
    expect(await refused(bea.query({ table: 'hives', where: 'cost > 1' }))).toBe(
      'unknown-name: Table hives has no column or value called cost.',
    )
    const fault = await ada
      .apply({ op: 'add-column', table: 'hives', column: { name: 'x', formula: 'hony' } })
      .catch((one: unknown) => one)
    expect(fault).toBeInstanceOf(SessionFault)
    expect((fault as SessionFault).findings[0]).toMatchObject({
      code: 'unknown-name',
      table: 'hives',
      column: 'x',
      from: 0,
      to: 4,
    })
    expect((fault as SessionFault).operation).toMatchObject({ op: 'add-column' })
    expect(await refused(ada.apply(edit(1, 'honey_kg', 3), { expects: 0 }))).toContain('unexpected-revision')
    expect((await ada.facts()).revision).toBe(1)
  })

  test('takes back its own steps only', async () => {
    await ada.apply(edit(1, 'honey_kg', 3))
    await bea.apply(edit(2, 'honey_kg', 4))
    const back = await ada.undo()
    expect([back?.revision, back?.rows[0]?.cells.honey_kg]).toEqual([4, 0.5])
    expect(await ada.undo()).toBeNull()
    expect((await ada.redo())?.revision).toBe(5)
    await bea.apply(edit(1, 'honey_kg', 5))
    expect(await refused(ada.undo())).toContain(
      'step-overtaken: Step 5 can be neither taken back nor done again: Bea has changed',
    )
  })

  test('hears of every change in order, with what it may see of it', async () => {
    const heard: SessionEvent[] = []
    using _ = bea.on((event) => heard.push(event))
    await Promise.all([1, 2, 3, 4, 5].map((row) => ada.apply(edit(row, 'honey_kg', row * 10))))
    await ada.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'cost', value: 1 }] })
    await ada.apply({ op: 'add-column', table: 'harvests', column: { name: 'twice', formula: 'honey_kg * 2' } })
    await until(() => heard.length >= 6)
    expect(heard.map((event) => 'revision' in event && event.revision)).toEqual([2, 3, 4, 5, 6, 8])
    expect(heard.map((event) => event.kind === 'change' && event.definitions)).toEqual([false, false, false, false, false, true])
    expect(JSON.stringify(heard)).not.toContain('cost')
  })

  test('says where one is, and hears who else is there, as far as one sees it', async () => {
    const heard: SessionEvent[] = []
    using _ = bea.on((event) => heard.push(event))
    expect(await bea.appear({ place: { table: 'harvests', row: 1, column: 'honey_kg' } })).toMatchObject([
      { author: 'Bea', role: 'edit', isYou: true, draft: null },
    ])
    const present = await ada.appear({ place: { table: 'hives', row: 2, column: 'cost' }, draft: 'twice = cost * 2' })
    expect(present.map(({ author, isYou }) => [author, isYou])).toEqual([
      ['Bea', false],
      ['Ada', true],
    ])
    const told = (): readonly unknown[] =>
      heard.flatMap((event) => (event.kind === 'presence' ? [event.present.map(({ author, place }) => [author, place])] : []))
    const own = ['Bea', { table: 'harvests', row: 1, column: 'honey_kg' }]
    await until(() => told().length > 0 && (told().at(-1) as unknown[]).length === 2)
    // A column that is hidden from Bea does not say where Ada is.
    expect(told().at(-1)).toEqual([own, ['Ada', null]])
    expect(JSON.stringify(heard)).not.toContain('twice')
    await ada.close()
    await until(() => (told().at(-1) as unknown[]).length === 1)
    expect(told().at(-1)).toEqual([own])
  })

  test('accepts a finding as it stands, and tries a column in the rows that are asked for', async () => {
    const tried = await ada.language.preview('harvests', { name: 'twice', formula: 'honey_kg * 2', ids: [2, 99, 1] })
    expect(tried.results).toEqual([3, null, 1])
    await ada.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'H9' }] })
    const [found] = await ada.findings()
    if (found === undefined) throw new Error('nothing was found')
    await ada.apply(await ada.accepting(found, 'a hive that was sold'))
    expect((await ada.findings()).map(({ code }) => code)).not.toContain(found.code)
    expect(await refused(ada.accepting({ ...found, code: 'cycle' }, 'none'))).toContain('bad-operation')
  })

  test('is told to begin anew when what it may see has changed', async () => {
    const olga = await home.open({ role: 'own', author: 'Olga' })
    const heard: SessionEvent[] = []
    using _ = bea.on((event) => heard.push(event))
    using window = await bea.watch({ table: 'harvests' })
    await olga.apply({ op: 'change-column', table: 'harvests', column: 'honey_kg', set: { hiddenFrom: ['buyers'] } })
    await until(() => heard.length > 0 && !window.current.columns.includes('honey_kg'))
    expect(heard).toEqual([{ kind: 'reset', revision: 2 }])
    expect(window.current.rows[0]?.cells).toEqual({ hive: 'H1', taken: '2026-06-01', share_of_hive: 0.025 })
    await olga.undo()
    await until(() => window.current.columns.includes('honey_kg'))
  })

  test('tells the history, and of what is hidden nothing', async () => {
    await ada.apply(edit(1, 'honey_kg', 3))
    await ada.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'cost', value: 1 }] })
    await bea.undo()
    const { steps, next } = await bea.history({ after: 1 })
    expect([steps.map(({ revision, author, what }) => [revision, author, what]), next]).toEqual([
      [[2, 'Ada', 'harvests.honey_kg of row id:1 set to 3']],
      null,
    ])
    expect(steps[0]?.cells).toEqual([{ table: 'harvests', column: 'honey_kg', row: 1, before: 0.5, after: 3 }])
    expect((await ada.history({ after: 1 })).steps.map(({ revision }) => revision)).toEqual([2, 3])
    const first = await ada.history({ limit: 2 })
    expect([first.steps.map(({ revision }) => revision), first.next]).toEqual([[1, 2], 2])
    expect((await ada.history({ after: 2 })).steps.map(({ revision }) => revision)).toEqual([3])
  })

  test('reads one row, or says that there is none', async () => {
    expect(await bea.row('hives', 2)).toEqual({
      revision: 1,
      id: 2,
      cells: { code: 'H2', apiary: 'North', honey: 24, margin: 216 },
    })
    expect(await bea.row('hives', 99)).toBeNull()
    expect(await refused(bea.row('wax', 1))).toContain('unknown-table')
  })

  test('an edit under a key is done once, and answered alike', async () => {
    const key = { name: 'k', fingerprint: 'f' }
    const first = await bea.apply(edit(1, 'honey_kg', 3), { key })
    expect(await bea.apply(edit(1, 'honey_kg', 3), { key })).toEqual(first)
    expect((await bea.facts()).revision).toBe(2)
    expect(await refused(bea.apply(edit(1, 'honey_kg', 4), { key: { ...key, fingerprint: 'g' } }))).toContain('key-reused')
    const turned = await bea.undo({ key: { name: 'u', fingerprint: 'f' } })
    expect(await bea.undo({ key: { name: 'u', fingerprint: 'f' } })).toEqual(turned)
    expect((await bea.facts()).revision).toBe(3)
  })

  test('an edit of rows that are not as they were seen is refused', async () => {
    const { revision: _, ...row } = (await bea.row('harvests', 1)) ?? { revision: 0, id: 0, cells: {} }
    const asSeen = [{ table: 'harvests', ...row }]
    await bea.apply(edit(1, 'honey_kg', 5), { asSeen })
    expect(await refused(bea.apply(edit(1, 'honey_kg', 6), { asSeen }))).toContain('row-changed')
    expect((await bea.row('harvests', 1))?.cells.honey_kg).toBe(5)
  })

  test('two who edit the same cell are both told, with both values', async () => {
    const heard: SessionEvent[] = []
    using _ = bea.on((event) => heard.push(event))
    await bea.apply(edit(1, 'honey_kg', 5), { seen: 1 })
    const { met } = await ada.apply([edit(1, 'honey_kg', 6), edit(2, 'honey_kg', 6)], { seen: 1 })
    expect(met).toEqual([
      {
        table: 'harvests',
        row: 1,
        column: 'honey_kg',
        theirs: 5,
        yours: 6,
        author: 'Bea',
        at: expect.any(String),
        revision: 2,
      },
    ])
    await until(() => heard.length === 2)
    expect(heard[1]).toMatchObject({ kind: 'change', author: 'Ada', met })
    expect((await ada.apply(edit(1, 'honey_kg', 7), { seen: 3 })).met).toEqual([])
    // Steps from before it began to remember are in the history.
    expect((await bea.apply(edit(1, 'honey_kg', 8), { seen: 0 })).met).toMatchObject([{ theirs: 7, yours: 8, author: 'Ada' }])
  })

  test('rows come in in open formats, and go out in them', async () => {
    const bytes = new TextEncoder().encode('hive,honey_kg\nH1,1.5\nH2,much\n')
    const { change, refused: none } = await bea.importRows('harvests', { format: 'csv', bytes })
    expect(change.rows.map(({ table, id, cells }) => [table, id, cells.honey_kg])).toEqual([
      ['harvests', 13, 1.5],
      ['harvests', 14, { misfit: 'much' }],
    ])
    expect(none).toEqual([])
    const lines = new TextEncoder().encode('{"hive":"H1","nectar":1}\n{"hive":"H3"}\n')
    expect(await refused(bea.importRows('harvests', { format: 'ndjson', bytes: lines }))).toContain('nectar')
    const each = await bea.importRows('harvests', { format: 'ndjson', bytes: lines, each: true }, { returns: 'minimal' })
    expect([each.change.rows, each.change.inserted, each.refused.map(({ row }) => row)]).toEqual([
      [],
      [{ table: 'harvests', ids: [15] }],
      [1],
    ])
    const csv = await bea.exported({ rows: { table: 'hives', columns: ['code', 'honey'], limit: 2 } }, 'csv')
    expect(new TextDecoder().decode(csv)).toBe('code,honey\nH1,21.5\nH2,!misfit\n')
    const report = new TextDecoder().decode(await bea.exported({ report: 'by hive' }, 'html'))
    expect(report).toContain('<title>by hive</title>')
    expect(new TextDecoder().decode(await bea.exported({ chart: 'kg' }, 'svg'))).toContain('<svg')
    expect(await refused(bea.exported({ rows: { table: 'hives', columns: ['cost'] } }, 'csv'))).toContain('unknown-column')
    expect(await refused(bea.exported({ rows: { table: 'hives' } }, 'svg'))).toContain('not-found')
  })

  test('a session that is closed does nothing more, and others go on', async () => {
    await bea.close()
    await bea.close()
    expect(await refused(bea.facts())).toBe('closed: The session was closed.')
    expect((await ada.apply(edit(1, 'honey_kg', 3))).revision).toBe(2)
  })

  test('edits that come at once are all done, each with its own answer', async () => {
    const changes = await Promise.all(
      Array.from({ length: 60 }, (_, at) => (at % 2 === 0 ? ada : bea).apply(edit((at % 12) + 1, 'honey_kg', at))),
    )
    expect(changes.map(({ revision }) => revision).sort((a, b) => a - b)).toEqual(Array.from({ length: 60 }, (_, at) => at + 2))
    for (const [at, { rows }] of changes.entries()) expect(rows[0]?.cells.honey_kg).toBe(at)
    expect((await bea.facts()).tables[1]?.tallies[0]?.value).toBe(
      Array.from({ length: 12 }, (_, at) => 48 + at).reduce((a, b) => a + b),
    )
  })
}
