import type { Finding, Fix } from 'mellow-abacus'
import type { DeskBook } from '../book/desk-book'

/** Accepts a finding for a reason: it is not shown any more until the rows behind it change. */
export async function accept(book: DeskBook, finding: Finding, because: string): Promise<void> {
  try {
    await book.apply(await book.session.accepting(finding, because), `${finding.code} of ${finding.column} accepted: ${because}`)
  } catch (error) {
    book.say('refused', (error as Error).message)
  }
}

/**
 * Mends what a finding says, in one of its ways.
 *
 * @param formula - of the column that it is about; null where that has none
 */
export async function mend(book: DeskBook, { table, column }: Finding, fix: Fix, formula: string | null): Promise<void> {
  const { title, edits, operations } = fix
  if (operations !== undefined) return void book.applyFix(fix)
  if (edits === undefined || formula === null || table === undefined || column === undefined) return
  const { applyEdits } = await import('mellow-abacus')
  const set = { formula: applyEdits(formula, edits) }
  await book.apply({ op: 'change-column', table, column, set }, title)
}
