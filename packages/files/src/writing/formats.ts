/** Formats that can be written, named as on the command line. */
export const WRITABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson', 'arrow', 'parquet', 'xlsx', 'md', 'html'] as const

/** A format that can be written. */
export type WritableFormat = (typeof WRITABLE_FORMATS)[number]

/** Endings of file names besides the formats' own. */
const OTHER_ENDINGS: Readonly<Record<string, WritableFormat>> = {
  tab: 'tsv',
  jsonl: 'ndjson',
  arrows: 'arrow',
  feather: 'arrow',
  markdown: 'md',
  htm: 'html',
}

/** Endings of file names that say a format that can be written. */
export const WRITABLE_ENDINGS: readonly string[] = [...WRITABLE_FORMATS, ...Object.keys(OTHER_ENDINGS)]

/** The format that the ending of a file name says, or undefined. */
export function writableFormatOf(name: string): WritableFormat | undefined {
  const ending = /\.([a-z]+)$/i.exec(name)?.[1]?.toLowerCase() ?? ''
  return (
    WRITABLE_FORMATS.find((format) => format === ending) ??
    (Object.hasOwn(OTHER_ENDINGS, ending) ? OTHER_ENDINGS[ending] : undefined)
  )
}

/** Formats that are documents for people: numbers are tidy in them, and groups an outline. */
export const DOCUMENT_FORMATS: ReadonlySet<string> = new Set(['md', 'html'])

/** Formats that are bytes, not text for the eye. */
export const BINARY_FORMATS: ReadonlySet<string> = new Set(['arrow', 'parquet', 'xlsx'])

/** Where a writer's bytes go. They are lent: until the call, or its promise, is done. */
export type ByteSink = (bytes: Uint8Array) => void | Promise<void>

/** Rows put out at a time. */
export const BATCH_ROWS = 4096

/** How rows are written. */
export interface WritingOptions {
  /**
   * Puts an apostrophe before texts that begin with `= + - @`, a tab or a line break, which a program that opens a delimited
   * file may take for a formula. Numbers stay as they are.
   */
  readonly neutralize?: boolean
  /** Name of the sheet, for formats that have sheets; the title of a page. */
  readonly name?: string
  /** How documents show numbers and dates, BCP 47; `en` when left out. */
  readonly locale?: string
  /** Documents show all digits. */
  readonly exact?: boolean
  /** Lines deeper than this level are folded at first, where a format can fold. */
  readonly foldedFrom?: number
  /** Told after each batch how many rows are written so far, of all sheets together. */
  readonly onProgress?: (rows: number) => void
  /** Ends the writing when it is aborted; what was written so far is no whole file. */
  readonly signal?: AbortSignal
}
