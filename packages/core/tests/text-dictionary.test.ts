import { afterEach, describe, expect, test, vi } from 'vitest'
import { type FunctionRecord, functionNamed } from '../src/functions/index.js'
import { Workbook } from '../src/index.js'

/** What one column of texts decides is computed once for each of its different texts, and every row has what it would have alone. */

const POOL = ['LM-07-21', 'lm-7', '', 'Église  du bourg', '12', '1e400', 'heather 🐝 flow', null] as const
const ROWS = 9000

/** `x` holds the texts of the pool, `faulty` makes errors of some, `n` counts the rows. */
function bookOf(texts: readonly (string | null)[]): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'x', type: 'text' },
        { name: 'n', type: 'number' },
        { name: 'faulty', formula: "if(x = '12', repeat(x, 600000), x & '!')" },
      ],
    },
    { op: 'insert-rows', table: 'hives', block: { x: [...texts], n: texts.map((_, row) => row) } },
  ])
  return book
}
const manyRows = Array.from({ length: ROWS }, (_, row) => POOL[(row * row + row) % POOL.length] as string | null)

function resultsOf(book: Workbook, formula: string): readonly unknown[] {
  book.apply({ op: 'add-column', table: 'hives', column: { name: 'made', formula } })
  return book.table('hives').column('made').values()
}

describe('rows hold what they would hold alone', () => {
  test.each([
    "upper(x) & '|' & trim(x)",
    'number(x) ?? 0',
    "coalesce(x, 'none')",
    "case when contains(x, 'm') then length(x) when x is blank then blank else 0 end",
    "case x when 'lm-7' then 1 when '12' then 2 else 3 end",
    "x = 'lm-7' or starts_with(x, 'L')",
    "matches(x, '[0-9]+')",
    'split_part(x, x, 1)',
    'upper(faulty)',
    'length(faulty) + length(x)',
    "if_error(upper(faulty), 'long')",
    'faulty is error',
    'let short = left(x, 3) in short & upper(short)',
    "join('-', x, upper(x), 'end')",
    // Read by one part after another, and by a part that gives it back as its own result.
    "coalesce(word(if(true, x, x), 3), replace_pattern(x, '[a-z]', 'z'), x)",
    "upper(x) & reverse(lower(x)) & word(x, 1) & replace(x, 'm', 'nn')",
    "if(length(x) > 4, coalesce(x, 'none'), x) & right(x, 2)",
  ])('%s', (formula) => {
    const alone = POOL.map((text) => String(resultsOf(bookOf([text]), formula)[0]))
    const together = resultsOf(bookOf(manyRows), formula).map(String)
    expect(together).toEqual(manyRows.map((text) => alone[POOL.indexOf(text as never)]))
  })
})

describe('how often a function runs', () => {
  afterEach(() => vi.restoreAllMocks())

  /** Rows given to the kernel of `upper` while something is done. */
  function rowsComputed(work: () => void): number {
    const record = functionNamed('upper') as FunctionRecord & { kernel: NonNullable<FunctionRecord['kernel']> }
    const spy = vi.spyOn(record, 'kernel')
    work()
    return spy.mock.calls.reduce((sum, [{ selection }]) => sum + selection.count, 0)
  }

  test('once for each text and once for blanks', () => {
    const book = bookOf(manyRows)
    expect(rowsComputed(() => resultsOf(book, "upper(x) & '.'"))).toBe(new Set(manyRows).size)
  })

  test('once a row where another column has a say', () => {
    const book = bookOf(manyRows)
    expect(rowsComputed(() => resultsOf(book, 'upper(x & n)'))).toBe(ROWS)
  })

  test('once a row where texts hardly repeat', () => {
    const book = bookOf(manyRows.map((text, row) => `${text} ${row}`))
    expect(rowsComputed(() => resultsOf(book, 'upper(x)'))).toBe(ROWS)
  })

  test('an edit computes its own row, whatever else is listed', () => {
    const edit = { op: 'set-cells' as const, table: 'hives', cells: [{ row: 5, column: 'x', value: 'new here' }] }
    const book = bookOf(manyRows)
    const computed = rowsComputed(() => {
      resultsOf(book, 'upper(x)')
      book.apply(edit)
    })
    expect(computed).toBe(new Set(manyRows).size + 1)
    expect(book.table('hives').column('made').values()[4]).toBe('NEW HERE')
  })
})
