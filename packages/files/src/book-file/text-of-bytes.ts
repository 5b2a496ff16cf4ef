import { BookFileFault } from './book-file-fault.js'

const decoder = new TextDecoder('utf-8', { fatal: true })

/**
 * A text of a workbook file. Texts are asked of the database as bytes (`CAST(… AS BLOB)`): over one that is not UTF-8 its package
 * would end the process.
 *
 * @throws BookFileFault for bytes that are no text.
 */
export function textOfBytes(bytes: Uint8Array, path: string): string {
  try {
    return decoder.decode(bytes)
  } catch (error) {
    throw new BookFileFault('damaged', `${path} is damaged: a text in it is not what was written.`, error)
  }
}
