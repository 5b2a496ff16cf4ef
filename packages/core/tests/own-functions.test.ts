import { describe, expect, test } from 'vitest'
import { explanationText, type Operation, parseFunction, Refusal, Workbook } from '../src/index.js'

/** Functions that are defined in the workbook: what they may be, what their calls give, and what follows them. */

const TABLE: Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'kg', type: 'number', unit: 'kg' },
      { name: 'frames', type: 'number' },
      { name: 'name', type: 'text' },
      { name: 'since', type: 'date' },
      { name: 'yard', type: 'text' },
    ],
  },
  {
    op: 'insert-rows',
    table: 'hives',
    rows: [
      { kg: 3, frames: 1, name: 'Aster', since: '2026-03-01', yard: 'north' },
      { kg: 6, frames: 2, name: 'Borage', since: '2026-04-01', yard: 'north' },
      { kg: 12, frames: 0, name: 'Clover', yard: 'south' },
      { frames: 4, since: '2026-05-01', yard: 'south' },
    ],
  },
  { op: 'set-value', name: 'limit', value: 5 },
]

const own = (name: string, parameters: string[], formula: string, note?: string): Operation => ({
  op: 'set-function',
  name,
  parameters,
  formula,
  ...(note !== undefined && { note }),
})
const PER_HUNDRED = own('per_hundred', ['part', 'whole'], '100 * part per whole')
const STANDING = own('standing', ['x'], '(x - mean(x)) per stdev(x)')

function hives(...more: Operation[]): Workbook {
  const book = new Workbook()
  book.apply([...TABLE, ...more])
  return book
}

function refused(work: () => unknown): string {
  try {
    work()
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return error.findings
      .map(({ code, message, function: of, column }) => `${of ?? column ?? ''}: ${code}: ${message}`)
      .join('\n')
  }
  throw new Error('nothing was refused')
}

