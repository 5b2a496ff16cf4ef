import { ReadFault } from './read-fault.js'

type Decoder = InstanceType<typeof TextDecoder>

/** A file as its bytes come in. */
export type ByteChunks = AsyncIterable<Uint8Array> | Iterable<Uint8Array>

/**
 * Decodes bytes to text, chunk by chunk. A byte-order mark is dropped, and tells UTF-16 apart when no encoding is given.
 *
 * @throws ReadFault for bytes that the encoding does not have, naming the line, and for an unknown encoding.
 */
export async function* decodedText(
  chunks: ByteChunks,
  encoding: string | undefined,
  onProgress?: (bytes: number) => void,
): AsyncGenerator<string> {
  let decoder: Decoder | undefined
  let line = 1
  let bytes = 0
  for await (const chunk of chunks) {
    decoder ??= makeDecoder(encoding ?? markedEncoding(chunk))
    const text = decodeChunk(decoder, chunk, line)
    line += countLines(text)
    bytes += chunk.byteLength
    onProgress?.(bytes)
    if (text !== '') yield text
  }
  const rest = decoder === undefined ? '' : decodeChunk(decoder, undefined, line)
  if (rest !== '') yield rest
}

/** How many line feeds a text has. */
export function countLines(text: string): number {
  let count = 0
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) count++
  return count
}

function markedEncoding(chunk: Uint8Array): string {
  if (chunk[0] === 0xff && chunk[1] === 0xfe) return 'utf-16le'
  return chunk[0] === 0xfe && chunk[1] === 0xff ? 'utf-16be' : 'utf-8'
}

function makeDecoder(encoding: string): Decoder {
  try {
    return new TextDecoder(encoding, { fatal: true })
  } catch {
    throw new ReadFault(
      `there is no encoding called ${encoding}; known are utf-8, utf-16le, windows-1252, iso-8859-15 and the others of the Encoding Standard.`,
    )
  }
}

function decodeChunk(decoder: Decoder, chunk: Uint8Array | undefined, line: number): string {
  try {
    return chunk === undefined ? decoder.decode() : decoder.decode(chunk, { stream: true })
  } catch {
    const lenient = new TextDecoder(decoder.encoding).decode(chunk)
    const at = lenient.indexOf('\ufffd')
    const place = line + countLines(at < 0 ? lenient : lenient.slice(0, at))
    throw new ReadFault(
      `these bytes are not ${decoder.encoding}; if the file has another encoding, name it, for example --encoding windows-1252.`,
      place,
    )
  }
}
