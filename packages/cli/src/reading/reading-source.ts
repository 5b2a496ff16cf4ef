import type { CellReading, DeclaredType } from '@mellow-abacus/files'
import type { FileSource, TableView } from 'mellow-abacus'
import type { ReadingArguments } from '../options/index.js'
import { shellWord } from '../shell/index.js'
import { columnType } from './reading-options.js'

/** The file that a table was read from; null for one that was not read from a file. */
export function fileSource({ properties: { source } }: TableView): FileSource<string> | null {
  return source === null || 'database' in source ? null : source
}

/** The reading options as a workbook keeps them with a table, so that reading again needs none. */
export function readingSource(args: ReadingArguments): Record<string, unknown> {
  const { from, delimiter, decimal, thousands, duplicates, longRows, quotes, encoding, headerRow, sheet, type, blank } = args
  const given = {
    from,
    delimiter,
    decimal,
    thousands,
    duplicates,
    longRows,
    quotes,
    encoding,
    headerRow,
    sheet,
    blank,
    type: type.length > 0 ? type : undefined,
  }
  return Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined))
}

/** Reading options given now, over those a workbook keeps. */
export function mergedReading(args: ReadingArguments, kept: Readonly<Record<string, unknown>>): ReadingArguments {
  return { type: [], ...(kept as Partial<ReadingArguments>), ...(readingSource(args) as Partial<ReadingArguments>) }
}

/** How the options that a table was read with are typed, to be shown; nothing where there were none. */
export function readingText(options: Readonly<Record<string, unknown>>): string {
  return Object.entries(options)
    .flatMap(([name, value]) => (Array.isArray(value) ? value.map((one) => [name, one] as const) : [[name, value] as const]))
    .map(([name, value]) => `--${name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`)} ${shellWord(String(value))}`)
    .join(' ')
}

/** How single cells of a table are read: as its file was. */
export function cellReading(table: TableView, zone: string): { reading: CellReading; types: ReadonlyMap<string, DeclaredType> } {
  const kept = (fileSource(table)?.options ?? {}) as Partial<ReadingArguments>
  const { decimal, thousands, blank, type = [] } = kept
  const reading = {
    zone,
    ...(decimal !== undefined && { decimal }),
    ...(thousands !== undefined && { thousands }),
    ...(blank !== undefined && { blanks: blank.split(',') }),
  }
  return { reading, types: new Map(type.map(columnType)) }
}
