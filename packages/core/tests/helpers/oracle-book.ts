import { parseFormula, type Syntax } from '../../src/formula/index.js'
import { type Clause, childrenOf } from '../../src/formula/syntax/index.js'
import { functionNamed } from '../../src/functions/index.js'
import { evaluate, type Place, type Result } from './oracle.js'
import { aggregateRows, orderedRows } from './oracle-rows.js'
import { byCodePoint, isFailed, type Known, number, truth } from './oracle-values.js'

/** A workbook as the oracle sees it: source cells by row, formulas by column, links, tallies and named values. */
export interface BookSketch {
  readonly tables: Readonly<Record<string, TableSketch>>
  readonly values: Readonly<Record<string, string | { readonly result: Result }>>
}

/** A table of the sketch; names are in lower case. */
export interface TableSketch {
  readonly formulas: Readonly<Record<string, string>>
  readonly rows: readonly Readonly<Record<string, Result>>[]
  readonly links: Readonly<
    Record<string, { readonly columns: readonly string[]; readonly to: string; readonly keys: readonly string[] }>
  >
  readonly tallies: Readonly<Record<string, string>>
}

type CallNode = Syntax & { kind: 'call' }
type NameNode = Syntax & { kind: 'name' }

/** A row that names belong to, and the one it is read for. */
interface Spot {
  readonly table: string
  /** Null for tallies and named values. */
  readonly row: number | null
  readonly outer: Place | null
}

/** The slow evaluator over a whole workbook: each cell by its formula, rows by looking at all of them. */
export class BookOracle {
  readonly #book: BookSketch
  readonly #known: Map<string, Result> = new Map()

  constructor(book: BookSketch) {
    this.#book = book
  }

  /** A cell; the row from 0. */
  cell(table: string, column: string, row: number): Result {
    const sketch = this.#table(table)
    const formula = sketch.formulas[column]
    if (formula === undefined) return sketch.rows[row]?.[column] ?? null
    return this.#once(`${table}.${column} ${row}`, () => this.#evaluate(formula, { table, row, outer: null }))
  }

  /** A tally over its whole table. */
  tally(table: string, name: string): Result {
    const formula = this.#table(table).tallies[name] as string
    return this.#once(`tally ${table}.${name}`, () => this.#evaluate(formula, { table, row: null, outer: null }))
  }

  /** A named value. */
  value(name: string): Result {
    const value = this.#book.values[name] as string | { result: Result }
    return typeof value === 'object'
      ? value.result
      : this.#once(`value ${name}`, () => this.#evaluate(value, { table: '', row: null, outer: null }))
  }

  #once(key: string, compute: () => Result): Result {
    if (!this.#known.has(key)) this.#known.set(key, compute())
    return this.#known.get(key) as Result
  }

