import { DUCKDB, type ModelSql, modelSql, POSTGRESQL, relationsNow } from '@mellow-abacus/sql'
import { CellFault, type ShownValue, type Workbook } from 'mellow-abacus'
import { asDatabase } from './attached-book.js'
import type { TestEngine } from './engines.js'

const DIALECTS = { duckdb: DUCKDB, postgresql: POSTGRESQL }

/** A difference between the workbook and an engine. */
export interface Difference {
  readonly place: string
  readonly formula: string | null
  readonly expected: unknown
  readonly found: unknown
}

/** What a workbook shows, to be compared with what an engine gives. */
export const shown = (value: ShownValue): unknown => (value instanceof CellFault ? `!${value.code}` : value)

/** A date-time as engines give it. */
const withMilliseconds = (text: string): string => text.concat(text.includes('.') ? '' : '.').padEnd(23, '0')

/** How far apart two numbers may be where the last bits are the engine's. */
const NEAR = 1e-9

/** What jumps: of nearly the same numbers it can make quite different ones. */
const JUMPS =
  /\b(?:gcd|lcm|floor|ceiling|truncate|round\w*|mod|quotient|sign|case|if\w*|blank_if|rank|dense_rank|mode|count\w*|lookup)\b|[<>=]|\bin\b|between|\?\?/

/** Lines through points that lie nearer together than squares can tell are refused by engines. */
const LINES = /\b(?:slope|intercept|correlation|r_squared)\b/

/** True where an engine gives what the workbook has, as near as it has to be. */
export function isSame(
  expected: unknown,
  found: unknown,
  isApproximate: boolean,
  formula: string | null,
  largest: number,
): boolean {
  if (Object.is(expected, found)) return true
  if (isApproximate) {
    if (found === '!out-of-range' && formula !== null && LINES.test(formula)) return true
    // What is compared with, chosen by or made a text of an approximate number may come out otherwise.
    if (typeof expected !== 'number' || typeof found !== 'number') return true
    if (formula !== null && JUMPS.test(formula)) return true
    return Math.abs(expected - found) <= NEAR * Math.max(Math.abs(expected), Math.abs(found), largest)
  }
  return typeof expected === 'string' && withMilliseconds(expected) === found
}

/** Runs the statements of a workbook in an empty schema. */
export async function publishIn(engine: TestEngine, book: Workbook): Promise<ModelSql> {
  const relations = await relationsNow(book, asDatabase(engine))
  const model = modelSql(book, DIALECTS[engine.name], { schema: 'm', relations })
  await engine.run('drop schema if exists m cascade')
  await engine.run('create schema m')
  for (const { text } of model.statements) {
    try {
      await engine.run(text)
    } catch (error) {
      throw new Error(`${(error as Error).message}\n${text}`)
    }
  }
  return model
}

/** Compares every column of every table with the views that show them. */
export async function differences(
  engine: TestEngine,
  book: Workbook,
  model: Pick<ModelSql, 'approximate'> & Partial<Pick<ModelSql, 'statements'>>,
): Promise<Difference[]> {
  const found: Difference[] = []
  const approximate = new Set(model.approximate.map(({ address }) => address))
  for (const name of book.tables) {
    const view = book.table(name)
    const query = `select v.* from m."${name}" as v`
    let rows: Record<string, unknown>[]
    try {
      rows = await engine.rows(query)
    } catch (error) {
      const text = model.statements?.find((one) => one.kind === 'view' && one.name === name)?.text
      throw new Error(`${(error as Error).message}\n${text}`)
    }
    if (rows.length !== view.rowIds().length)
      found.push({ place: name, formula: null, expected: view.rowIds().length, found: rows.length })
    // Where great parts of a sum cancel each other, what is left is as near as the parts were.
    const numbers = view.columns.flatMap((column) => (column.formula === null ? column.values() : []))
    const largest = numbers.reduce<number>((most, one) => (typeof one === 'number' ? Math.max(most, Math.abs(one)) : most), 1)
    const order = view.column('n').values() as number[]
    const byNumber = new Map(rows.map((row) => [row.n, row]))
    for (const column of view.columns) {
      const values = column.values().map(shown)
      for (const [index, number] of order.entries()) {
        const row = byNumber.get(number)
        const fault = row?.[`${column.name}!fault`]
        const value = fault === null || fault === undefined ? (row?.[column.name] ?? null) : `!${String(fault)}`
        if (!isSame(values[index], value, approximate.has(`${name}.${column.name}`), column.formula, largest))
          found.push({
            place: `${name}.${column.name} ${number}`,
            formula: column.formula,
            expected: values[index],
            found: value,
          })
      }
    }
  }
  return found
}
