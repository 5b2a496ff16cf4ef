import { describe, expect, test } from 'vitest'
import {
  completeFormula,
  explainFormula,
  explanationText,
  hoverAt,
  renameAt,
  signatureAt,
  tokenKinds,
} from '../src/formula/index.js'
import { applyEdits, Workbook } from '../src/index.js'
import { combScopes } from './helpers/book-of-tables.js'

/** In these formulas `|` is where the cursor stands. */
function at(marked: string): { text: string; offset: number } {
  return { text: marked.replace('|', ''), offset: marked.indexOf('|') }
}

describe('completion', () => {
  const offered = (table: string, marked: string): string[] => {
    const { text, offset } = at(marked)
    return completeFormula(text, offset, combScopes(table)).options.map((option) => option.label)
  }

  test.each<[string, string, string[]]>([
    ['inspections', 'mit|', ['mites']],
    ['inspections', 'MIT|', ['mites']],
    ['inspections', '100 * sampl|', ['bees_sampled']],
    ['inspections', 'hive.|', ['tag', 'yard', 'frames', 'parent', 'apiary', 'parent']],
    ['inspections', 'hive.apiary.re|', ['region']],
    ['inspections', 'harvests.tot|', ['total_kg']],
    ['inspections', 'book.|', ['feed_price', 'region']],
    ['inspections', 'count(every weather where this.last|', ['last_seen']],
    ['inspections', 'count(every weather where rai|', ['rain_mm']],
    ['inspections', 'let net = mites in ne|', ['net']],
    ['inspections', "start_of(seen, 'm|')", ['month', 'minute']],
    ['inspections', 'mean_of(#sc|', ['#score']],
    ['inspections', 'mean_of(#|', ['#score']],
    ['inspections', "'mit|'", []],
    ['inspections', '1 // mit|', []],
    ['inspections', '12|', []],
    ['inspections', 'xyzzy|', []],
  ])('%s: %s', (table, marked, expected) => expect(offered(table, marked).slice(0, 6)).toEqual(expected))

  test('own columns come first, then links, values, functions', () => {
    const options = completeFormula('', 0, combScopes('inspections')).options
    const kinds = [...new Set(options.map((option) => option.kind))]
    expect(kinds).toEqual(['column', 'link', 'value', 'function', 'table', 'keyword'])
  })

  test('clauses are offered inside functions of several rows', () => {
    expect(offered('inspections', 'count(every weather wh|')).toContain('where')
    expect(offered('inspections', 'round(wh|')).not.toContain('where')
  })

  test('the span that is replaced is the whole word, and a name that needs backticks gets them', () => {
    const book = new Workbook()
    book.apply([
      { op: 'add-table', table: 't', columns: [{ name: 'Unit price', type: 'number', unit: 'kg' }] },
      { op: 'insert-rows', table: 't', rows: [{ 'Unit price': 4.5 }] },
    ])
    const { from, to, options } = book.language('t').complete('1 + uni', 7)
    expect([from, to]).toEqual([4, 7])
    expect(options[0]).toMatchObject({ label: 'Unit price', insert: '`Unit price`', detail: 'number, kg', info: '4.5' })
    expect(book.language('t').complete('1 + `Unit pr`', 10)).toMatchObject({ from: 4, to: 13 })
  })
})

describe('signature help', () => {
  test.each<[string, string | null, number | null]>([
    ['round(|', 'round', 0],
    ['round(1, |', 'round', 1],
    ['round(1, 2, |', 'round', null],
    ['join("-", a, b, |', 'join', 1],
    ['if(round(a|), 1, 2)', 'round', 0],
    ['if(round(a), |', 'if', 1],
    ['(a + |', null, null],
    ['round(1)|', null, null],
    ['nope(|', null, null],
    ['a in (1, |', null, null],
    ['round((a + |', 'round', 0],
  ])('%s', (marked, name, active) => {
    const { text, offset } = at(marked)
    const help = signatureAt(text, offset, combScopes('inspections'))
    expect([help?.name ?? null, help?.active ?? null]).toEqual([name, active])
  })

  test('says where each parameter stands in the form', () => {
    const help = signatureAt('round(', 6, combScopes('inspections'))
    expect(help?.parameters.map(({ from, to }) => help.form.slice(from, to))).toEqual(['value: number', 'digits?: number'])
  })
})

