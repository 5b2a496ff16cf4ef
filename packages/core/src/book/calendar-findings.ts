import { BLOCK_SHIFT } from '../columns/index.js'
import type { Engine } from '../engine/index.js'
import { type Finding, finding } from '../findings/index.js'
import { type Checked, type CheckedFormula, somePart } from '../formula/index.js'
import { isFaultStatus, MS_PER_DAY, printDate, printName, Status } from '../values/index.js'
import type { TableModel } from './model.js'

type WorkdayCall = Checked & { kind: 'call' }

/**
 * Dates that a formula counts working days from or to, and that lie outside the calendar it takes the holidays from. A list of
 * holidays is of a calendar when its rows are chosen by a condition: the others are the days between.
 */
export function calendarFindings(engine: Engine, table: TableModel, formula: CheckedFormula): Finding[] {
  const calls: WorkdayCall[] = []
  somePart(formula.expression, (part) => {
    if (part.kind === 'call' && part.holidays !== undefined && part.holidays.where !== null) calls.push(part)
    return false
  })
  return calls.flatMap((call) => outside(engine, table, call))
}

function outside(engine: Engine, table: TableModel, call: WorkdayCall): Finding[] {
  const { holidays, args, from, to } = call
  const store = holidays === undefined ? undefined : engine.tableNamed(holidays.rows.table)
  if (holidays === undefined || store === undefined || holidays.read.kind !== 'column') return []
  const days = store.column(holidays.read.column)
  let [first, last] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
  for (const slot of store.rows.inOrder()) {
    if (days?.statusAt(slot) !== Status.value) continue
    const day = days.valueAt(slot) as number
    first = Math.min(first, day)
    last = Math.max(last, day)
  }
  if (first > last) return []
  const rows = new Set<number>()
  for (const arg of args) {
    if (arg.type !== 'date' && arg.type !== 'datetime') continue
    const unit = arg.type === 'datetime' ? MS_PER_DAY : 1
    engine.evaluate(table.store, engine.compile({ expression: arg, watches: [] }), (block, { status, values }, selection) => {
      for (let k = 0; k < selection.count; k++) {
        const row = selection.rows === null ? k : (selection.rows[k] as number)
        if (status[row] === Status.blank || isFaultStatus(status[row] as number)) continue
        const day = Math.floor((values[row] as number) / unit)
        if (day < first || day > last) rows.add((block << BLOCK_SHIFT) + row)
      }
    })
  }
  if (rows.size === 0) return []
  const count = `${rows.size} ${rows.size === 1 ? 'row' : 'rows'}`
  const parameters = { count, table: printName(holidays.rows.table), first: printDate(first), last: printDate(last) }
  return [finding('outside-calendar', parameters, { from, to, rows: rows.size })]
}
