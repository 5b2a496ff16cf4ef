import type { Column } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import type { CheckedFormula } from '../../formula/index.js'
import { FAULT_CODES, type FaultCode, faultOfStatus, printName, statusOfFault } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { causeOfError } from './error-cause.js'

/** How many cells of a column hold each error, those with none left out. */
export type ErrorCounts = ReadonlyMap<FaultCode, number>

/**
 * Errors that a calculated column holds and that no other finding of its formula tells of. What they come from is added by
 * `withCause`, since it takes longer than an edit may.
 */
export function errorFindings(
  table: TableModel,
  column: ColumnModel,
  formula: CheckedFormula,
  told: readonly Finding[],
): Finding[] {
  const storage = table.store.column(column.id)
  if (storage === undefined || storage.faultCount() === 0) return []
  const all = new Map(FAULT_CODES.map((code) => [code, storage.faultCount(statusOfFault(code))]))
  const counts = untoldErrors(all, formula, told)
  return counts.size === 0 ? [] : [errorFinding(table, column.name, counts)]
}

/** The finding that a calculated column holds errors. */
export function errorFinding({ role }: TableModel, name: string, counts: ErrorCounts, cause = ''): Finding {
  const rows = [...counts.values()].reduce((sum, cells) => sum + cells, 0)
  const holds = rows === 1 ? 'holds an error' : 'hold errors'
  const what = role === 'rows' ? `${counted(rows, 'cell')} of ${printName(name)} ${holds}` : `${printName(name)} is an error`
  return finding('calculated-errors', { what, codes: errorsText(counts), cause }, { rows })
}

/** `out-of-range`, or `45 out-of-range, 2 misfit` where there are several. */
function errorsText(counts: ErrorCounts): string {
  if (counts.size === 1) return [...counts.keys()].join()
  return [...counts].map(([code, cells]) => `${cells.toLocaleString('en')} ${code}`).join(', ')
}

/** Those errors that no other finding of the formula tells of. */
export function untoldErrors(counts: ErrorCounts, formula: CheckedFormula, told: readonly Finding[]): ErrorCounts {
  return new Map([...counts].filter(([code, cells]) => cells > 0 && !isTold(code, cells, formula, told)))
}

/** True where another finding of the formula tells of these errors already, with its own fix. */
function isTold(code: FaultCode, cells: number, formula: CheckedFormula, told: readonly Finding[]): boolean {
  return told.some((one) => {
    if (one.code === 'fractions') return code === 'misfit'
    if (one.code === 'always-fails' || one.code === 'unusable-text')
      return one.parameters.fault === code && one.from === formula.expression.from && one.to === formula.expression.to
    return one.code === code && (one.rows ?? 0) >= cells
  })
}

/** The finding with the first of its errors traced to the cell it comes from. */
export function withCause(model: Model, engine: Engine, found: Finding): Finding {
  if (found.code !== 'calculated-errors' || found.parameters.cause !== '') return found
  const owned = [...model.columns()].find(
    ({ table, column }) => table.name === found.table && column.name === found.column && column.formula !== null,
  )
  const storage = owned?.table.store.column(owned.column.id)
  const codes = FAULT_CODES.filter((code) => String(found.parameters.codes).includes(code))
  const slot = owned === undefined || storage === undefined ? null : firstWith(owned.table, storage, codes)
  if (owned === undefined || storage === undefined || slot === null) return found
  const cause = causeOfError(model, engine, owned, slot, faultOfStatus(storage.statusAt(slot)))
  return ofCause(found, ` ${cause}`)
}

/** The finding as it was before its error was traced. */
export function withoutCause(found: Finding): Finding {
  return found.code === 'calculated-errors' ? ofCause(found, '') : found
}

function ofCause(found: Finding, cause: string): Finding {
  const { severity: _, message: __, parameters, ...rest } = found
  return finding('calculated-errors', { ...parameters, cause }, rest)
}

/** The slot of the first row, as rows stand, that holds one of some errors. */
function firstWith({ store, role }: TableModel, storage: Column, codes: readonly FaultCode[]): number | null {
  const wanted = new Set(codes.map(statusOfFault))
  if (role !== 'rows') return 0
  for (const slot of store.rows.inOrder()) if (wanted.has(storage.statusAt(slot))) return slot
  return null
}

/** Errors among some cells of a column, by block and row. */
export function errorsAmong(storage: Column | undefined, slots: Iterable<number>): ErrorCounts {
  const counts = new Map<FaultCode, number>()
  if (storage === undefined || storage.faultCount() === 0) return counts
  const byStatus = new Uint32Array(256)
  for (const slot of slots) {
    const status = storage.statusAt(slot)
    byStatus[status] = (byStatus[status] as number) + 1
  }
  for (const code of FAULT_CODES) {
    const cells = byStatus[statusOfFault(code)] as number
    if (cells > 0) counts.set(code, cells)
  }
  return counts
}
