import type { FileColumn, ReadableFormat, ReadingOptions } from '@mellow-abacus/files'
import type { WebPort } from '@mellow-abacus/host'
import type { CellValue, Finding, ReaderOptions, ValueType } from 'mellow-abacus'

/** What a workbook of the page begins with. */
export type Beginning =
  | { readonly kind: 'empty' }
  | { readonly kind: 'demo' }
  | { readonly kind: 'bundle'; readonly bytes: Uint8Array }

/** What the page asks the worker for, besides sessions. */
export type OfWorker =
  | { readonly open: ReaderOptions; readonly port: WebPort }
  | ({ readonly call: number } & (
      | { readonly begin: Beginning }
      /** The workbook as a bundle. */
      | { readonly bundle: true }
      /** A file of rows. */
      | { readonly read: FileToRead }
    ))

/** A file that is to be read, and how. */
export interface FileToRead {
  readonly bytes: Uint8Array
  readonly format: ReadableFormat
  readonly options: ReadingOptions
}

/** A file that was read: its columns with their cells, and what its reader should know. */
export interface ReadFile {
  readonly rowCount: number
  readonly columns: readonly (Pick<FileColumn, 'name'> & {
    readonly type: ValueType | null
    readonly cells: readonly CellValue[]
    /** Texts that do not fit the type, which were kept. */
    readonly misfits: number
    readonly blanks: number
  })[]
  readonly findings: readonly Finding[]
}

/** What the worker answers. */
export type WorkerAnswer = { readonly done: unknown } | { readonly fault: string }
