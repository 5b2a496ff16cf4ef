import type { TableFacts } from '@mellow-abacus/session'
import type { DeskBook } from '../book/desk-book'
import { BUNDLE_ENDING } from '../book/sources'

/** Hands bytes to the browser as a file. */
function saveBytes(bytes: Uint8Array, name: string): void {
  const url = URL.createObjectURL(new Blob([bytes as BlobPart]))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 1_000)
}

/** Has the browser keep the whole workbook, and says where that cannot be. */
export async function saveBook(book: DeskBook): Promise<void> {
  const { name, isKept } = book.source
  try {
    saveBytes(await book.save(), `${name}${isKept ? '.mellow' : BUNDLE_ENDING}`)
  } catch (error) {
    book.say('refused', `It could not be saved: ${(error as Error).message}`)
  }
}

/** Has the browser keep the rows of a table that a condition keeps, as CSV. */
export async function saveRows(book: DeskBook, { name }: TableFacts, where: string): Promise<void> {
  try {
    saveBytes(await book.session.exported({ rows: { table: name, ...(where !== '' && { where }) } }, 'csv'), `${name}.csv`)
  } catch (error) {
    book.say('refused', `It could not be exported: ${(error as Error).message}`)
  }
}
