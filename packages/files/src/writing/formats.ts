/** Formats that can be written, named as on the command line. */
export const WRITABLE_FORMATS = ['csv', 'tsv', 'json', 'ndjson', 'arrow', 'parquet', 'xlsx'] as const

/** A format that can be written. */
export type WritableFormat = (typeof WRITABLE_FORMATS)[number]

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
  /** Name of the sheet, for formats that have sheets. */
  readonly name?: string
  /** Told after each batch how many rows are written so far, of all sheets together. */
  readonly onProgress?: (rows: number) => void
  /** Ends the writing when it is aborted; what was written so far is no whole file. */
  readonly signal?: AbortSignal
}
