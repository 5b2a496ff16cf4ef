import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding, namedRows } from '../../findings/index.js'
import { variesByRow } from '../../formula/index.js'
import { printName, Status } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'

/** Rows named in a finding. */
const MOST_NAMED = 3

/** The rows that break a rule, or fail to tell; and whether the table as a whole does. */
export function ruleFindings(engine: Engine, rules: TableModel, rule: ColumnModel): Finding[] {
  const storage = engine.recalculation.storage(rules.store, rule.id)
  if (storage === undefined) return []
  const { severity, note } = rule.properties
  const condition = rule.formula?.text ?? ''
  const parameters = { name: printName(rule.name), condition, note: note === undefined ? '' : ` ${note}` }
  const broken = storage.valueCount
  const failed = storage.faultCount()
  const found: Finding[] = []
  if (broken > 0) {
    const where = isOfRow(rule)
      ? `on ${counted(broken, 'row')}: ${namedRows(brokenRows(rules, rule.id, MOST_NAMED), broken)}`
      : 'for the table as a whole'
    found.push({ ...finding('rule-broken', { ...parameters, where }, { rows: broken }), ...(severity && { severity }) })
  }
  if (failed > 0)
    found.push(finding('rule-undecided', { ...parameters, where: `on ${counted(failed, 'row')}` }, { rows: failed }))
  return found
}

/** True when a rule is about each row, not about totals alone. */
function isOfRow(rule: ColumnModel): boolean {
  const expression = rule.formula?.checked?.expression
  return expression === undefined || variesByRow(expression)
}

/** Numbers of the first rows that break a rule. */
function brokenRows({ store }: TableModel, id: ColumnModel['id'], most: number): number[] {
  const column = store.column(id)
  const numbers: number[] = []
  let number = 0
  for (const slot of store.rows.inOrder()) {
    number++
    if (column?.statusAt(slot) === Status.value) numbers.push(number)
    if (numbers.length === most) break
  }
  return numbers
}
