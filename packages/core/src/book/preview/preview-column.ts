import type { Engine } from '../../engine/index.js'
import { WatchMarks } from '../../engine/index.js'
import { type Finding, finding, hasErrors } from '../../findings/index.js'
import { checkFormula, parseFormula } from '../../formula/index.js'
import { printName, type ValueType } from '../../values/index.js'
import { causeOfError, errorFinding, statisticsFindings, untoldErrors, watchedFindings } from '../diagnostics/index.js'
import type { Model, TableModel } from '../model/index.js'
import { scopeOf } from '../model/index.js'
import { type SampleRow, SampleRows } from './sample-rows.js'

/** What a definition would give. */
export interface ColumnPreview {
  readonly findings: readonly Finding[]
  /** Type of the result; null when the formula cannot be run. */
  readonly type: ValueType | null
  /** At most ten rows that tell most. */
  readonly rows: readonly SampleRow[]
  readonly rowCount: number
  readonly blanks: number
  readonly errors: number
  /** Bytes the column would take. */
  readonly bytes: number
}

/** Runs a definition over a whole table without keeping it, and picks rows that tell what it does. */
export function previewColumn(
  model: Model,
  engine: Engine,
  table: TableModel,
  definition: { name: string; formula: string },
): ColumnPreview {
  const existing = table.find(definition.name)
  const checked = checkFormula(parseFormula(definition.formula), scopeOf(model, table, existing))
  const findings = [...checked.findings]
  const looped = checked.references.find(({ column }) => existing !== undefined && reaches(engine, column, existing.id))
  if (looped !== undefined) {
    const name = printName(definition.name)
    findings.push(
      finding(
        'cycle',
        { name, path: `${name} → ${printName(model.columnOf(looped.column).column.name)} → ${name}` },
        { from: looped.from, to: looped.to },
      ),
    )
  }
  const placed = (all: readonly Finding[]): Finding[] =>
    all.map((one) => ({ ...one, table: table.name, column: definition.name }))
  const { rowCount } = table.store.rows
  if (hasErrors(findings)) return { type: null, rows: [], rowCount, blanks: 0, errors: 0, bytes: 0, findings: placed(findings) }
  const plan = engine.compile(checked)
  const marks = new WatchMarks(checked.watches.length)
  const target = existing?.id ?? model.nextColumnId
  const sample = new SampleRows(plan, definition.formula, target)
  engine.evaluate(table.store, plan, (block, result, selection) => sample.visit(block, result, selection), {
    probe: (branch, block, row) => sample.branch(branch, block, row),
    ...(checked.watches.length > 0 && { marks }),
    target,
  })
  for (const [index, watch] of checked.watches.entries()) sample.watched(watch.code, marks.firstSlot(index))
  const seen = [...findings, ...plan.findings, ...watchedFindings(checked, marks), ...statisticsFindings(table, checked)]
  const untold = untoldErrors(sample.errors, checked, seen)
  const firstError = sample.firstError
  if (untold.size > 0 && firstError !== null) {
    const column = { id: target, name: definition.name, formula: { text: definition.formula, checked } }
    const cause = causeOfError(model, engine, { table, column }, firstError.slot, firstError.code)
    seen.push(errorFinding(table, definition.name, untold, ` ${cause}`))
  }
  return {
    findings: placed(seen),
    type: plan.type,
    rows: sample.rows(engine, table),
    rowCount,
    blanks: sample.blanks,
    errors: [...sample.errors.values()].reduce((sum, cells) => sum + cells, 0),
    bytes: sample.bytes,
  }
}

/** True when a column is another one, or is calculated from it. */
function reaches(engine: Engine, column: Parameters<Engine['computed']>[0], from: typeof column): boolean {
  const walked = engine.columnGraph.downstream([from])
  return 'order' in walked && walked.order.includes(column)
}
