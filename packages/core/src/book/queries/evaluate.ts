import type { CellValue } from '../../columns/index.js'
import { BLOCK_SHIFT, type Cell, type Selection, type Vector, writeCellValue } from '../../columns/index.js'
import { cellAt, type Engine, rowsByBlock } from '../../engine/index.js'
import { Refusal } from '../../findings/index.js'
import { checkFormula, type Plan, parseFormula } from '../../formula/index.js'
import type { ValueType } from '../../values/index.js'
import type { Model, TableModel } from '../model/index.js'
import { scopeOf } from '../model/index.js'

/** What a formula gives on every row of a table. */
export interface Evaluated {
  /** Its type; null where it is blank everywhere. */
  readonly type: ValueType | null
  /** Ids of the rows, in row order. */
  readonly rows: readonly number[]
  /** The cells of these rows as operations carry them. */
  readonly values: readonly CellValue[]
}

/** Computes a formula on every row of a table without keeping it. Refuses one with mistakes. */
export function evaluateFormula(model: Model, engine: Engine, name: string, formula: string): Evaluated {
  const table = model.table(name)
  const checked = checkFormula(parseFormula(formula), scopeOf(model, table))
  const [first, ...others] = checked.findings.filter((one) => one.severity === 'error')
  if (first !== undefined) throw new Refusal([{ ...first, table: table.name }, ...others])
  const { rows } = table.store
  const slots = rows.inOrder()
  const { type } = checked.expression
  const known = type === 'blank' || type === 'unknown' ? null : type
  const cells = known === null ? [] : cellsOfPlan(engine, table, engine.compile(checked))
  return {
    type: known,
    rows: Array.from(slots, (slot) => rows.idOf(slot)),
    values: Array.from(slots, (slot) => (known === null ? null : writeCellValue(cells[slot] ?? null, known))),
  }
}

/** Pairs of rows that a formula would try on all rows of a table; none for one with mistakes. */
export function pairsTried(model: Model, engine: Engine, name: string, formula: string): number {
  const table = model.table(name)
  const checked = checkFormula(parseFormula(formula), scopeOf(model, table))
  const isWrong = checked.findings.some(({ severity }) => severity === 'error')
  return isWrong ? 0 : engine.pairsOf(table.store, engine.compile(checked))
}

/** What a formula gives on rows of a table, by slot: on every row, or on those of some slots and nothing elsewhere. */
export function cellsOfPlan(engine: Engine, { store }: TableModel, plan: Plan, slots?: readonly number[]): Cell[] {
  const cells: Cell[] = slots === undefined ? new Array(store.rows.slotCount).fill(null) : []
  const put = (block: number, result: Vector, { rows: list, count }: Selection): void => {
    for (let k = 0; k < count; k++) {
      const row = list === null ? k : (list[k] as number)
      cells[(block << BLOCK_SHIFT) + row] = cellAt(result, row)
    }
  }
  engine.evaluate(store, plan, put, slots === undefined ? {} : { rows: rowsByBlock(slots) })
  return cells
}
