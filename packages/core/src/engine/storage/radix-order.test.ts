import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { type Order, orderByBuckets, orderByNumbers } from './radix-order.js'

const asTheyCome = (count: number): Order => Uint32Array.from({ length: count }, (_, index) => index)

/** What a stable sort by comparing gives. */
const compared = (numbers: readonly number[]): number[] =>
  [...numbers.keys()].sort((a, b) => {
    const [left, right] = [numbers[a] as number, numbers[b] as number]
    return left < right ? -1 : left > right ? 1 : a - b
  })

const ordered = (numbers: readonly number[]): number[] => [
  ...orderByNumbers(asTheyCome(numbers.length), Float64Array.from(numbers)),
]

describe('places in the order of numbers', () => {
  test.each([
    ['none', []],
    ['one', [5]],
    ['whole numbers, some the same', [3, 1, 2, 3, 1]],
    ['numbers below zero', [-1, -2.5, 3, -1e300, 0.1]],
    ['zeros of both signs, which are equal', [0, -0, -1, 0, -0, 0.5]],
    ['nothing but blanks', [Infinity, Infinity]],
    ['blanks behind all numbers', [Infinity, 2, Infinity, 1]],
    ['blanks behind fractions', [Infinity, 2.5, Infinity, -1]],
    ['whole numbers far apart', [1e15, -1e15, 7]],
    ['the ends of binary64', [Number.MAX_VALUE, -Number.MAX_VALUE, Number.MIN_VALUE, -Number.MIN_VALUE, 0]],
  ])('%s', (_, numbers) => expect(ordered(numbers)).toEqual(compared(numbers)))

  test('any numbers, as a sort by comparing gives them', () => {
    const number = fc.oneof(fc.double({ noNaN: true }), fc.integer({ min: -20, max: 20 }), fc.constant(Infinity))
    fc.assert(
      fc.property(fc.array(number), (numbers) => {
        expect(ordered(numbers)).toEqual(compared(numbers))
      }),
    )
  })

  test('many of them, which are taken apart into larger digits', () => {
    const numbers = Array.from({ length: 30_000 }, (_, at) => ((at * 7919) % 10_007) / 7 - 500)
    expect(ordered(numbers)).toEqual(compared(numbers))
  })

  test('begun from another order, which stays where numbers are equal', () => {
    expect([...orderByNumbers(Uint32Array.of(3, 1, 0, 2), Float64Array.of(1, 2, 1, 2))]).toEqual([0, 2, 3, 1])
  })
})

test('places in buckets, and where each begins', () => {
  const { order, starts } = orderByBuckets(asTheyCome(5), Int32Array.of(2, 0, 2, 3, 0), 5)
  expect([[...order], [...starts]]).toEqual([
    [1, 4, 0, 2, 3],
    [0, 2, 2, 4, 5, 5],
  ])
})
