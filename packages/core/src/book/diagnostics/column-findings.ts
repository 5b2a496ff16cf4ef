import type { Engine } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import type { ColumnModel, Model, Owned, TableModel } from '../model/index.js'
import { calendarFindings } from './calendar-findings.js'
import { errorFindings } from './error-findings.js'
import { fractionFindings } from './fraction-findings.js'
import { labelFindings } from './label-findings.js'
import { linkFindings } from './link-findings.js'
import { misfitFindings } from './misfit-findings.js'
import { numberTextFindings } from './number-text-findings.js'
import { orderKeyFindings } from './order-key-findings.js'
import { parentFindings } from './parent-findings.js'
import { ruleFindings } from './rule-findings.js'
import { sampleFindings } from './sample-findings.js'
import { scanFindings } from './scan-findings.js'
import { statisticsFindings } from './statistics-findings.js'
import { watchedFindings } from './watched-findings.js'

/** All that is to be said about one column now: what its formula shows, and what its data does, with row counts. */
export function findingsOfColumn(model: Model, engine: Engine, { table, column }: Owned, isThorough = false): Finding[] {
  // What there is to say about a formula names what it reads.
  if (column.isWithheld) return []
  const found = [
    ...foundIn(model, engine, table, column, isThorough),
    ...model.furtherFindings(engine, { table, column }, isThorough),
  ]
  if (found.length === 0) return found
  const place = { table: table.name, column: column.name }
  return found.map((one) => ({ ...one, ...place }))
}

/** The same without the place. Every edit asks it of each column it reaches, so what says nothing costs next to nothing. */
function foundIn(model: Model, engine: Engine, table: TableModel, column: ColumnModel, isThorough: boolean): Finding[] {
  const computed = engine.computed(column.id)
  if (computed !== undefined && table.role === 'rules') return ruleFindings(engine, table, column)
  const found: Finding[] = []
  const add = (list: readonly Finding[]): void => {
    for (const one of list) found.push(one)
  }
  if (computed === undefined) {
    add(misfitFindings(table.store, column))
    add(numberTextFindings(table, column))
  } else {
    const { formula, plan, marks } = computed
    add(formula.findings)
    add(plan.findings)
    if (formula.watches.length > 0) add(watchedFindings(formula, marks))
    add(statisticsFindings(table, formula))
    add(sampleFindings(model, formula))
    add(scanFindings(engine, column))
    add(calendarFindings(engine, table, formula, isThorough))
    if (computed.wholeOnly) add(fractionFindings(table, column))
    if (table.role !== 'rules') add(errorFindings(table, column, formula, found))
  }
  if (table.role !== 'rows') return found
  add(labelFindings(engine, table, column, isThorough))
  add(parentFindings(engine, table, column, isThorough))
  add(orderKeyFindings(engine, table, column))
  for (const link of table.links) if (link.columns[0] === column) add(linkFindings(engine, table, link, isThorough))
  return found
}
