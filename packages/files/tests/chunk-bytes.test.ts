import type { StoredChunk } from 'mellow-abacus/storage'
import { expect, test } from 'vitest'
import { chunkBytes, chunkOfBytes, numberBytes, numbersOfBytes, textBytes, textsOfBytes } from '../src/book-file/chunk-bytes.js'

/** Cells as Arrow bytes and back. */

const status = (count: number): Uint8Array => Uint8Array.from({ length: count }, (_, row) => row % 4)
test.each<[string, StoredChunk]>([
  [
    'numbers',
    { kind: 'number', values: Float64Array.of(1e-300, 2 ** 53, -0, Number.MAX_VALUE, Number.MIN_VALUE), status: status(5) },
  ],
  ['small whole numbers', { kind: 'number', values: Int8Array.of(-128, 0, 127), status: status(3) }],
  ['whole numbers', { kind: 'number', values: Int16Array.of(-32_768, 32_767), status: status(2) }],
  ['days', { kind: 'number', values: Int32Array.of(-719_162, 2_932_896), status: status(2) }],
  ['booleans', { kind: 'boolean', values: Uint8Array.of(1, 0, 1), status: status(3) }],
  ['places of texts', { kind: 'codes', values: Uint16Array.of(0, 65_535, 3), status: status(3) }],
  ['many places', { kind: 'codes', values: Uint32Array.of(70_000), status: status(1) }],
  ['plain texts', { kind: 'text', values: ['', 'a', 'b,\n"c"', '007'], status: status(4) }],
  ['texts beyond ASCII', { kind: 'text', values: ['é', '🐝🐝', '', 'x', '\u0000', 'ﬀ'], status: status(6) }],
  ['nothing', { kind: 'text', values: [], status: status(0) }],
])('%s', (_, chunk) => {
  const back = chunkOfBytes(chunkBytes(chunk))
  expect(back.kind).toBe(chunk.kind)
  expect([...back.status]).toEqual([...chunk.status])
  expect(back.values.constructor).toBe(chunk.values.constructor)
  expect([...back.values].map((value) => (Object.is(value, -0) ? '-0' : value))).toEqual(
    [...chunk.values].map((value) => (Object.is(value, -0) ? '-0' : value)),
  )
})

test('lists of texts and of whole numbers', () => {
  const texts = ['', 'north', 'é'.repeat(40_000), '🐝']
  expect(textsOfBytes(textBytes(texts))).toEqual(texts)
  expect(textsOfBytes(textBytes([]))).toEqual([])
  expect([...numbersOfBytes(numberBytes(Int32Array.of(3, 1, 2)))]).toEqual([3, 1, 2])
})

test('half a sign, which is no text, does not move its neighbours', () => {
  const texts = ['a\ud83d', '\udc1db', 'c']
  expect(textsOfBytes(textBytes(texts))).toEqual(['a\ufffd', '\ufffdb', 'c'])
})