describe('a call gives what its function says', () => {
  test.each<[string, Operation[], string, unknown[]]>([
    ['with names', [PER_HUNDRED], 'per_hundred(kg, frames)', [300, 300, null, null]],
    ['with parts', [PER_HUNDRED], 'per_hundred(kg + 1, frames * 2)', [200, 175, null, null]],
    ['with constants', [PER_HUNDRED], 'per_hundred(-3, 12)', [-25, -25, -25, -25]],
    ['with calls', [PER_HUNDRED], 'per_hundred(per_hundred(kg, 2), 100)', [150, 300, 600, null]],
    ['of none', [own('tare', [], '0.5')], 'kg - tare()', [2.5, 5.5, 11.5, null]],
    ['in any case', [PER_HUNDRED], 'PER_Hundred(kg, 1)', [300, 600, 1200, null]],
    ['over rows', [STANDING], 'round(standing(frames), 2)', [-0.44, 0.15, -1.02, 1.32]],
    ['over rows, of parts', [STANDING], 'round(standing(frames * 2 + 1), 2)', [-0.44, 0.15, -1.02, 1.32]],
    ['by groups', [own('part_of', ['x', 'key'], 'x per sum(x by key)')], 'part_of(kg, yard)', [1 / 3, 2 / 3, 1, null]],
    ['where', [own('above', ['x', 'y'], 'count(x where x > this.x and y = this.y)')], 'above(kg, yard)', [1, 0, 0, 0]],
    ['in order', [own('gain', ['x', 'day'], 'x - lag(x order by day)')], 'gain(frames, since)', [null, 1, -4, 2]],
    [
      'of others',
      [own('twice', ['x'], '2 * x'), own('four_times', ['y'], 'twice(twice(y))')],
      'four_times(kg)',
      [12, 24, 48, null],
    ],
    [
      'whose rows are read through another',
      [STANDING, own('ten_fold', ['x'], '10 * standing(x) + 50')],
      'round(ten_fold(frames + 0))',
      [46, 51, 40, 63],
    ],
    ['with steps of its own', [own('f', ['x'], 'let kg = x * 2 in kg + x')], 'f(kg)', [9, 18, 36, null]],
    [
      'that a step of the caller means',
      [own('f', ['x'], 'let s = x in s * s')],
      'let s = kg in f(s + 1) - s',
      [13, 43, 157, null],
    ],
    ['with a named value', [own('over', ['x'], 'x > limit')], 'over(kg)', [false, true, true, null]],
    ['with conditions', [own('size', ['x'], "if(x > 5, 'large', 'small')")], 'size(kg)', ['small', 'large', 'large', 'small']],
    ['of dates', [own('age', ['day'], 'days_between(day, @2026-05-01)')], 'age(since)', [61, 30, null, 0]],
    ['of texts', [own('initial', ['of'], "left(of, 1) & '.'")], 'initial(name)', ['A.', 'B.', 'C.', '.']],
    ['with weights', [own('mixed', ['x', 'y'], 'weighted(x at 25%, y at 75%)')], 'mixed(kg, frames)', [1.5, 3, 3, 4]],
    ['inside an aggregate', [own('twice', ['x'], '2 * x')], 'sum(twice(kg) where twice(kg) > 6)', [36, 36, 36, 36]],
  ])('%s', (_, functions, formula, expected) => {
    const book = hives(...functions, { op: 'add-column', table: 'hives', column: { name: 'result', formula } })
    expect(book.table('hives').column('result').values()).toEqual(expected)
    // What is given is followed.
    expect(book.evaluate('hives', formula).values).toEqual(expected)
  })

  test('of rows that are given as a whole, where there is no row', () => {
    const book = hives(own('spread', ['x'], 'max(x) - min(x)'), {
      op: 'set-value',
      name: 'range',
      formula: 'spread(every hives.kg)',
    })
    expect(book.value('range')).toBe(9)
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'kg', value: 13 }] })
    expect(book.value('range')).toBe(7)
  })

  test('a name that the table has too means for the function what it means in the book', () => {
    const book = hives(own('over', ['x'], 'x > limit'), {
      op: 'add-column',
      table: 'hives',
      column: { name: 'limit', formula: '1000' },
    })
    expect(book.evaluate('hives', 'over(kg)').values).toEqual([false, true, true, null])
  })

  test('with a random number that is drawn once', () => {
    const book = hives(own('same', ['x'], 'x - x'))
    expect(new Set(book.evaluate('hives', 'same(random())').values)).toEqual(new Set([0]))
  })

  test('with the unit of what it makes', () => {
    const book = hives(PER_HUNDRED, own('each', ['x', 'n'], 'x / n'), {
      op: 'add-column',
      table: 'hives',
      column: { name: 'half', formula: 'each(kg, 2)' },
    })
    expect(book.table('hives').column('half').inferredUnit).toBe('kg')
    book.apply({ op: 'set-function', name: 'plus', parameters: ['x', 'y'], formula: 'x + y' })
    book.apply({ op: 'change-column', table: 'hives', column: 'frames', set: { unit: 'h' } })
    const found = book.previewColumn('hives', { name: 'odd', formula: 'plus(kg, frames)' }).findings
    expect(found.map(({ code, from, to }) => [code, from, to])).toEqual([['unlike-units', 0, 16]])
  })
})

