import type { Finding, Fix } from 'mellow-abacus'
import type { DeskBook } from '../book/desk-book'

/**
 * Mends what a finding says, in one of its ways.
 *
 * @param formula - of the column that it is about; null where that has none
 */
export async function mend(
  book: DeskBook,
  { table, column }: Finding,
  { title, edits, operations }: Fix,
  formula: string | null,
): Promise<void> {
  if (operations !== undefined) return void book.apply(operations as never, title)
  if (edits === undefined || formula === null) return
  const { applyEdits } = await import('mellow-abacus')
  const set = { formula: applyEdits(formula, edits) }
  await book.apply({ op: 'change-column', table, column, set } as never, title)
}
