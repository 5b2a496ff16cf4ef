import { turn } from '../turn.js'
import type { WritingOptions } from './formats.js'

/**
 * Rows batch by batch. Between batches the program has a turn, progress is told, and writing ends when it is cancelled.
 *
 * @throws the reason of the signal once that is aborted
 */
export async function* batchesOf(
  slots: Int32Array,
  batchRows: number,
  { onProgress, signal }: WritingOptions,
): AsyncGenerator<Int32Array, void, void> {
  signal?.throwIfAborted()
  for (let from = 0; from < slots.length; from += batchRows) {
    const batch = slots.subarray(from, from + batchRows)
    yield batch
    onProgress?.(from + batch.length)
    await turn()
    signal?.throwIfAborted()
  }
}
