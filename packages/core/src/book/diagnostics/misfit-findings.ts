import type { TableStore } from '../../engine/index.js'
import { type Finding, finding } from '../../findings/index.js'
import { printName, statusOfFault, type ValueType } from '../../values/index.js'
import type { ColumnModel } from '../model/index.js'

const MISFIT: number = statusOfFault('misfit')

/** Cells of a source column whose text does not fit its type. */
export function misfitFindings(store: TableStore, column: ColumnModel): Finding[] {
  const storage = store.column(column.id)
  const rows = storage?.faultCount(MISFIT) ?? 0
  if (storage === undefined || rows === 0 || column.type === null) return []
  const text = storage.sampleMisfit()
  // Errors that a paused column had calculated are no texts that someone typed.
  if (text === undefined) return []
  const sample = JSON.stringify(text.length > 40 ? `${text.slice(0, 39)}…` : text)
  const count = `${rows} ${rows === 1 ? 'cell' : 'cells'}`
  const hold = rows === 1 ? 'holds' : 'hold'
  return [
    finding('misfits', { count, hold, name: printName(column.name), expected: TYPE_PHRASES[column.type], sample }, { rows }),
  ]
}

const TYPE_PHRASES: Record<ValueType, string> = {
  number: 'a number',
  integer: 'a whole number',
  text: 'text',
  boolean: 'true or false',
  date: 'a date',
  datetime: 'a date-time',
}
