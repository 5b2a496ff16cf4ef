import {
  type Checked,
  type ColumnId,
  type DefinedColumn,
  type Definitions,
  type Operator,
  partsOf,
  withoutSteps,
} from 'mellow-abacus/model'

/** What rounding a result once makes of it: half of the last bit. */
const ROUNDING = 2 ** -53

/** How far two libraries may be apart that are each within one unit in the last place: powers, roots, logarithms, sines. */
const OF_LIBRARIES = 4 * ROUNDING

/** Aggregates and functions of neighbours that give one of their values as it is. */
const PICKING: ReadonlySet<string> = new Set([
  ...['min', 'max', 'first', 'last', 'lookup', 'lag', 'lead', 'cumulative_min', 'cumulative_max', 'mode'],
])
const SUMMING: ReadonlySet<string> = new Set(['sum', 'cumulative_sum', 'moving_sum'])
const AVERAGING: ReadonlySet<string> = new Set(['mean', 'cumulative_mean', 'moving_mean'])

/**
 * How far what an engine gives for a formula may be from ours, relative to it, wherever what is summed has one sign: an engine
 * adds in an order of its own and rounds each time, we round once.
 *
 * Source: N. J. Higham, "Accuracy and Stability of Numerical Algorithms", 2nd ed. (2002), section 4.2: in any order a sum of n
 * numbers is within (n - 1) u of the sum of their magnitudes, to first order in the rounding u.
 */
export class Bounds {
  readonly #columns: ReadonlyMap<number, DefinedColumn>
  readonly #rowsOf: (table: string) => number | null
  readonly #known: Map<number, number | null> = new Map()
  /** The columns of reports, by the names of these. */
  readonly #reports: ReadonlyMap<string, readonly DefinedColumn[]>

  /** @param rowsOf - how many rows a table has; null where that is not known */
  constructor({ tables, values, reports }: Definitions, rowsOf: (table: string) => number | null) {
    const ofTables = tables.flatMap(({ columns, tallies }) => [...columns, ...tallies])
    this.#columns = new Map([...values, ...ofTables].map((one) => [one.id, one]))
    this.#rowsOf = rowsOf
    this.#reports = new Map(
      reports.map(({ name, view }) => [name, view === null ? [] : [...view.keys, ...view.tallies, ...view.lines]]),
    )
  }

  /** The bound of a column, tally or named value; null where none is known. */
  of(id: number): number | null {
    const known = this.#known.get(id)
    if (known !== undefined) return known
    // A column that reads its own earlier rows is met again here.
    this.#known.set(id, null)
    const expression = this.#columns.get(id)?.expression ?? null
    const bound = expression === null ? 0 : this.#ofExpression(withoutSteps(expression))
    this.#known.set(id, bound)
    return bound
  }

  /**
   * The same of a column of a report.
   *
   * @param asked - the columns that read it
   */
  ofReport(report: string, id: number, asked: ReadonlySet<number> = new Set()): number | null {
    const columns = this.#reports.get(report) ?? []
    const expression = columns.find((one) => one.id === id)?.expression ?? null
    if (expression === null || asked.has(id)) return null
    const isOwn = (column: number): boolean => columns.some((one) => one.id === column)
    const all = new Set([...asked, id])
    return this.#ofExpression(withoutSteps(expression), (column) =>
      isOwn(column) ? this.ofReport(report, column, all) : this.of(column),
    )
  }

  /**
   * The bound of an expression, whose named steps are written out.
   *
   * @param column - the bound of a column that it reads
   */
  #ofExpression(node: Checked, column: (id: ColumnId) => number | null = (id) => this.of(id)): number | null {
    const inner = (part: Checked): number | null => this.#ofExpression(part, column)
    const most = (parts: readonly Checked[]): number | null => largest(parts.map(inner))
    switch (node.kind) {
      case 'column':
        return column(node.column)
      case 'single':
        return this.of(node.column)
      case 'follow':
        return inner(node.read)
      case 'outer':
        return inner(node.inner)
      case 'coalesce':
        return most(node.operands)
      case 'if-error':
        return most([node.value, node.otherwise])
      case 'choose': {
        const conditions = most(node.branches.map(({ condition }) => condition))
        const values = node.branches.map(({ value }) => value)
        return conditions === 0 ? most(node.otherwise === null ? values : [...values, node.otherwise]) : null
      }
      case 'apply':
        return applied(node.operator, node.args.map(inner))
      case 'chain':
        return node.rest.reduce((left, { operator, operand }) => applied(operator, [left, inner(operand)]), inner(node.first))
      case 'call': {
        const given = most(node.args)
        if (node.record.name === 'abs') return given
        if (node.record.name === 'sqrt') return given === null ? null : given / 2 + OF_LIBRARIES
        return given === 0 ? OF_LIBRARIES : null
      }
      case 'over-rows':
        return this.#overRows(node, most)
      default:
        return onlyExact(most(partsOf(node)))
    }
  }

  #overRows(
    { record, rows, args, where, by, order }: Checked & { readonly kind: 'over-rows' },
    most: (parts: readonly Checked[]) => number | null,
  ): number | null {
    const taken = most([...(where === null ? [] : [where]), ...by, ...order.map(({ key }) => key)])
    const given = most(args)
    if (taken !== 0 || given === null) return null
    const { name } = record
    if (record.form === 'aggregate' && record.isShare === true) return this.#share(rows.table, given)
    if (PICKING.has(name)) return given
    if (name === 'median') return given + ROUNDING
    if (SUMMING.has(name)) return this.#sum(rows.table, given)
    if (AVERAGING.has(name)) return plus(this.#sum(rows.table, given), ROUNDING)
    return name.includes('count') || name.includes('row_number') || name.includes('rank') ? onlyExact(given) : null
  }

  /** What sums of a table's rows may be apart. */
  #sum(table: string, given: number): number | null {
    const count = this.#rowsOf(table)
    return count === null ? null : given + count * ROUNDING
  }

  #share(table: string, given: number): number | null {
    return plus(this.#sum(table, given), given + ROUNDING)
  }
}

/** What an operator makes of the bounds of its operands. */
function applied(operator: Operator, bounds: readonly (number | null)[]): number | null {
  const given = largest(bounds)
  if (given === null || given === 0) return given === 0 && operator === 'power' ? OF_LIBRARIES : given
  switch (operator) {
    case 'negate':
      return given
    case 'add':
      return given + ROUNDING
    case 'multiply':
    case 'divide':
    case 'per':
      return bounds.reduce<number>((sum, one) => sum + (one ?? 0), ROUNDING)
    default:
      // What is left of a difference may be smaller than what its parts are apart; what compares may come out otherwise.
      return null
  }
}

function plus(one: number | null, other: number): number | null {
  return one === null ? null : one + other
}

/** What is exact of exact parts, and may be anything of others. */
function onlyExact(given: number | null): number | null {
  return given === 0 ? 0 : null
}

function largest(bounds: readonly (number | null)[]): number | null {
  return bounds.some((one) => one === null) ? null : Math.max(0, ...(bounds as number[]))
}