describe('hover', () => {
  test.each<[string, string, string]>([
    ['100 * mi|tes', 'column', 'mites'],
    ['rou|nd(mites)', 'function', 'round(value: number, digits?: number) → number'],
    ['hive.api|ary.region', 'link', 'apiary'],
    ['hive.apiary.reg|ion', 'column', 'region'],
    ['mites p|er bees_sampled', 'keyword', 'per'],
    ['mean_of(#sc|ore)', 'tag', '#score'],
    ['let net = mites in n|et', 'step', 'net'],
    ['feed_p|rice', 'value', 'feed_price'],
    ['count(every wea|ther)', 'table', 'weather'],
  ])('%s', (marked, kind, title) => {
    const { text, offset } = at(marked)
    expect(hoverAt(text, offset, combScopes('inspections'))).toMatchObject({ kind, title })
  })

  test('shows type, unit, note, formula and a value of a column', () => {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [
          { name: 'kg', type: 'number' },
          { name: 'double', formula: '2 * kg', unit: 'kg', note: 'twice' },
        ],
      },
      { op: 'insert-rows', table: 't', rows: [{ kg: 4 }] },
    ])
    expect(book.language('t').hover('double', 2)?.lines).toEqual(['number, kg', 'twice', '= 2 * kg', 'For example 8'])
  })

  test.each(['12|', "'a|'", '|', 'nope|'])('nothing to say: %s', (marked) => {
    const { text, offset } = at(marked)
    expect(hoverAt(text, offset, combScopes('inspections'))).toBeNull()
  })
})

test('every piece has a kind', () => {
  const text =
    "let n = mites in count(every weather where day > this.seen and rain_mm > this.n) + hive.frames + nope & 'x' // end"
  const kinds = tokenKinds(text, combScopes('inspections')).map(({ from, to, kind }) => `${text.slice(from, to)} ${kind}`)
  expect(kinds.filter((kind) => !kind.endsWith('sign'))).toEqual([
    ...[
      'let keyword',
      'n step',
      'mites column',
      'in keyword',
      'count function',
      'every keyword',
      'weather table',
      'where keyword',
    ],
    ...['day column', 'this keyword', 'seen column', 'and keyword', 'rain_mm column', 'this keyword', 'n step', 'hive link'],
    ...['frames column', 'nope unknown', "'x' text", '// end comment'],
  ])
})

describe('rename', () => {
  test.each([
    ['let n| = mites in n + n', 'let net = mites in net + net'],
    ['let n = mites in let n = n + 1 in n|', 'let n = mites in let net = n + 1 in net'],
    [
      'let n = mites in count(every weather where rain_mm > this.n|)',
      'let net = mites in count(every weather where rain_mm > this.net)',
    ],
  ])('a step: %s', (marked, expected) => {
    const { text, offset } = at(marked)
    const renaming = renameAt(text, offset, 'net', combScopes('inspections'))
    expect(renaming?.kind === 'step' ? applyEdits(text, renaming.edits) : null).toBe(expected)
  })

  test('a column is an operation of the book', () => {
    const book = new Workbook()
    book.apply({
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'kg', type: 'number' },
        { name: 'double', formula: '2 * kg' },
      ],
    })
    const renaming = book.language('t').rename('1 + kg', 5, 'honey kg')
    expect(renaming).toEqual({ operation: { op: 'rename-column', table: 't', column: 'kg', to: 'honey kg' } })
    book.applyJson((renaming as { operation: { op: string } }).operation)
    expect(book.table('t').column('double').formula).toBe('2 * `honey kg`')
    expect(book.language('t').rename('1 + 2', 1, 'x')).toBeNull()
  })
})

