import { CellFault, type ColumnView, type ShownValue, type Workbook } from '../../src/index.js'
import type { Result } from './oracle.js'
import type { BookSketch } from './oracle-book.js'
import { LINKS } from './random-models.js'

/** A value of a workbook as the oracle has it. */
export const asResult = (value: unknown, type: string | null): Result => {
  if (value === null || value === undefined) return null
  // A paused column keeps the errors it had calculated.
  if (typeof value === 'object') return { fault: 'error' in value ? String(value.error) : 'misfit' } as Result
  if (type === 'date') return { type, value: Date.parse(`${String(value)}T00:00:00Z`) / 86_400_000 }
  if (type === 'datetime') return { type, value: Date.parse(`${String(value)}Z`) }
  return { type: type === 'integer' ? 'number' : type, value } as Result
}

/** A random model as the oracle sees it: its formulas, and the cells that none gives. */
export function sketchOf(book: Workbook): BookSketch {
  const tables = book.tables.map((name) => {
    const table = book.table(name)
    const isSource = (one: ColumnView): boolean => one.formula === null || one.isPaused
    const formulas = Object.fromEntries(
      table.columns.flatMap((one) => (isSource(one) ? [] : [[one.name, one.formula as string]])),
    )
    const sources = table.columns.filter(isSource)
    const rows = table
      .rowIds()
      .map((id) => Object.fromEntries(sources.map((one) => [one.name, asResult(one.stored(id), one.type)])))
    const links = Object.fromEntries(
      LINKS.filter((link) => link.table === name && table.links.includes(link.name)).map((link) => [link.name, link]),
    )
    const tallies =
      name === 'takes' ? { total_kg: 'sum(kg where kg < 100)' } : name === 'yards' ? { hive_sum: 'sum(every hives.frames)' } : {}
    return [name, { formulas, rows, links, tallies }] as const
  })
  const price = book.value('price')
  return {
    tables: Object.fromEntries(tables),
    values: { price: { result: price === null ? null : ({ type: 'number', value: price } as Result) } },
  }
}

/** What the oracle says, to be compared. */
export const shownResult = (result: Result): unknown => {
  if (result === null) return null
  if ('fault' in result) return `!${result.fault}`
  if (result.type === 'datetime') return new Date(result.value).toISOString().slice(0, 19)
  return result.type === 'date' ? new Date(result.value * 86_400_000).toISOString().slice(0, 10) : result.value
}
/** What a workbook shows, to be compared. */
export const shownValue = (value: ShownValue): unknown => (value instanceof CellFault ? `!${value.code}` : value)
