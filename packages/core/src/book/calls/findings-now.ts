import type { Engine } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { addToldOf, openFindings, withCause } from '../diagnostics/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import type { ChangeSet } from '../transaction/index.js'

/** Findings that have come, with errors traced to what they come from. */
export function traced(model: Model, engine: Engine, { added, removed }: ChangeSet['findings']): ChangeSet['findings'] {
  return { added: added.map((one) => withCause(model, engine, one)), removed }
}

/** What is to be said now of some columns, and of those that something is said of because of them. */
export function findingsNow(model: Model, engine: Engine, columns: Map<ColumnModel, TableModel>): Map<ColumnId, Finding[]> {
  addToldOf(model, columns)
  const findings = new Map<ColumnId, Finding[]>()
  for (const [column, table] of columns) {
    // Tables that went took their columns along.
    const isThere = model.hasColumn(column.id)
    findings.set(column.id, isThere ? openFindings(model, engine, table, column) : [])
  }
  return findings
}
