/** What can be wrong with a workbook file. */
export type BookFileCode = 'missing' | 'exists' | 'not-a-workbook' | 'newer-format' | 'damaged' | 'in-use' | 'unwritable'

/** Thrown when a workbook file cannot be opened or written: the message says why, and what can be done. */
export class BookFileFault extends Error {
  readonly code: BookFileCode

  constructor(code: BookFileCode, message: string, cause?: unknown) {
    super(message, { cause })
    this.name = 'BookFileFault'
    this.code = code
  }
}

/** Asks something of a database; what goes wrong is told in terms of the workbook in it. */
export function asking<Answer>(path: string, ask: () => Answer): Answer {
  try {
    return ask()
  } catch (error) {
    throw faultOfDatabase(error, path)
  }
}

/** Extended codes of what goes wrong with writing: no room, and SQLITE_IOERR of write, fsync, directory fsync and truncate. */
const WRITE_FAULTS: ReadonlySet<number> = new Set([13, 778, 1034, 1290, 1546])

/** What went wrong with a database, in terms of the workbook in it; any other error as it is. */
export function faultOfDatabase(error: unknown, path: string): unknown {
  const code = (error as { code?: unknown }).code
  if (error instanceof BookFileFault || typeof code !== 'string') return error
  if (code === 'SQLITE_NOTADB') return new BookFileFault('not-a-workbook', `${path} is no workbook.`, error)
  if (code.startsWith('SQLITE_CORRUPT') || code.startsWith('SQLITE_IOERR_SHORT'))
    return new BookFileFault('damaged', `${path} is damaged: ${(error as Error).message}.`, error)
  // The lowest byte of an extended code is its kind: 8 is SQLITE_READONLY (SQLite, "Result and error codes").
  const { rawCode = 0 } = error as { readonly rawCode?: number }
  if (rawCode % 256 === 8)
    return new BookFileFault('unwritable', `${path} cannot be written: only looking is allowed there.`, error)
  if (WRITE_FAULTS.has(rawCode))
    return new BookFileFault('unwritable', `${path} cannot be written: ${(error as Error).message}.`, error)
  if (/^(?:UNKNOWN_)?SQLITE/.test(code))
    return new BookFileFault('unwritable', `cannot use ${path}: ${(error as Error).message}.`, error)
  return error
}

/** What is thrown where something cannot be written: it has not happened. */
export function unwritable(path: string, error: unknown): BookFileFault {
  const reason = (error as Error).message
  return new BookFileFault('unwritable', `${path} cannot be written: ${reason}. It is as it was before this step.`, error)
}

/** What is thrown where there is a file already. */
export function existing(path: string): BookFileFault {
  return new BookFileFault('exists', `${path} exists already.`)
}