describe('what cannot be is refused, and nothing is changed', () => {
  test.each<[string, Operation[], string]>([
    [
      'a column',
      [own('f', ['x'], 'x + kg')],
      'f: unknown-name: The function f has no column or value called kg. A function knows its parameters, other functions and named values; make it a parameter.',
    ],
    [
      'a column of a table',
      [own('f', ['x'], 'x + hives.kg')],
      'f: not-here: hives.kg cannot stand here: a function knows its parameters, other functions and named values; make it a parameter.',
    ],
    [
      'the rows of a table',
      [own('f', ['x'], 'x + sum(every hives.kg)')],
      'f: not-here: every hives.kg cannot stand here: a function knows its parameters, other functions and named values; make it a parameter.',
    ],
    [
      'a row of the caller',
      [own('f', ['x'], 'sum(x where y > 1) + x')],
      'f: unknown-name: The function f has no column or value called y. A function knows its parameters, other functions and named values; make it a parameter.',
    ],
    ['itself', [own('f', ['x'], 'f(x) + 1')], 'f: function-cycle: f would call itself: f → f.'],
    [
      'one that leads back',
      [own('f', ['x'], 'g(x)'), own('g', ['x'], 'f(x)')],
      'f: function-cycle: f would call itself: f → g → f.',
    ],
    ['a function that there is not', [own('f', ['x'], 'g(x)')], 'f: unknown-function: There is no function called g.'],
    [
      'a parameter that it does not use',
      [own('f', ['x', 'y'], 'x + 1')],
      'f: unused-parameter: The formula of f does not use its parameter y.',
    ],
    [
      'types that do not go together',
      [own('f', ['x'], 'upper(x) & (x + 1)')],
      'f: type-mismatch: upper, argument 1 (text), expects text, received number. Write text(x).',
    ],
    [
      'a type that does not go',
      [own('f', ['x: text'], 'x + 1')],
      'f: type-mismatch: "+" expects number or date, received text. Write number(x).',
    ],
    ['half a formula', [own('f', ['x'], 'x +')], 'f: expected-value: Expected a value after "+", found the end of the formula.'],
    ['a name of the language', [own('round', ['x'], 'x')], ': bad-operation: set-function, round: round is a function already.'],
    [
      'a name that is no word',
      [own('of hundred', ['x'], 'x')],
      ': bad-operation: set-function, of hundred: a function is called by a plain word, not `of hundred`.',
    ],
    [
      'a type that there is not',
      [own('f', ['x: nummer'], 'x')],
      ': bad-operation: set-function, f: there is no type nummer; there are number, text, boolean, date, datetime.',
    ],
    ['two of one name', [own('f', ['x', 'X'], 'x')], ': bad-operation: set-function, f: two parameters are called X.'],
    [
      'a reserved word',
      [own('f', ['then'], 'x')],
      ': bad-operation: set-function, f: the parameter then stands in backticks, since it is no plain word.',
    ],
    [
      'too many',
      [
        own(
          'f',
          Array.from({ length: 21 }, (_, at) => `x${at}`),
          'x1',
        ),
      ],
      ': bad-operation: set-function, f: a function takes at most 20 parameters.',
    ],
    [
      'removal while it is called',
      [{ op: 'remove-function', name: 'per_hundred' }],
      ': function-in-use: per_hundred is called by hives.share, function doubled, report by_yard, so it cannot be removed.',
    ],
    [
      'a new name that is taken',
      [{ op: 'rename-function', name: 'doubled', to: 'Per_Hundred' }],
      ': name-taken: The workbook already has a function called per_hundred.',
    ],
    [
      'one that there is not',
      [{ op: 'remove-function', name: 'per_hundert' }],
      ': unknown-function: There is no function called per_hundert. Nearest name: per_hundred.',
    ],
    [
      'fewer parameters while it is called',
      [own('per_hundred', ['part'], '100 * part')],
      'doubled: argument-count: per_hundred takes 1 argument, received 2. Its form is per_hundred(part: number).',
    ],
    [
      'another type while it is called',
      [own('per_hundred', ['part: text', 'whole'], 'part & whole')],
      'doubled: type-mismatch: per_hundred, argument 1 (part), expects text, received number. Write text(2 * x).',
    ],
    [
      'removal of a value that it reads',
      [{ op: 'remove-value', name: 'limit' }],
      'limit: column-in-use: limit is used by function bounded, so it cannot be removed by itself.',
    ],
  ])('%s', (_, operations, expected) => {
    const book = hives(
      PER_HUNDRED,
      own('doubled', ['x'], 'per_hundred(2 * x, 100)'),
      own('bounded', ['x'], 'min_of(x, limit)'),
      { op: 'add-column', table: 'hives', column: { name: 'share', formula: 'per_hundred(kg, frames)' } },
      {
        op: 'set-report',
        name: 'by_yard',
        report: { table: 'hives', levels: [{ key: 'yard' }], tallies: [{ name: 'all', formula: 'sum(per_hundred(kg, 1))' }] },
      },
    )
    const before = JSON.stringify(book.snapshot().snapshot)
    expect(refused(() => book.apply(operations))).toContain(expected.replace(/\.$/, ''))
    expect(JSON.stringify({ ...book.snapshot().snapshot, nextColumnId: 0 })).toBe(
      JSON.stringify({ ...JSON.parse(before), nextColumnId: 0 }),
    )
  })

  test.each<[string, string]>([
    [
      'per_hundred(kg)',
      'argument-count 0-15: per_hundred takes 2 arguments, received 1. Its form is per_hundred(part: number, whole: number)',
    ],
    [
      'per_hundred(name, frames)',
      'type-mismatch 12-16: per_hundred, argument 1 (part), expects number, received text. Write number(name).',
    ],
    [
      'per_hundred(1 + per_hundred(name, 1), frames)',
      'type-mismatch 28-32: per_hundred, argument 1 (part), expects number, received text. Write number(name).',
    ],
    ['per_hundred(kg, frames where kg > 1)', 'misplaced-clause 23-35: "where" cannot stand here: per_hundred takes none.'],
    ['per_hundred(kg at 10%, 2)', 'not-here 12-21: "at" cannot stand here: per_hundred takes plain values.'],
    ['per_hundert(kg, 2)', 'unknown-function 0-11: There is no function called per_hundert. Nearest name: per_hundred.'],
    ['agree(kg, name)', 'type-mismatch 10-14: coalesce expects number, received text. Write number(name).'],
    [
      'per_hundred(every hives.kg, 2)',
      'not-here 12-26: every hives cannot stand here: it belongs into a function of several rows, such as sum(every table.column).',
    ],
  ])('a call like %s', (formula, expected) => {
    const book = hives(
      PER_HUNDRED,
      own('agree', ['x', 'y'], 'coalesce(x, y)'),
      own('joined', ['x', 'n'], 'left(coalesce(x, x), n)'),
    )
    const { findings } = book.previewColumn('hives', { name: 'c', formula })
    expect(
      findings
        .filter(({ severity }) => severity === 'error')
        .map(({ code, from, to, message }) => `${code} ${from}-${to}: ${message}`),
    ).toEqual([expect.stringContaining(expected)])
  })

  test('calls that would be written out to more than a formula may have', () => {
    const functions = Array.from({ length: 20 }, (_, at) =>
      own(`f${at}`, ['x'], at === 0 ? 'x * 1.000001' : `f${at - 1}(x) + f${at - 1}(x)`),
    )
    expect(refused(() => hives(...functions))).toContain('calls-too-long')
    const chain = (length: number): Operation[] =>
      Array.from({ length }, (_, at) => own(`f${at}`, ['x'], at === 0 ? 'x' : `f${at - 1}(x)`))
    expect(hives(...chain(50)).functions).toHaveLength(50)
    for (const length of [51, 500]) {
      expect(refused(() => hives(...chain(length)))).toMatch(/^f\d+: calls-too-deep/)
      expect(refused(() => hives(...chain(length).reverse()))).toMatch(/^f\d+: calls-too-deep/)
    }
  })
})

