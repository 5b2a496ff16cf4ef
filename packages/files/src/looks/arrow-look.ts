import { RecordBatchReader } from 'apache-arrow'
import type { Look } from './look.js'

/** Looks at the batches of an Arrow IPC file alone, in a hundredth of the time it may take: 100 ms a megabyte. */
export const arrowLook: Look = async (bytes, within) => {
  within(2500 + bytes.byteLength * 1e-4)
  const reader = RecordBatchReader.from(bytes).open()
  if (!reader.schema) throw new Error('there is no schema in it')
  for (const batch of reader) if (batch.numRows < 0) throw new Error('a batch of it has less than no rows')
}
