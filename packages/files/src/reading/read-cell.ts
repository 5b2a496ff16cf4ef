import { CellFault, type CellValue, displayScalar } from 'mellow-abacus'
import { ColumnReader } from './column-reader.js'
import type { DeclaredType, ReadingOptions } from './options.js'

/** How a file was read, as far as it decides what a single text means. */
export type CellReading = Pick<ReadingOptions, 'decimal' | 'thousands' | 'blanks' | 'zone'>

/**
 * The value that a text stands for in a column, as it would be read from a file with these options: with its marks, its date
 * pattern, its words for blank. What does not fit is a misfit with its text.
 */
export function readCell(text: string, declared: DeclaredType, reading: CellReading = {}): CellValue {
  const { decimal = '.', thousands = null, blanks = [], zone = 'UTC' } = reading
  const reader = new ColumnReader(declared, { decimal, thousands }, new Set(blanks), zone)
  reader.push(text)
  const cell = reader.finish().column?.read(0) ?? null
  if (cell instanceof CellFault) return { misfit: text.toWellFormed() }
  const isDate = declared.type === 'date' || declared.type === 'datetime'
  return typeof cell === 'number' && isDate ? displayScalar(cell, declared.type) : cell
}
