import { Unzip, UnzipInflate } from 'fflate'
import { crc32 } from '../platform/node.js'
import { ReadFault } from './read-fault.js'

/** Bytes handed to the inflater at a time: what they unfold to at most, a thousand times as many, is what memory holds. */
const PIECE_BYTES = 1 << 14
/** A part may unfold to this many bytes whatever its size in the file. */
const LEAST_LIMIT = 2 ** 26
/** Beyond that, to so many times the size of the file; spreadsheets unfold to ten to thirty times theirs. */
const MOST_TIMES_LARGER = 200

/** What becomes of a part of a zip file: its bytes go to a sink, piece by piece; null when no one wants it. */
export type PartSink = (name: string) => ((bytes: Uint8Array, isLast: boolean) => void) | null

/**
 * Unfolds the wanted parts of a zip file (APPNOTE 6.3.10) piece by piece, so that a part is never whole in memory.
 *
 * @param what - what the file should be, for messages: `an XLSX file`
 * @throws ReadFault for what is no zip file, is cut short, or unfolds to far more than its size lets expect.
 */
export function unfoldParts(bytes: Uint8Array, what: string, sinkOf: PartSink): void {
  const checksums = checksumsIn(bytes, what)
  const limit = Math.max(LEAST_LIMIT, bytes.byteLength * MOST_TIMES_LARGER)
  let unfolded = 0
  let fault: Error | null = null
  const unzip = new Unzip((file) => {
    const sink = sinkOf(file.name)
    if (sink === null) return
    const expected = checksums.get(file.name)
    if (expected === undefined) {
      fault ??= new ReadFault(`it is damaged: ${file.name} is not in the list of its parts.`)
      return
    }
    let checksum = 0
    file.ondata = (error, piece, isLast) => {
      if (fault !== null) return
      unfolded += piece?.byteLength ?? 0
      if (error !== null) fault = new ReadFault(`its part ${file.name} is damaged.`)
      else if (unfolded > limit)
        fault = new ReadFault(
          `its ${bytes.byteLength} bytes unfold to more than ${limit}; ${what} does not do that, so it is not read.`,
        )
      else {
        try {
          checksum = crc32(piece, checksum)
          if (isLast && checksum !== expected) throw new ReadFault(`its part ${file.name} is damaged: its checksum does not fit.`)
          sink(piece, isLast)
        } catch (thrown) {
          fault = thrown as Error
        }
      }
    }
    file.start()
  })
  unzip.register(UnzipInflate)
  for (let at = 0; at < bytes.byteLength && fault === null; at += PIECE_BYTES) {
    try {
      unzip.push(bytes.subarray(at, at + PIECE_BYTES), at + PIECE_BYTES >= bytes.byteLength)
    } catch {
      fault ??= new ReadFault('it is damaged: a part of it does not unfold.')
    }
  }
  if (fault !== null) throw fault
}

/**
 * The checksums (CRC-32) that the list of parts at the end of a zip file says, by the names of the parts (APPNOTE 4.3.12, 4.3.16).
 *
 * @throws ReadFault for what is no zip file, or cut short, or names a part twice.
 */
function checksumsIn(bytes: Uint8Array, what: string): Map<string, number> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  if (bytes.byteLength < 22 || view.getUint32(0, true) !== 0x0403_4b50)
    throw new ReadFault(`this is not ${what}: it is no zip file.`)
  const end = endOfParts(view)
  if (end === null) throw new ReadFault(`this is not the whole of ${what}: the list of its parts, at its end, is missing.`)
  const checksums = new Map<string, number>()
  const decoder = new TextDecoder()
  let at = view.getUint32(end + 16, true)
  for (let left = view.getUint16(end + 10, true); left > 0; left--) {
    if (at + 46 > end || view.getUint32(at, true) !== 0x0201_4b50)
      throw new ReadFault(`this is not the whole of ${what}: the list of its parts is damaged.`)
    const nameLength = view.getUint16(at + 28, true)
    const name = decoder.decode(bytes.subarray(at + 46, at + 46 + nameLength))
    if (checksums.has(name)) throw new ReadFault(`it has two parts called ${name}; ${what} does not, so it is not read.`)
    checksums.set(name, view.getUint32(at + 16, true))
    at += 46 + nameLength + view.getUint16(at + 30, true) + view.getUint16(at + 32, true)
  }
  return checksums
}

/** Where the record stands that ends a zip file; null where there is none. */
function endOfParts(view: DataView): number | null {
  for (let at = view.byteLength - 22; at >= Math.max(0, view.byteLength - 22 - 65_535); at--)
    if (view.getUint32(at, true) === 0x0605_4b50) return at
  return null
}
