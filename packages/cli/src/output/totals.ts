import {
  CellFault,
  displayOf,
  printName,
  type QueryResult,
  type ShownValue,
  type TableView,
  tidyDisplayOf,
  type WorkbookView,
} from 'mellow-abacus'
import { columnDisplays } from './table-text.js'
import type { Totals, TotalsLine } from './totals-line.js'

interface Tally {
  readonly name: string
  readonly column: string | null
  readonly all: string
  readonly shown: string | null
}

/** The tallies of a table over all its rows and, under a condition, over the rows shown; laid out for the columns that are shown. */
export function totalsOf(
  book: WorkbookView,
  table: TableView,
  result: QueryResult,
  { where, locale, exact }: { readonly where?: string; readonly locale: string; readonly exact: boolean },
): (shown: ReadonlySet<string>) => Totals {
  const under = underColumns(table, result, locale, exact)
  const filtered = where === undefined ? null : valuesWhere(book, table, where)
  const tallies = table.tallies.map((name, at): Tally => {
    const { column, text } = under(name)
    return { name, column, all: text(table.tally(name)), shown: filtered === null ? null : text(filtered[at] ?? null) }
  })
  return (shown) => {
    const isUnder = ({ column }: Tally): boolean => column !== null && shown.has(column)
    return { lines: linesOf(tallies.filter(isUnder), filtered !== null), others: saidOf(tallies.filter((one) => !isUnder(one))) }
  }
}

/** Tallies under their columns, several of one column below one another. */
function linesOf(tallies: readonly Tally[], isFiltered: boolean): TotalsLine[] {
  const stacks = new Map<string, Tally[]>()
  for (const tally of tallies) stacks.set(tally.column ?? '', [...(stacks.get(tally.column ?? '') ?? []), tally])
  const deepest = Math.max(0, ...Array.from(stacks.values(), ({ length }) => length))
  return Array.from({ length: deepest }, (_, depth): TotalsLine[] => {
    const at = (of: (tally: Tally) => string | null): Map<string, string> =>
      new Map([...stacks].flatMap(([column, stack]) => (stack[depth] === undefined ? [] : [[column, of(stack[depth]) ?? '']])))
    const line = (label: string, of: (tally: Tally) => string | null): TotalsLine => ({ label, isName: false, cells: at(of) })
    return [
      line('all', ({ all }) => all),
      ...(isFiltered ? [line('shown', ({ shown }) => shown)] : []),
      { label: '', isName: true, cells: at(({ name }) => printName(name)) },
    ]
  }).flat()
}

/** For a tally, the column it stands under and how its value is written: as that column's, where nothing is said of it. */
function underColumns(
  table: TableView,
  result: QueryResult,
  locale: string,
  exact: boolean,
): (name: string) => { readonly column: string | null; readonly text: (value: ShownValue) => string } {
  const displays = columnDisplays(result, { locale, exact })
  return (name) => {
    const { type, column, described, properties } = table.tallyFacts(name)
    const place = result.columns.findIndex((one) => one.name === column)
    const above = result.columns[place]
    const isNumber = type === 'number' || type === 'integer'
    const isLikeAbove =
      isNumber && above?.type === 'number' && described.display === undefined && described.decimals === undefined
    const own = exact
      ? displayOf({ type, properties }, locale)
      : tidyDisplayOf({ type, properties, calculated: true, storage: undefined }, new Int32Array(), locale)
    const show = isLikeAbove ? displays[place] : own
    return {
      column: above === undefined ? null : above.name,
      text: (value) => {
        if (value === null) return 'blank'
        if (value instanceof CellFault) return String(value)
        return (show ?? String)(typeof value === 'number' && !exact && isNumber ? tidied(value) : value)
      },
    }
  }
}

/** Significant digits of a single number. */
const DIGITS = 6

/** A number with as many significant digits as are shown of it; what is written out has all of them. */
function tidied(value: number): number {
  return Number.isInteger(value)
    ? value
    : Number(value.toPrecision(Math.max(DIGITS, Math.trunc(Math.abs(value)).toString().length)))
}

function valuesWhere(book: WorkbookView, table: TableView, where: string): readonly ShownValue[] {
  const tallies = table.tallies.map((name) => ({ name, formula: table.tallyFormula(name) ?? 'blank' }))
  const [values] = book.group({ table: table.name, tallies, where, flat: true }).rows()
  return values ?? []
}

function saidOf(tallies: readonly Tally[]): string {
  if (tallies.length === 0) return ''
  const all = `all rows: ${tallies.map(({ name, all: value }) => `${printName(name)} = ${value}`).join(', ')}`
  const isFiltered = tallies.some(({ shown }) => shown !== null)
  const shown = `rows shown: ${tallies.map(({ name, shown: value }) => `${printName(name)} = ${value ?? ''}`).join(', ')}`
  return isFiltered ? `${all}\n${shown}\n` : `${all}\n`
}