describe('a function that is set anew, renamed or removed', () => {
  const SHARE: Operation = { op: 'add-column', table: 'hives', column: { name: 'share', formula: 'per_hundred(kg, frames)' } }

  test('is followed by what calls it, itself or through others, and by nothing else', () => {
    const book = hives(
      PER_HUNDRED,
      own('shown', ['x'], 'round(per_hundred(x, 1))'),
      SHARE,
      { op: 'add-column', table: 'hives', column: { name: 'through', formula: 'shown(kg)' } },
      { op: 'add-column', table: 'hives', column: { name: 'other', formula: 'kg + 1' } },
    )
    const change = book.apply(own('per_hundred', ['part', 'whole'], '1000 * part per whole'))
    expect(change.recalculated.map(({ column }) => column)).toEqual(['share', 'through'])
    expect(book.table('hives').column('through').values()).toEqual([3000, 6000, 12000, null])
    book.undo()
    expect(book.table('hives').column('share').values()).toEqual([300, 300, null, null])
  })

  test('set anew to the same is followed by nothing', () => {
    const book = hives(PER_HUNDRED, SHARE)
    expect(book.apply(PER_HUNDRED).recalculated).toEqual([])
  })

  test('is called by its new name everywhere', () => {
    const book = hives(
      PER_HUNDRED,
      own('shown', ['x'], 'round(per_hundred(x, 1))'),
      SHARE,
      { op: 'set-tally', table: 'hives', name: 'all', formula: 'sum(per_hundred(kg, 1))' },
      {
        op: 'set-report',
        name: 'by_yard',
        report: { table: 'hives', levels: [{ key: 'yard' }], tallies: [{ name: 'all', formula: 'sum(per_hundred(kg, 1))' }] },
      },
      { op: 'add-column', table: 'hives', column: { name: 'aside', formula: 'per_hundred(frames, per_hundred(kg, 1))' } },
      { op: 'pause-column', table: 'hives', column: 'aside' },
    )
    book.apply([
      { op: 'rename-function', name: 'per_hundred', to: 'percentage' },
      { op: 'rename-function', name: 'percentage', to: 'in_hundred' },
    ])
    const formulas = (): unknown[] => [
      book.functions.map(({ name, formula }) => `${name}: ${formula}`),
      book.table('hives').column('share').formula,
      book.table('hives').column('aside').formula,
      book.table('hives').tallyFormula('all'),
      book.reportDefinition('by_yard').tallies?.[0]?.formula,
    ]
    expect(formulas()).toEqual([
      ['in_hundred: 100 * part per whole', 'shown: round(in_hundred(x, 1))'],
      'in_hundred(kg, frames)',
      'in_hundred(frames, in_hundred(kg, 1))',
      'sum(in_hundred(kg, 1))',
      'sum(in_hundred(kg, 1))',
    ])
    book.undo()
    expect(formulas()).toEqual([
      ['per_hundred: 100 * part per whole', 'shown: round(per_hundred(x, 1))'],
      'per_hundred(kg, frames)',
      'per_hundred(frames, per_hundred(kg, 1))',
      'sum(per_hundred(kg, 1))',
      'sum(per_hundred(kg, 1))',
    ])
  })

  test('keeps its place when it comes back', () => {
    const book = hives(own('a', ['x'], 'x'), own('b', ['x'], 'x'), own('c', ['x'], 'x'))
    book.apply({ op: 'remove-function', name: 'b' })
    expect(book.functions.map(({ name }) => name)).toEqual(['a', 'c'])
    book.undo()
    expect(book.functions.map(({ name }) => name)).toEqual(['a', 'b', 'c'])
  })

  test('follows a named value that is of another type', () => {
    const book = hives(own('over', ['x'], 'x > limit'))
    expect(book.functions[0]?.form).toBe('over(x: number)')
    book.apply({ op: 'set-value', name: 'limit', value: '2026-03-15', type: 'date' })
    expect(book.functions[0]?.form).toBe('over(x: date or date-time)')
  })

  test('a report with a call of it follows', () => {
    const book = hives(PER_HUNDRED, {
      op: 'set-report',
      name: 'by_yard',
      report: { table: 'hives', levels: [{ key: 'yard' }], tallies: [{ name: 'all', formula: 'sum(per_hundred(kg, 1))' }] },
    })
    const view = book.report('by_yard')
    const totals = (): unknown => JSON.stringify(view.current.rows())
    const before = totals()
    book.apply(own('per_hundred', ['part', 'whole'], '1000 * part per whole'))
    expect(totals()).not.toEqual(before)
    view()
  })
})

