import { Writable } from 'node:stream'
import { finished } from 'node:stream/promises'
import exceljs from 'exceljs'
import { CellFault, type QueryColumn, type QueryResult } from 'mellow-abacus'
import { MS_PER_DAY, printDate, printDateTime } from 'mellow-abacus/storage'
import { batchesOf } from './batches.js'
import { isOutlined } from './documents/document-table.js'
import { BATCH_ROWS, type ByteSink, type WritingOptions } from './formats.js'
import { type Loss, Losses } from './losses.js'
import type { NamedResult } from './named-result.js'
import { numberFormat } from './number-format.js'
import { sheetNames } from './sheet-names.js'
import { WriteFault } from './write-fault.js'

/** What a sheet holds at most (ECMA-376 part 1, 18.3.1.73 and the programs that read it). */
const MOST_ROWS = 1_048_576
const MOST_COLUMNS = 16_384
const LONGEST_TEXT = 32_767
/** The first day whose number all programs agree on: 1 March 1900. */
const FIRST_DAY = -25_508
const FROM_1900 = 25_569

/**
 * Writes XLSX, one sheet a table: a header, then values with the formats that columns are displayed in. Dates before March
 * 1900 are written as ISO 8601 text; texts beyond 32 767 signs are cut there; both are told.
 *
 * @throws WriteFault for a table larger than a sheet.
 */
export async function writeXlsx(
  tables: readonly NamedResult[],
  sink: ByteSink,
  { onProgress, ...options }: WritingOptions = {},
): Promise<readonly Loss[]> {
  refuseTooLarge(tables)
  const losses = new Losses()
  const out = new Writable({
    write: (bytes: Uint8Array, _, done) => {
      Promise.resolve(sink(bytes)).then(() => done(), done)
    },
  })
  const book = new exceljs.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true, useSharedStrings: true })
  let before = 0
  const names = sheetNames(tables.map(({ name }) => name))
  for (const [place, { result }] of tables.entries()) {
    const outline = outlineOf(result, options.foldedFrom)
    const sheet = book.addWorksheet(names[place] as string, {
      views: [{ state: 'frozen', ySplit: 1 }],
      // A group stands before its parts.
      ...(outline !== null && { properties: { outlineProperties: { summaryBelow: false, summaryRight: false } } }),
    })
    sheet.columns = result.columns.map((column) => {
      const numFmt = numberFormat(column)
      return { width: widthOf(column), ...(numFmt !== null && { style: { numFmt } }) }
    })
    const header = sheet.addRow(result.columns.map(({ name }) => escaped(name)))
    header.eachCell((cell) => {
      cell.numFmt = 'General'
      cell.font = { bold: true }
    })
    header.commit()
    const told = onProgress === undefined ? {} : { onProgress: (rows: number) => onProgress(before + rows) }
    let at = 0
    for await (const batch of batchesOf(result.slots, BATCH_ROWS, { ...options, ...told }))
      for (const slot of batch) {
        const row = sheet.addRow(result.columns.map((column) => cellOf(column, slot, losses)))
        outline?.(row, at++)
        row.commit()
      }
    sheet.commit()
    before += result.slots.length
  }
  await Promise.all([book.commit(), finished(out)])
  return losses.list()
}

/** Most levels that rows of a sheet can be folded by. */
const MOST_LEVELS = 7

/** What gives a line of a grouped view its place in the outline of a sheet; null for plain rows. */
function outlineOf(result: QueryResult, foldedFrom = Number.POSITIVE_INFINITY): ((row: exceljs.Row, at: number) => void) | null {
  if (!isOutlined(result)) return null
  return (row, at) => {
    const { level = 0, kind } = result.lines[at] ?? {}
    row.outlineLevel = Math.min(MOST_LEVELS, Math.max(0, level - 1))
    if (level > foldedFrom) row.hidden = true
    if (kind !== 'row') row.font = { bold: true }
  }
}

function refuseTooLarge(tables: readonly NamedResult[]): void {
  for (const { name, result } of tables) {
    if (result.slots.length >= MOST_ROWS)
      throw new WriteFault(`a sheet holds ${MOST_ROWS - 1} rows besides its header, and ${name} has ${result.slots.length}.`)
    if (result.columns.length > MOST_COLUMNS)
      throw new WriteFault(`a sheet holds ${MOST_COLUMNS} columns, and ${name} has ${result.columns.length}.`)
  }
}

function widthOf({ name, type }: QueryColumn): number {
  return Math.min(40, Math.max(name.length + 2, type === 'datetime' ? 20 : 11))
}

type Written = string | number | boolean | null | { error: string } | { richText: { text: string }[] }

function cellOf(column: QueryColumn, slot: number, losses: Losses): Written {
  const cell = column.storage?.read(slot) ?? null
  if (cell instanceof CellFault) {
    if (!column.calculated && cell.text !== undefined) return textCell(column, cell.text, losses)
    losses.note(column.name, 'error', cell.code)
    return { error: cell.code === 'division-by-zero' ? '#DIV/0!' : cell.code === 'out-of-range' ? '#NUM!' : '#N/A' }
  }
  if (typeof cell === 'string') return textCell(column, cell, losses)
  if (typeof cell !== 'number') return cell
  if (column.type === 'date') {
    if (cell >= FIRST_DAY) return cell + FROM_1900
    losses.note(column.name, 'early-date', printDate(cell))
    return printDate(cell)
  }
  if (column.type === 'datetime') {
    if (cell >= FIRST_DAY * MS_PER_DAY) return cell / MS_PER_DAY + FROM_1900
    losses.note(column.name, 'early-date', printDateTime(cell))
    return printDateTime(cell)
  }
  return cell
}

/** A text; the package would take an empty one for no cell. */
function textCell(column: QueryColumn, text: string, losses: Losses): Written {
  if (text === '') return { richText: [{ text: '' }] }
  if (text.length > LONGEST_TEXT) losses.note(column.name, 'long-text', `${text.slice(0, 20)}…`)
  return escaped(cut(text))
}

/** The text as far as it fits, without half of a sign at its end. */
function cut(text: string): string {
  if (text.length <= LONGEST_TEXT) return text
  const isHalf = /[\ud800-\udbff]/.test(text.charAt(LONGEST_TEXT - 1))
  return text.slice(0, isHalf ? LONGEST_TEXT - 1 : LONGEST_TEXT)
}

/**
 * Signs that XML has no room for, carriage returns, which it changes, and what would be read as such an escape, as `_x000D_`
 * (ECMA-376 part 1, ST_Xstring). Half of a surrogate pair is no sign and becomes U+FFFD.
 */
function escaped(text: string): string {
  return text
    .replace(/\p{Cs}/gu, '\ufffd')
    .replace(/[^\P{Cc}\t\n]|[\ufffe\uffff]|_(?=x[0-9A-Fa-f]{4}_)/gu, (sign) => `_x${hex(sign)}_`)
}

function hex(sign: string): string {
  return sign.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')
}
