import { type Database, DatabaseFault, PublishRefusal } from '@mellow-abacus/sql'
import { openAddress } from '../../reading/index.js'
import { CommandRefusal } from '../../shell/index.js'

/**
 * Opens a database for a model that is in it, or is to be, and closes it again.
 *
 * @throws UsageFault for an address that is none, CommandRefusal for what the database or the model refuses
 */
export async function withDatabase<Done>(address: string, work: (database: Database) => Promise<Done>): Promise<Done> {
  const database = await openAddress(address)
  try {
    return await work(database)
  } catch (error) {
    if (error instanceof PublishRefusal || error instanceof DatabaseFault) throw new CommandRefusal(error.message)
    throw error
  } finally {
    await database.close()
  }
}