describe('people see it', () => {
  const book = hives(
    own('per_hundred', ['part', 'whole'], '100 * part per whole', 'As a percentage'),
    own('standing', ['x'], '(x - mean(x)) per stdev(x)'),
    {
      op: 'add-column',
      table: 'hives',
      column: { name: 'share', formula: 'per_hundred(kg + 1, frames) + standing(kg)' },
    },
  )

  test('listed, with the types that were found', () => {
    expect(book.functions).toEqual([
      {
        name: 'per_hundred',
        parameters: ['part', 'whole'],
        formula: '100 * part per whole',
        note: 'As a percentage',
        form: 'per_hundred(part: number, whole: number)',
        type: 'number',
      },
      {
        name: 'standing',
        parameters: ['x'],
        formula: '(x - mean(x)) per stdev(x)',
        note: null,
        form: 'standing(x: number)',
        type: 'number',
      },
    ])
  })

  test('explained', () => {
    expect(explanationText(book.explain('hives', 'per_hundred(kg, frames)')).split('\n')).toContain(
      'per_hundred(part, whole) is 100 times part divided by whole. As a percentage.',
    )
  })

  test('opened into its steps', () => {
    const { withValues, steps, reads } = book.why('hives.share', 2)
    expect(withValues).toBe('per_hundred(6 + 1, 2) + standing(6)')
    expect(steps.map(({ name, text, value }) => `${name} = ${text}: ${String(value)}`)).toEqual([
      'per_hundred(kg + 1, frames) = 100 * part per whole with part = kg + 1, whole = frames: 350',
      'part = kg + 1: 7',
      expect.stringMatching(/^standing\(kg\) = \(x - mean\(x\)\) per stdev\(x\) with x = kg: -0\.2/),
    ])
    expect(reads.map(({ text, rows }) => [text, rows?.count])).toEqual([
      ['kg', undefined],
      ['frames', undefined],
      ['kg', undefined],
      ['mean(x)', 4],
      ['stdev(x)', 4],
    ])
  })

  test('traced to the columns that its calls are given', () => {
    expect(book.trace('hives.share').upstream.map(({ from, text }) => `${from} ${text}`)).toEqual([
      'hives.kg kg',
      'hives.frames frames',
      'hives.kg mean(x)',
      'hives.kg stdev(x)',
    ])
  })

  test('offered, hovered and helped with where formulas are written', () => {
    const language = book.language('hives')
    expect(language.complete('per_h', 5).options[0]).toEqual({
      label: 'per_hundred',
      kind: 'function',
      insert: 'per_hundred(',
      detail: 'per_hundred(part: number, whole: number) → number',
      info: 'As a percentage',
    })
    expect(language.hover('per_hundred(kg, 1)', 2)).toMatchObject({
      kind: 'function',
      title: 'per_hundred(part: number, whole: number)',
      lines: ['As a percentage', '= 100 * part per whole', 'A function of this workbook.'],
    })
    const help = language.signature('per_hundred(kg, ', 16)
    expect([help?.active, help?.parameters.map(({ from, to }) => help.form.slice(from, to))]).toEqual([
      1,
      ['part: number', 'whole: number'],
    ])
    expect(language.tokens('per_hundred(kg, 1)')[0]?.kind).toBe('function')
    expect(language.rename('per_hundred(kg, 1)', 3, 'percentage')).toEqual({
      operation: { op: 'rename-function', name: 'per_hundred', to: 'percentage' },
    })
  })

  test('a division by zero inside of it is told of what it is given, with its rows', () => {
    const bare = hives(own('ratio', ['x', 'y'], 'x / y'), {
      op: 'add-column',
      table: 'hives',
      column: { name: 'r', formula: '1 + ratio(kg, frames)' },
    })
    const found = bare.check().find(({ code }) => code === 'division-by-zero')
    expect([found?.rows, found?.from, found?.to, found?.fixes]).toEqual([1, 14, 20, []])
  })

  test('what is wrong with what it is given is said once', () => {
    const { findings } = book.previewColumn('hives', { name: 'c', formula: 'standing(kg + nothing)' })
    expect(findings.map(({ code, from, to }) => [code, from, to])).toEqual([['unknown-name', 14, 21]])
  })
})

describe('a definition is taken apart', () => {
  test.each<[string, unknown]>([
    ['f(x) = x * 2', { name: 'f', parameters: ['x'], formula: 'x * 2', formulaFrom: 7 }],
    ['f() = 1', { name: 'f', parameters: [], formula: '1', formulaFrom: 6 }],
    ['f( a : number ,`b c` : text)=a', { name: 'f', parameters: ['a : number', '`b c` : text'], formula: 'a', formulaFrom: 29 }],
  ])('%s', (text, expected) => expect(parseFunction(text)).toEqual(expected))

  test.each<[string, string]>([
    ['', 'nothing'],
    ['f', 'nothing more after the name'],
    ['f x', '"x" after the name'],
    ['f(1) = 2', '"1" for a parameter'],
    ['f(x = 2', '"=" after a parameter'],
    ['f(x', 'nothing more after a parameter'],
    ['f(x:', 'nothing more'],
    ['f(x) x', '"x"'],
    ['f(x)', 'no "="'],
  ])('%s is not finished', (text, found) => {
    const read = parseFunction(text)
    expect('findings' in read && read.findings[0]?.parameters.found).toBe(found)
  })
})
