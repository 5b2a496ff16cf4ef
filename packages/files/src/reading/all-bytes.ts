import { joinBytes } from '../bytes.js'
import type { ByteChunks } from './decoded-text.js'
import { ReadFault } from './read-fault.js'

/** Largest file of a format that is read from its end, or from a list of its parts. */
const MOST_BYTES = 2 ** 31 - 1

/**
 * Bytes as they come in, put together.
 *
 * @throws ReadFault for none, and for more than 2 GiB
 */
export async function allBytes(chunks: ByteChunks, onProgress?: (bytes: number) => void): Promise<Uint8Array> {
  const parts: Uint8Array[] = []
  let length = 0
  for await (const chunk of chunks) {
    parts.push(chunk)
    length += chunk.byteLength
    if (length > MOST_BYTES) throw new ReadFault('the file is larger than 2 GiB; files of this format are read up to there.')
    onProgress?.(length)
  }
  if (length === 0) throw new ReadFault('the file is empty.')
  return joinBytes(parts)
}
