import { childrenOf, parseFormula, type Syntax } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { Model } from '../model/index.js'
import type { Operation } from '../schemas/index.js'

/**
 * What a reader may be told of steps that were made, from the newest to the oldest: names are those of the time of a step, so
 * they are followed back. What names something hidden, or something that is gone and may have been hidden, is not told.
 */
export class SeenHistory {
  /** Tables by their folded names as they were called then, each with the columns that are seen. */
  readonly #tables: Map<string, Set<string>> = new Map()
  /** All other names that formulas may use. */
  readonly #others: Set<string> = new Set()

  /** @param seen - the model as the reader has it now */
  constructor(seen: Model) {
    for (const table of seen.tables) {
      this.#tables.set(foldName(table.name), new Set(table.columns.map(({ name }) => foldName(name))))
      for (const { name } of [...table.links, ...table.tallies.columns]) this.#others.add(foldName(name))
    }
    for (const { name } of seen.values.columns) this.#others.add(foldName(name))
  }

  /**
   * The operations of the next older step as they may be told, the last of them first.
   *
   * @returns none where nothing of the step may be told
   */
  told(operations: readonly Operation[]): Operation[] {
    const told: Operation[] = []
    for (const operation of operations.toReversed()) {
      const seen = this.#seen(operation)
      if (seen !== null) told.unshift(seen)
      this.#goBehind(operation)
    }
    return told
  }

  /** True for a column that is seen and was called so after the step that is gone behind next. */
  isSeen(table: string, column: string): boolean {
    return this.#tables.get(foldName(table))?.has(foldName(column)) === true
  }

  /** An operation without what is not seen; null where that is what it is about. */
  #seen(operation: Operation): Operation | null {
    switch (operation.op) {
      case 'set-cells': {
        const cells = operation.cells.filter(({ column }) => this.isSeen(operation.table, column))
        return cells.length === 0 ? null : { ...operation, cells }
      }
      case 'insert-rows': {
        const { op, table, ids } = operation
        return { op, table, ...(ids !== undefined && { ids }) }
      }
      case 'remove-rows':
      case 'move-rows':
      case 'set-function':
      case 'rename-function':
      case 'remove-function':
      case 'set-mode':
      case 'tick':
      case 'set-surroundings':
        return operation
      case 'recalculate':
        return { op: operation.op }
      case 'reread-rows':
        return { op: operation.op, table: operation.table, block: {} }
      case 'fill-column': {
        const { op, table, column, formula } = operation
        if (!this.isSeen(table, column)) return null
        if (formula === undefined) return { op, table, column, values: operation.values ?? [] }
        return this.#names(formula) ? { op, table, column, formula } : null
      }
      case 'add-column':
        return this.isSeen(operation.table, operation.column.name) && this.#describes(operation.column) ? operation : null
      case 'change-column':
        return this.isSeen(operation.table, operation.column) && this.#describes(operation.set) ? operation : null
      case 'rename-column':
        return this.isSeen(operation.table, operation.to) ? operation : null
      case 'move-column': {
        const { table, column, before } = operation
        return this.isSeen(table, column) && (before === undefined || this.isSeen(table, before)) ? operation : null
      }
      case 'detach-column':
      case 'pause-column':
      case 'resume-column':
        return this.isSeen(operation.table, operation.column) ? operation : null
      case 'add-table': {
        const { op, table, columns = [] } = operation
        const seen = columns.filter((one) => this.isSeen(table, one.name) && this.#describes(one))
        return this.#tables.has(foldName(table)) ? { op, table, columns: seen } : null
      }
      case 'rename-table':
        return this.#tables.has(foldName(operation.to)) ? operation : null
      case 'set-value':
        return operation.formula === undefined || this.#names(operation.formula) ? operation : null
      case 'set-tally':
        return this.#names(operation.formula) ? operation : null
      case 'set-rule':
        return this.#names(operation.condition) ? operation : null
      case 'add-link': {
        const { table, columns, to, keys } = operation
        const isAll = columns.every((name) => this.isSeen(table, name)) && keys.every((name) => this.isSeen(to, name))
        return isAll ? operation : null
      }
      default:
        // What was removed may have been hidden, and the rest may name anything.
        return null
    }
  }

  /** True where what is said of a column names nothing that is not seen. */
  #describes(of: { readonly formula?: string | undefined; readonly hiddenFrom?: unknown; readonly original?: unknown }): boolean {
    if (of.hiddenFrom !== undefined || of.original !== undefined || 'orderKey' in of || 'stamp' in of || 'paused' in of)
      return false
    return of.formula === undefined || this.#names(of.formula)
  }

  /** True where a formula uses no name but such as are seen. */
  #names(formula: string): boolean {
    const isKnown = (name: string): boolean =>
      this.#others.has(name) || this.#tables.has(name) || [...this.#tables.values()].some((columns) => columns.has(name))
    const visit = (node: Syntax, steps: ReadonlySet<string>): boolean => {
      // What a tag takes in is not written, and may be hidden.
      if (node.kind === 'tag') return false
      if (node.kind === 'name')
        return node.parts.map((part) => foldName(part.name)).every((one) => isKnown(one) || steps.has(one) || OF_PATHS.has(one))
      const within = node.kind === 'let' ? new Set([...steps, foldName(node.name.name)]) : steps
      return childrenOf(node).every((child) => visit(child, within))
    }
    return visit(parseFormula(formula).tree, new Set())
  }

  /** Goes back before an operation: names are then those of the time before it. */
  #goBehind(operation: Operation): void {
    const columnsOf = (table: string): Set<string> => this.#tables.get(foldName(table)) ?? new Set()
    switch (operation.op) {
      case 'rename-column': {
        const columns = columnsOf(operation.table)
        if (columns.delete(foldName(operation.to))) columns.add(foldName(operation.column))
        else columns.delete(foldName(operation.column))
        return
      }
      case 'add-column':
        return void columnsOf(operation.table).delete(foldName(operation.column.name))
      case 'remove-column':
        return void columnsOf(operation.table).delete(foldName(operation.column))
      case 'rename-table': {
        const columns = this.#tables.get(foldName(operation.to))
        this.#tables.delete(foldName(operation.to))
        if (columns !== undefined) this.#tables.set(foldName(operation.table), columns)
        return
      }
      case 'add-table':
      case 'remove-table':
        return void this.#tables.delete(foldName(operation.table))
      default:
    }
  }
}

/** Words that stand where a name may, and lead to what the rest of the path says. */
const OF_PATHS: ReadonlySet<string> = new Set(['this', 'book', 'parent'])
