import { type Dialect, DUCKDB, functionsWithForm, POSTGRESQL } from '@mellow-abacus/sql'
import { FUNCTIONS, type FunctionExample, guideOf, loadPatterns, type OperationJson, Refusal, Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { differences, publishIn } from './helpers/published.js'

/**
 * The examples of the pages of functions, with columns in place of what they write out, so that the engines calculate them. What
 * a page says is published to an engine has to be.
 */
const DIALECTS: Readonly<Record<string, Dialect>> = { duckdb: DUCKDB, postgresql: POSTGRESQL }
const engines: TestEngine[] = []

beforeAll(async () => {
  await loadPatterns()
  engines.push(await duckdb(), await pglite())
})
afterAll(async () => {
  for (const engine of engines) await engine.close()
})

const LITERAL = /^(?:-?\d[\d.e-]*|'(?:[^']|'')*'|@[\dT:.-]+|true|false)$/

/** A value that an example writes out, as a cell with its type. */
function cellOf(text: string): { readonly type: string; readonly value: unknown } {
  if (text.startsWith("'")) return { type: 'text', value: text.slice(1, -1).replaceAll("''", "'") }
  if (text.startsWith('@')) return { type: text.includes('T') ? 'datetime' : 'date', value: text.slice(1) }
  return text === 'true' || text === 'false'
    ? { type: 'boolean', value: text === 'true' }
    : { type: 'number', value: Number(text) }
}

/** The arguments of a call that is a whole formula; null for any other formula. */
function argumentsOf(formula: string, name: string): string[] | null {
  if (!formula.startsWith(`${name}(`) || !formula.endsWith(')')) return null
  const parts: string[] = ['']
  let depth = 0
  let isText = false
  for (const sign of formula.slice(name.length + 1, -1)) {
    if (sign === "'") isText = !isText
    if (!isText && sign === '(') depth++
    if (!isText && sign === ')') depth--
    if (!isText && depth === 0 && sign === ',') parts.push('')
    else parts[parts.length - 1] += sign
  }
  return parts.map((one) => one.trim())
}

/** A book in which an example reads columns in place of its first arguments; null where it cannot. */
function bookOf(name: string, { formula, over }: FunctionExample, replaced: number): Workbook | null {
  const book = new Workbook({ now: '2026-03-14T09:30:00' })
  try {
    if (over !== undefined) {
      const columns = Object.entries(over)
      const count = columns[0]?.[1].length ?? 0
      const typed = columns.map(([column, cells]) => {
        const known = cells.find((cell) => cell !== null)
        const type =
          typeof known === 'string' && /^\d{4}-\d\d-\d\d/.test(known) ? (known.includes('T') ? 'datetime' : 'date') : typeof known
        return { name: column, type: known === undefined || known === null ? 'number' : type }
      })
      const rows = Array.from({ length: count }, (_, row) => ({
        n: row,
        ...Object.fromEntries(columns.map(([column, cells]) => [column, cells[row]])),
      }))
      book.applyJson([
        { op: 'add-table', table: 't', columns: [{ name: 'n', type: 'integer' }, ...typed] },
        { op: 'insert-rows', table: 't', rows },
        { op: 'add-column', table: 't', column: { name: 'result', formula } },
      ] as OperationJson[])
      return book
    }
    const args = argumentsOf(formula, name)
    if (args === null) return null
    const cells = args
      .slice(0, replaced)
      .flatMap((text, index) => (LITERAL.test(text) ? [{ name: `a${index}`, ...cellOf(text) }] : []))
    if (cells.length === 0) return null
    const written = args.map((text, index) => (index < replaced && LITERAL.test(text) ? `a${index}` : text))
    book.applyJson([
      {
        op: 'add-table',
        table: 't',
        columns: [{ name: 'n', type: 'integer' }, ...cells.map(({ name: column, type }) => ({ name: column, type }))],
      },
      {
        op: 'insert-rows',
        table: 't',
        rows: [{ n: 0, ...Object.fromEntries(cells.map(({ name: column, value }) => [column, value])) }],
      },
      { op: 'add-column', table: 't', column: { name: 'result', formula: `${name}(${written.join(', ')})` } },
    ] as OperationJson[])
    return book
  } catch (error) {
    // Some arguments have to be written out.
    if (error instanceof Refusal) return null
    throw error
  }
}

test.each(FUNCTIONS.map((record) => [record.name, record] as const))('%s', async (name, record) => {
  for (const engine of engines) {
    const isPublished = functionsWithForm(DIALECTS[engine.name] as Dialect).has(name)
    let calculated = 0
    let refused = 0
    for (const example of guideOf(record).examples) {
      // What fails whatever it is given needs no form.
      if (!isPublished && example.fails !== undefined) continue
      // All arguments from columns first; then fewer, for those that engines need written out.
      for (let replaced = 4; replaced > 0; replaced--) {
        const book = bookOf(name, example, replaced)
        if (book === null) continue
        const model = await publishIn(engine, book)
        if (model.refused.length > 0) {
          refused++
          continue
        }
        expect({ example: example.formula, found: await differences(engine, book, model) }).toEqual({
          example: example.formula,
          found: [],
        })
        calculated++
        break
      }
    }
    if (!isPublished) expect({ name, engine: engine.name, calculated }).toEqual({ name, engine: engine.name, calculated: 0 })
    else if (refused > 0)
      expect({ name, engine: engine.name, isSome: calculated > 0 }).toEqual({ name, engine: engine.name, isSome: true })
  }
})
