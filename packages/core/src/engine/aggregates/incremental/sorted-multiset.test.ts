import fc from 'fast-check'
import { expect, test } from 'vitest'
import { SortedMultiset } from './sorted-multiset.js'

/** The list against a plain sorted array, under random additions and removals, over many chunks and many equal values. */

const numbers = fc.oneof(fc.integer({ min: -3, max: 3 }), fc.double({ noNaN: true, noDefaultInfinity: true }))
const texts = fc.constantFrom('a', 'b', 'B', 'ä', '😀', 'ﬀ')

const commonestOf = (values: readonly (number | string)[]): number | string | null => {
  const counts = new Map<number | string, number>()
  for (const value of values) counts.set(value, (counts.get(value) ?? 0) + 1)
  const most = Math.max(0, ...counts.values())
  return values.find((value) => counts.get(value) === most) ?? null
}
const byCodePoint = (left: number | string, right: number | string): number => {
  if (typeof left === 'number') return left - (right as number)
  const [a, b] = [[...left], [...(right as string)]].map((signs) => signs.map((sign) => sign.codePointAt(0) as number))
  return (a?.[0] ?? 0) - (b?.[0] ?? 0)
}

test.each([
  ['numbers', numbers],
  ['texts', texts],
] as const)('a list of %s', (_, value: fc.Arbitrary<number | string>) => {
  fc.assert(
    fc.property(
      fc.array(value, { maxLength: 1500, size: 'max' }),
      fc.array(fc.record({ value, removes: fc.boolean(), at: fc.nat() }), { maxLength: 200, size: 'max' }),
      (start, steps) => {
        const plain = start.map((one) => (typeof one === 'number' ? one + 0 : one)).sort(byCodePoint)
        const list = new SortedMultiset()
        list.fill([...plain].reverse())
        const hold = (): void => {
          expect(list.size).toBe(plain.length)
          expect(list.distinct).toBe(new Set(plain).size)
          for (const place of [0, plain.length >> 1, plain.length - 1])
            if (plain[place] !== undefined) expect(list.at(place)).toBe(plain[place])
          expect(list.commonest()).toBe(commonestOf(plain))
        }
        hold()
        for (const step of steps) {
          if (step.removes && plain.length > 0) list.remove(plain.splice(step.at % plain.length, 1)[0] as number | string)
          else {
            const added = typeof step.value === 'number' ? step.value + 0 : step.value
            list.add(added)
            plain.splice(plain.filter((one) => byCodePoint(one, added) < 0).length, 0, added)
          }
        }
        hold()
      },
    ),
    { numRuns: 60 },
  )
})

test('what is not there is not taken out, and no place lies beyond the end', () => {
  const list = new SortedMultiset()
  expect(() => list.remove(1)).toThrow()
  list.add(1)
  expect(() => list.remove(2)).toThrow('is not in the list')
  expect(() => list.at(1)).toThrow('no place 1')
})

test('0 and 1 can stand for false and true', () => {
  const list = new SortedMultiset(true)
  list.fill([1, 0, 1])
  expect([list.at(0), list.at(2), list.commonest()]).toEqual([false, true, true])
})
