import type { ValueType } from 'mellow-abacus'

/** Formats that can be read, named as on the command line. */
export const READABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson', 'arrow', 'parquet', 'xlsx'] as const

/** A format that can be read. */
export type ReadableFormat = (typeof READABLE_FORMATS)[number]

/**
 * A type said for a column, with a pattern where it has one: of a date (Unicode TR35, `dd/MM/yyyy`), or of a number with the
 * marks of the file (`#.##0,00`).
 */
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
  /** What stands between thousands of numbers, if anything: one of `, . '` or a space. */
  readonly thousands?: string
  /** What becomes of a header that is there already: the file is refused unless it is to get another name. */
  readonly duplicates?: 'refuse' | 'rename'
  /** What becomes of a row longer than the header: the file is refused unless what is too much is kept in columns of its own, or cut. */
  readonly longRows?: 'refuse' | 'keep' | 'cut'
  /** Whether quotes hold cells together, as in RFC 4180, or are signs like any other. */
  readonly quotes?: 'csv' | 'literal'
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

/** Formats by the endings of file names that say them. */
const FORMAT_OF_ENDING: Readonly<Record<string, ReadableFormat>> = {
  csv: 'csv',
  tsv: 'tsv',
  tab: 'tsv',
  json: 'json',
  ndjson: 'ndjson',
  jsonl: 'ndjson',
  arrow: 'arrow',
  arrows: 'arrow',
  feather: 'arrow',
  parquet: 'parquet',
  xlsx: 'xlsx',
}

/** Endings of file names that say a format. */
export const KNOWN_ENDINGS: readonly string[] = Object.keys(FORMAT_OF_ENDING)

/** The format of a file name's ending, or undefined. */
export function formatOfName(name: string): ReadableFormat | undefined {
  const ending = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''
  return Object.hasOwn(FORMAT_OF_ENDING, ending) ? FORMAT_OF_ENDING[ending] : undefined
}
