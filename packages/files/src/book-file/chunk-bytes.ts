import { makeData, makeVector, Table, tableFromIPC, tableToIPC, Utf8, Vector } from 'apache-arrow'
import type { StoredChunk } from 'mellow-abacus/storage'

/**
 * A chunk of a column as an Arrow IPC stream: a column `value` and a column `status` of status bytes. Texts that are places in
 * a list come as whole numbers, with the list in a stream of its own; a boolean is 0 or 1.
 */
export function chunkBytes(chunk: StoredChunk): Uint8Array {
  const kind = new Map([['kind', chunk.kind]])
  const value = chunk.kind === 'text' ? textVector(chunk.values) : makeVector(chunk.values)
  const table = new Table({ value, status: makeVector(chunk.status) })
  for (const [key, text] of kind) table.schema.metadata.set(key, text)
  return tableToIPC(table, 'stream')
}

/** The chunk of an Arrow IPC stream. */
export function chunkOfBytes(bytes: Uint8Array): StoredChunk {
  const table = tableFromIPC(bytes)
  const kind = table.schema.metadata.get('kind') as StoredChunk['kind']
  const value = table.getChild('value')
  const status = Uint8Array.from((table.getChild('status')?.toArray() ?? []) as Uint8Array)
  const values = kind === 'text' ? textsOf(value) : value?.toArray().slice()
  return { kind, values, status } as StoredChunk
}

/** Texts as an Arrow IPC stream. */
export function textBytes(texts: readonly string[]): Uint8Array {
  return tableToIPC(new Table({ value: textVector(texts) }), 'stream')
}

/** The texts of an Arrow IPC stream. */
export function textsOfBytes(bytes: Uint8Array): string[] {
  return textsOf(tableFromIPC(bytes).getChild('value'))
}

/** Whole numbers as an Arrow IPC stream. */
export function numberBytes(numbers: Int32Array): Uint8Array {
  return tableToIPC(new Table({ value: makeVector(numbers) }), 'stream')
}

/** The whole numbers of an Arrow IPC stream. */
export function numbersOfBytes(bytes: Uint8Array): Int32Array {
  return Int32Array.from((tableFromIPC(bytes).getChild('value')?.toArray() ?? []) as Int32Array)
}

/** The texts of a vector, cut out of its bytes: asking it text by text takes ten times as long. */
function textsOf(vector: Vector | null): string[] {
  const texts: string[] = []
  for (const { values, valueOffsets, length } of (vector?.data ?? []) as readonly TextData[]) {
    const bytes = Buffer.from(values.buffer, values.byteOffset, values.byteLength)
    const isPlain = bytes.subarray(valueOffsets[0], valueOffsets[length]).every((byte) => byte < 0x80)
    const all = isPlain ? bytes.toString('latin1') : ''
    for (let index = 0; index < length; index++) {
      const [from, to] = [valueOffsets[index] as number, valueOffsets[index + 1] as number]
      texts.push(isPlain ? all.slice(from, to) : bytes.toString('utf8', from, to))
    }
  }
  return texts
}

interface TextData {
  readonly values: Uint8Array
  readonly valueOffsets: Int32Array
  readonly length: number
}

const encoder = new TextEncoder()

/** A vector of texts, from its bytes and offsets: building it text by text takes ten times as long. */
function textVector(texts: readonly string[]): Vector<Utf8> {
  const valueOffsets = new Int32Array(texts.length + 1)
  let at = 0
  for (const [index, text] of texts.entries()) {
    at += Buffer.byteLength(text)
    valueOffsets[index + 1] = at
  }
  const data = encoder.encode(texts.join(''))
  // Halves of a sign at the ends of two texts would become one sign, which is shorter than two replacements.
  if (data.length !== at) return textVector(texts.map((text) => Buffer.from(text).toString()))
  return new Vector([makeData({ type: new Utf8(), length: texts.length, nullCount: 0, valueOffsets, data })])
}
