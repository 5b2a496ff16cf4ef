import { expect, test } from 'vitest'
import { parseSignature } from './signature.js'

test.each([
  ['() -> number', [], 'number'],
  ['(value: number) -> text', [{ name: 'value', types: ['number'], optional: false, repeats: false }], 'text'],
  [
    '(date: date | datetime, by?: number) -> same',
    [
      { name: 'date', types: ['date', 'datetime'], optional: false, repeats: false },
      { name: 'by', types: ['number'], optional: true, repeats: false },
    ],
    'same',
  ],
  ['(...values: T) -> T', [{ name: 'values', types: ['T'], optional: false, repeats: true }], 'T'],
])('%s', (text, parameters, result) => expect(parseSignature(text)).toEqual({ parameters, result }))

test.each(['value: number -> text', '(value number) -> text', '(value: number)'])('%s is none', (text) =>
  expect(() => parseSignature(text)).toThrow('not a'),
)
