import type { Database } from '@mellow-abacus/sql'
import { UsageFault } from '../shell/index.js'

/**
 * Opens the database of a command.
 *
 * @throws UsageFault for an address that is none, and where the database cannot be reached
 */
export async function openAddress(address: string): Promise<Database> {
  const { DatabaseFault, openDatabase } = await import('@mellow-abacus/sql')
  try {
    return await openDatabase(address)
  } catch (error) {
    if (error instanceof DatabaseFault) throw new UsageFault(error.message)
    throw error
  }
}
