import { SessionFault } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'

/** Sets a cell of the harvests. */
export const edit = (row: number, column: string, value: number | string | null): Operation => ({
  op: 'set-cells',
  table: 'harvests',
  cells: [{ row, column, value }],
})

/** What a promise is refused with. */
export async function refused(promise: Promise<unknown>): Promise<string> {
  try {
    await promise
  } catch (error) {
    if (error instanceof SessionFault) return `${error.code}: ${error.message}`
    throw error
  }
  return 'not refused'
}

/** Waits until something holds. */
export async function until(holds: () => boolean): Promise<void> {
  for (let waited = 0; !holds(); waited += 5) {
    if (waited > 10_000) throw new Error('waited in vain')
    await new Promise((resolve) => setTimeout(resolve, 5))
  }
}
