import { BLOCK_SHIFT } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { counted, type Finding, finding } from '../../findings/index.js'
import { type Checked, type CheckedFormula, somePart } from '../../formula/index.js'
import { isFaultStatus, MS_PER_DAY, printDate, printName, Status } from '../../values/index.js'
import type { TableModel } from '../model/index.js'

type WorkdayCall = Checked & { kind: 'call' }

/**
 * Dates that a formula counts working days from or to, and that lie outside the calendar it takes the holidays from. A list of
 * holidays is of a calendar when its rows are chosen by a condition: the others are the days between.
 */
export function calendarFindings(engine: Engine, table: TableModel, formula: CheckedFormula, isThorough: boolean): Finding[] {
  return callsOf(formula).flatMap((call) => outside(engine, table, call, isThorough))
}

/** The calls of formulas, which are asked for on every edit. */
const known = new WeakMap<CheckedFormula, readonly WorkdayCall[]>()

function callsOf(formula: CheckedFormula): readonly WorkdayCall[] {
  const found = known.get(formula)
  if (found !== undefined) return found
  const calls: WorkdayCall[] = []
  somePart(formula.expression, (part) => {
    if (part.kind === 'call' && part.holidays !== undefined && part.holidays.where !== null) calls.push(part)
    return false
  })
  known.set(formula, calls)
  return calls
}

/** Rows whose dates are looked at on every edit; of more only the ends, and all when everything is checked. */
const MOST_LOOKED_AT = 250_000

function outside(engine: Engine, table: TableModel, call: WorkdayCall, isThorough: boolean): Finding[] {
  const { holidays, args, from, to } = call
  const store = holidays === undefined ? undefined : engine.tableNamed(holidays.rows.table)
  if (holidays === undefined || store === undefined || holidays.read.kind !== 'column') return []
  const days = store.column(holidays.read.column)
  if (days === undefined || days.valueCount === 0) return []
  const { lowest: first, highest: last } = days.numberStatistics()
  const dates = args.filter((arg) => arg.type === 'date' || arg.type === 'datetime')
  if (dates.every((arg) => liesWithin(table, arg, first, last))) return []
  if (!isThorough && table.store.rows.rowCount > MOST_LOOKED_AT) return []
  const rows = new Set<number>()
  for (const arg of dates) {
    const unit = unitOf(arg)
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
  const count = counted(rows.size, 'row')
  const parameters = { count, table: printName(holidays.rows.table), first: printDate(first), last: printDate(last) }
  return [finding('outside-calendar', parameters, { from, to, rows: rows.size })]
}

/** How much a day is in what an expression gives. */
const unitOf = ({ type }: Checked): number => (type === 'datetime' ? MS_PER_DAY : 1)

/** True where the ends of a column, which are always known, say that none of its dates is outside. */
function liesWithin(table: TableModel, arg: Checked, first: number, last: number): boolean {
  const storage = arg.kind === 'column' ? table.store.column(arg.column) : undefined
  if (storage === undefined) return false
  const { lowest, highest } = storage.numberStatistics()
  return storage.valueCount === 0 || (Math.floor(lowest / unitOf(arg)) >= first && Math.floor(highest / unitOf(arg)) <= last)
}
