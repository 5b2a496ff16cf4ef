import { resolve } from 'node:path'
import { askHost, type HostAddress } from '@mellow-abacus/host'

/**
 * How the server is asked that has the file of a workbook open; null where none has. So there is one writer, and who looks at the
 * workbook meanwhile sees every edit.
 *
 * @param author - who is to be the author of what is done
 */
export function heldElsewhere(path: string, author: string): Promise<HostAddress | null> {
  return askHost(resolve(path), { author })
}
