import type { LookName } from '../looks/look.js'
import { WriteFault } from '../writing/write-fault.js'

/**
 * Looks at a file before it is read, in the thread at hand: a page that reads files of strangers does so in a worker of its own,
 * which it can end.
 *
 * @throws Error saying why the file cannot be read
 */
export async function lookAtFile(name: LookName, bytes: Uint8Array): Promise<void> {
  const look =
    name === 'arrow' ? (await import('../looks/arrow-look.js')).arrowLook : (await import('../looks/parquet-look.js')).parquetLook
  const until = { at: Number.POSITIVE_INFINITY }
  await look(bytes, (milliseconds) => {
    if (Date.now() > until.at) throw new Error('its lengths make no sense')
    until.at = Date.now() + milliseconds
  })
}

/**
 * Says that XLSX is not written here.
 *
 * @throws WriteFault always: what writes it streams, as only Node does
 */
export async function writeXlsxHere(): Promise<never> {
  throw new WriteFault('XLSX is not written in browsers; csv, tsv, json, ndjson, arrow, parquet and bundles are.')
}

/** By byte: the remainder of the polynomial 0xEDB88320 (ISO 3309, reversed). */
const REMAINDERS = Uint32Array.from({ length: 256 }, (_, byte) => {
  let remainder = byte
  for (let bit = 0; bit < 8; bit++) remainder = remainder & 1 ? (remainder >>> 1) ^ 0xedb8_8320 : remainder >>> 1
  return remainder
})

/** CRC-32 of bytes (ISO 3309), going on from that of those before. */
export function crc32(bytes: Uint8Array, before = 0): number {
  let checksum = ~before
  for (const byte of bytes) checksum = (REMAINDERS[(checksum ^ byte) & 0xff] as number) ^ (checksum >>> 8)
  return ~checksum >>> 0
}
