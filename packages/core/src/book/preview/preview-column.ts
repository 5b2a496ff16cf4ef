import type { Engine } from '../../engine/index.js'
import { WatchMarks } from '../../engine/index.js'
import { type Finding, finding, hasErrors } from '../../findings/index.js'
import { type ColumnId, checkFormula, type Plan, parseFormula } from '../../formula/index.js'
import { printName, type ValueType } from '../../values/index.js'
import {
  causeOfError,
  errorFinding,
  sampleFindings,
  statisticsFindings,
  untoldErrors,
  watchedFindings,
} from '../diagnostics/index.js'
import type { Model, ShownValue, TableModel } from '../model/index.js'
import { scopeOf, shownUnit, targetOf } from '../model/index.js'
import { resultsAt, type SampleRow, SampleRows } from './sample-rows.js'

/** What a definition would give. */
export interface ColumnPreview {
  readonly findings: readonly Finding[]
  /** Type of the result; null when the formula cannot be run. */
  readonly type: ValueType | null
  /** The unit of the result, where its sources tell; null for a plain number too. */
  readonly unit: string | null
  /** At most ten rows that tell most. */
  readonly rows: readonly SampleRow[]
  /** Values in the rows that were asked for, in their order; null as well for a row that there is not. */
  readonly results: readonly ShownValue[]
  readonly rowCount: number
  readonly blanks: number
  readonly errors: number
  /** Bytes the column would take. */
  readonly bytes: number
}

/** A definition that is tried. */
export interface TriedColumn {
  readonly name: string
  readonly formula: string
  /** Ids of rows whose values are wanted; none when left out. */
  readonly ids?: readonly number[]
}

/** Runs a definition over a whole table without keeping it, and picks rows that tell what it does. */
export function previewColumn(model: Model, engine: Engine, table: TableModel, definition: TriedColumn): ColumnPreview {
  const existing = table.find(definition.name)
  const checked = checkFormula(parseFormula(definition.formula), scopeOf(model, table, existing), targetOf(existing))
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
  if (hasErrors(findings))
    return { type: null, unit: null, rows: [], results: [], rowCount, blanks: 0, errors: 0, bytes: 0, findings: placed(findings) }
  const plan = engine.compile(checked)
  const marks = new WatchMarks(checked.watches.length)
  const target = existing?.id ?? model.nextColumnId
  const sample = new SampleRows(plan, checked.text, target)
  engine.evaluate(table.store, plan, (block, result, selection) => sample.visit(block, result, selection), {
    probe: (branch, block, row) => sample.branch(branch, block, row),
    ...(checked.watches.length > 0 && { marks }),
    target,
  })
  for (const [index, watch] of checked.watches.entries()) sample.watched(watch.code, marks.firstSlot(index))
  const seen = [
    ...findings,
    ...plan.findings,
    ...watchedFindings(checked, marks),
    ...statisticsFindings(table, checked),
    ...sampleFindings(model, checked),
  ]
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
    unit: shownUnit(checked.unit),
    rows: sample.rows(engine, table),
    results: resultsOf(engine, table, plan, definition.ids ?? [], target),
    rowCount,
    blanks: sample.blanks,
    errors: [...sample.errors.values()].reduce((sum, cells) => sum + cells, 0),
    bytes: sample.bytes,
  }
}

/** Values in some rows. */
function resultsOf(engine: Engine, table: TableModel, plan: Plan, ids: readonly number[], target: ColumnId): ShownValue[] {
  const { rows } = table.store
  const slots = ids.map((id) => rows.slotOf(id))
  const found = resultsAt(
    engine,
    table,
    plan,
    slots.filter((slot) => slot !== undefined),
    target,
  )
  return slots.map((slot) => (slot === undefined ? null : (found.get(slot) ?? null)))
}

/** True when a column is another one, or is calculated from it. */
function reaches(engine: Engine, column: Parameters<Engine['computed']>[0], from: typeof column): boolean {
  const walked = engine.columnGraph.downstream([from])
  return 'order' in walked && walked.order.includes(column)
}