describe('explanation', () => {
  test.each<[string, string, string[]]>([
    [
      'inspections',
      '100 * mites per bees_sampled',
      [
        '100 times mites divided by bees_sampled.',
        '',
        'Blank where mites is blank, bees_sampled is blank or bees_sampled is zero.',
      ],
    ],
    [
      'inspections',
      'mites / bees_sampled + 1',
      [
        '(mites divided by bees_sampled) plus 1.',
        '',
        'Blank where mites is blank or bees_sampled is blank.',
        'The error division-by-zero where bees_sampled is zero.',
      ],
    ],
    [
      'inspections',
      "case when mites is blank then 'sample' when mites > 3 then 'treat' else if(ok, 'wait', 'look') end",
      [
        'The first of these whose condition is true:',
        '  1. where mites is blank: "sample"',
        '  2. where mites is more than 3: "treat"',
        '  3. where ok: "wait"',
        '  otherwise: "look"',
        '',
        'Never blank.',
        'A blank condition is not true, so its branch is not taken; a condition that fails gives its error.',
      ],
    ],
    [
      'inspections',
      'let net = stores_kg - 2 in net ^ 2 ?? 0',
      ['Step net: stores_kg minus 2.', 'Result: (net to the power of 2), or 0 where that is blank.', '', 'Never blank.'],
    ],
    ['inspections', '(mites + 1) * 2 - -3', ['((mites plus 1) times 2) minus (minus 3).', '', 'Blank where mites is blank.']],
    ['inspections', 'mites not in (1, 2) and not ok', ['(mites is none of 1, 2) and (not ok).']],
    [
      'inspections',
      'hive.apiary.region',
      ['The region of the apiary of the hive.', '', 'Blank where hive.apiary.region is blank.'],
    ],
  ])('%s: %s', (table, formula, expected) => {
    expect(explanationText(explainFormula(formula, combScopes(table))).split('\n')).toEqual(expected)
  })

  test.each([
    [
      'inspections',
      'count(every weather where day > this.last_seen)',
      'The number of all rows of weather where day is more than this row’s last_seen.',
    ],
    ['hives', 'sum(harvests.honey_kg)', 'The total of honey_kg over the rows of harvests linked to this one.'],
    ['hives', 'count(harvests)', 'The number of the rows of harvests linked to this one.'],
    ['hives', 'sum(frames below parent)', 'The total of frames over the rows below this one through parent.'],
    ['harvests', 'share(honey_kg by site)', 'The share of honey_kg over the rows of this table with the same site as this row.'],
    [
      'inspections',
      'lag(mites by hive order by seen desc)',
      'mites of the row before with the same hive as this row in the order of seen (largest first).',
    ],
    ['inspections', 'rank(mites desc)', 'The rank by mites (largest first).'],
    [
      'inspections',
      'weighted(brood at 40%, temper at 60%)',
      'The weighted sum of brood with weight 40%, temper with weight 60%, blanks skipped.',
    ],
    ['inspections', "start_of(add_months(seen, 1), 'month')", 'The start of the month of seen plus 1 month.'],
    ['inspections', 'case hive when "a" then 1 end', 'The first of these whose condition is true:'],
    ['inspections', 'feed_price * 2', 'feed_price times 2.'],
    ['inspections', 'repeat(notes, 2)', 'repeat(notes, 2).'],
  ])('%s: %s', (table, formula, expected) => expect(explainFormula(formula, combScopes(table)).lines[0]?.text).toBe(expected))

  test('what cannot be read is explained as far as it goes', () => {
    expect(explainFormula('mites + ', combScopes('inspections')).lines[0]?.text).toBe('mites plus ….')
  })
})
