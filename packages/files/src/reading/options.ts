import type { ValueType } from 'mellow-abacus'

/** Formats that can be read, named as on the command line. */
export const READABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson', 'arrow', 'parquet', 'xlsx'] as const

/** A format that can be read. */
export type ReadableFormat = (typeof READABLE_FORMATS)[number]

/** A type said for a column, with a date pattern (Unicode TR35) where it has one. */
export interface DeclaredType {
  readonly type: ValueType
  readonly pattern?: string
}

/** How a file is to be read; what is not given is found out, or the usual. */
export interface ReadingOptions {
  readonly format?: ReadableFormat
  /** One character between the cells of a line; found in the header line when not given. */
  readonly delimiter?: string
  /** Decimal mark of numbers, `.` unless given. */
  readonly decimal?: string
  /** A label of the WHATWG Encoding Standard; UTF-8 unless given or a byte-order mark says otherwise. */
  readonly encoding?: string
  /** Line of the header, from 1; lines before it are skipped. */
  readonly headerRow?: number
  /** Name of the sheet of a workbook of sheets; the first one unless given. */
  readonly sheet?: string
  /** Types by column name. */
  readonly types?: ReadonlyMap<string, DeclaredType>
  /** Types that columns have had so far, by name: a column that is gone is no mistake. */
  readonly formerTypes?: ReadonlyMap<string, DeclaredType>
  /** Texts that mean blank. */
  readonly blanks?: readonly string[]
  /** Zone in which texts with an offset are read. */
  readonly zone?: string
  /** Told how many bytes are read so far. */
  readonly onProgress?: (bytes: number) => void
}

/** The format of a file name's ending, or undefined. */
export function formatOfName(name: string): ReadableFormat | undefined {
  const ending = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase()
  if (ending === 'jsonl') return 'ndjson'
  if (ending === 'tab') return 'tsv'
  if (ending === 'feather' || ending === 'arrows') return 'arrow'
  return READABLE_FORMATS.find((format) => format === ending)
}
