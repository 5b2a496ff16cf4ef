import type { Finding } from 'mellow-abacus'
import { printName } from 'mellow-abacus/display'
import { countedOf } from '../look/cell-text'
import type { SlipCalls } from './slip-calls'

/** Leads to the rows that a finding is about, where a condition says which they are: to all of them, or from one to the next. */
export function RowsOfFinding({ finding, calls }: { finding: Finding; calls: SlipCalls }) {
  const { table, column, rows } = finding
  const where = whereOf(finding)
  if (table === undefined || column === undefined || rows === undefined || rows === 0 || where === null) return null
  return (
    <>
      <button type="button" onClick={() => calls.travel({ table, column, to: { next: where } })}>
        {rows === 1 ? 'go to its row' : 'next row'}
      </button>
      {rows > 1 && (
        <button type="button" onClick={() => calls.showRows(table, where)}>
          show its {countedOf(rows, 'row')}
        </button>
      )}
    </>
  )
}

/** The condition that is true of the rows that a finding is about; null where none is known. */
function whereOf({ column, code, parameters }: Finding): string | null {
  if (column !== undefined && ABOUT_ERRORS.has(code)) return `${printName(column)} is error`
  if (code !== 'rule-broken' || parameters.condition === undefined) return null
  return `not (${parameters.condition})`
}

const ABOUT_ERRORS: ReadonlySet<string> = new Set(['misfits', 'calculated-errors', 'division-by-zero', 'fractions'])