  #table(name: string): TableSketch {
    return this.#book.tables[name] as TableSketch
  }

  #evaluate(formula: string, spot: Spot): Result {
    return evaluate(parseFormula(formula).tree, this.#place(formula, spot, new Map()))
  }

  #place(formula: string, spot: Spot, steps: ReadonlyMap<string, Result>): Place {
    const place: Place = {
      formula,
      steps,
      column: (name) => this.cell(spot.table, name, spot.row as number),
      read: (node) => this.#read(node, spot, place),
      overRows: (node, now) => this.#overRows(node, spot, { ...place, steps: now }),
    }
    return place
  }

  #read(node: NameNode, spot: Spot, place: Place): Result {
    const names = node.parts.map((part) => part.name.toLowerCase())
    const [head, ...rest] = names as [string, ...string[]]
    if (node.every) return this.#follow(spot.table, spot.row, rest)
    if (names.length === 1) return this.#single(spot.table, spot.row, head)
    if (head === 'this') return evaluate({ ...node, parts: node.parts.slice(1) } as never, spot.outer ?? place)
    if (head === 'book') return this.value(rest[0] as string)
    const table = this.#book.tables[spot.table]
    if (table?.links[head] !== undefined) return this.#follow(spot.table, spot.row, names)
    if (head === spot.table && spot.row !== null && spot.outer !== null) return this.#follow(spot.table, spot.row, rest)
    return this.tally(head, rest[0] as string)
  }

  #single(table: string, row: number | null, name: string): Result {
    const sketch = this.#book.tables[table]
    const isColumn = sketch !== undefined && row !== null && (name in sketch.formulas || name in (sketch.rows[row] ?? {}))
    if (isColumn) return this.cell(table, name, row)
    return sketch !== undefined && name in sketch.tallies ? this.tally(table, name) : this.value(name)
  }

  #follow(table: string, row: number | null, names: readonly string[]): Result {
    const [head, ...rest] = names as [string, ...string[]]
    if (rest.length === 0) return this.#single(table, row, head)
    const found = this.#linked(table, row as number, head)
    if (typeof found !== 'number') return found
    return this.#follow((this.#table(table).links[head] as { to: string }).to, found, rest)
  }

  /** The row that a link leads to, blank, or the error. */
  #linked(table: string, row: number, name: string): number | null | Result {
    const link = this.#table(table).links[name] as TableSketch['links'][string]
    const key = link.columns.map((column) => this.cell(table, column, row))
    const failed = key.find(isFailed)
    if (failed !== undefined) return failed
    if (key.includes(null)) return null
    const matches = this.#table(link.to).rows.flatMap((_, other) =>
      link.keys.every((column, index) => same(this.cell(link.to, column, other), key[index] as Result)) ? [other] : [],
    )
    return matches.length > 1 ? { fault: 'many-matches' } : (matches[0] ?? null)
  }

  #overRows(node: CallNode, spot: Spot, place: Place): Result | undefined {
    const record = functionNamed(node.name.name)
    if (record?.form !== 'aggregate' && record?.form !== 'ordered') return undefined
    const read = this.#rowsRead(node, spot)
    const args = read.alone ? node.args.slice(1) : node.args
    const at = (part: Syntax, row: number): Result =>
      evaluate(part, this.#place(place.formula, { table: read.table, row, outer: place }, new Map()))
    const by = clause(node, 'by')?.keys ?? []
    const order = (clause(node, 'order by')?.keys ?? []).map(({ key, descending }) => ({
      descending,
      of: (row: number) => at(key, row),
    }))
    if (!Array.isArray(read.rows)) return read.rows
    let rows = read.rows
    if (by.length > 0) {
      const own = by.map((key) => at(key, spot.row as number))
      const failed = own.find(isFailed)
      if (failed !== undefined) return failed
      rows = rows.filter((row) => by.every((key, index) => same(at(key, row), own[index] as Result, true)))
    }
    const values = args.map(
      (arg) =>
        (row: number): Result =>
          at(arg, row),
    )
    const isDescending = node.clauses.some((one) => one.kind === 'desc')
    if (record.form === 'ordered') return orderedRows(record.name, spot.row as number, rows, values, order, isDescending)
    const where = clause(node, 'where')?.condition
    const holds = (row: number): Result => (where === undefined ? truth(true) : at(where, row))
    if (record.name !== 'share') return aggregateRows(record.name, rows, holds, values, order)
    const total = aggregateRows('sum', rows, holds, values, order)
    const own = at(args[0] as Syntax, spot.row as number)
    const failed = [own, total].find(isFailed)
    if (failed !== undefined || own === null || total === null) return failed ?? null
    const [top, bottom] = [own, total].map((one) => (one as Known).value as number) as [number, number]
    return bottom === 0 ? null : number(top / bottom)
  }

  /** The rows a call reads, their table, and whether the first argument only names it. */
  #rowsRead(node: CallNode, spot: Spot): { table: string; rows: number[] | Result; alone: boolean } {
    const home = this.#book.tables[spot.table]
    const named = node.args.flatMap((arg) => this.#tablesIn(arg, spot))[0]
    const way = clause(node, 'via') ?? clause(node, 'below')
    const alone = named !== undefined && named.node === node.args[0] && named.node.parts.length === 1
    const all = (table: string): number[] => this.#table(table).rows.map((_, row) => row)
    if (named === undefined && way === undefined) return { table: spot.table, rows: all(spot.table), alone }
    const table = named?.table ?? spot.table
    if (named?.node.every === true) return { table, rows: all(table), alone }
    const path =
      way?.path.map((part) => part.name.toLowerCase()) ??
      Object.entries(this.#table(table).links).flatMap(([name, link]) => (link.to === spot.table ? [name] : []))
    const here = spot.row as number
    if (home !== undefined && this.#isDoubled(table, path, spot.table, here))
      return { table, rows: { fault: 'many-matches' }, alone }
    const leads = (row: number): Result | number => {
      let at: number | null | Result = row
      let from = table
      for (const name of path) {
        if (typeof at !== 'number') return at
        const link = this.#table(from).links[name] as { to: string }
        at = this.#linked(from, at, name)
        from = link.to
      }
      return at
    }
    if (way?.kind !== 'below') return { table, rows: all(table).filter((row) => leads(row) === here), alone }
    const below = new Set<number>()
    for (let open = [here]; open.length > 0; ) {
      open = all(table).filter((row) => open.includes(leads(row) as number) && !below.has(row))
      for (const row of open) below.add(row)
    }
    return { table, rows: below.has(here) ? { fault: 'loop' } : [...below].sort((a, b) => a - b), alone }
  }

  /** True when another row of the table led to has the same key, so that no row leads here for certain. */
  #isDoubled(table: string, path: readonly string[], home: string, here: number): boolean {
    let from = table
    let link: TableSketch['links'][string] | undefined
    for (const name of path) {
      link = this.#table(from).links[name] as TableSketch['links'][string]
      from = link.to
    }
    const keys = link?.keys ?? []
    return this.#table(home).rows.some(
      (_, row) => row !== here && keys.every((key) => same(this.cell(home, key, row), this.cell(home, key, here))),
    )
  }

  #tablesIn(arg: Syntax, spot: Spot): { node: NameNode; table: string }[] {
    if (arg.kind === 'name') {
      const head = arg.parts[0].name.toLowerCase()
      if (arg.every) return [{ node: arg, table: head }]
      const home = this.#book.tables[spot.table]
      if (home?.links[head] !== undefined && arg.parts.length > 1) return []
      const isColumn =
        home !== undefined && (head in home.formulas || home.rows.some((row) => head in row) || head in home.tallies)
      if (arg.parts.length === 1 && (isColumn || head in this.#book.values)) return []
      return head in this.#book.tables ? [{ node: arg, table: head }] : []
    }
    const record = arg.kind === 'call' ? functionNamed(arg.name.name) : undefined
    if (record?.form === 'aggregate' || record?.form === 'ordered') return []
    return childrenOf(arg).flatMap((child) => this.#tablesIn(child, spot))
  }
}

function clause<Kind extends Clause['kind']>(node: CallNode, kind: Kind): (Clause & { kind: Kind }) | undefined {
  return node.clauses.find((one) => one.kind === kind) as (Clause & { kind: Kind }) | undefined
}

/** True for keys that are equal; blanks are only where they are a key. */
function same(left: Result, right: Result, blankIsKey = false): boolean {
  if (left === null || right === null) return blankIsKey && left === right
  if (isFailed(left) || isFailed(right)) return false
  return typeof left.value === 'string'
    ? byCodePoint(left.value, right.value as string) === 0
    : left.value === (right as Known).value
}
