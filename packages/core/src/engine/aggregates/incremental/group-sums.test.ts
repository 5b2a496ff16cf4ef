import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { ExactSum } from '../../../values/index.js'
import { KeyDictionary, Members } from '../../groups/index.js'
import { GroupSums } from './group-sums.js'

const value = fc.oneof(
  fc.constantFrom(0.1, 0.2, 1e308, -1e308, 5e-324, 1e-300, 2 ** 53, 1, -1, 0, 1e16, 0.1 + 0.2),
  fc.double({ noNaN: true, noDefaultInfinity: true }),
)

describe('sums by group', () => {
  test('are the exact sums of what was added and not taken away, whatever the order', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(70), value), { maxLength: 60 }),
        fc.array(fc.nat(60), { maxLength: 30 }),
        (added, picks) => {
          const sums = new GroupSums()
          const left = new Map<number, number[]>()
          for (const [group, one] of added) {
            sums.add(group, one, 1)
            left.set(group, [...(left.get(group) ?? []), one])
          }
          for (const pick of picks) {
            const taken = added[pick]
            if (taken === undefined) continue
            const [group, one] = taken
            const values = left.get(group) as number[]
            const at = values.indexOf(one)
            if (at < 0) continue
            values.splice(at, 1)
            sums.add(group, one, -1)
          }
          for (const [group, values] of left) {
            const exact = new ExactSum()
            for (const one of values) exact.add(one)
            expect(sums.countOf(group)).toBe(values.length)
            expect(sums.sumOf(group)).toBe(exact.result())
            if (values.length > 0) expect(sums.meanOf(group)).toBe(exact.times(1, values.length))
          }
        },
      ),
      { numRuns: 400 },
    )
  })

  test('ten times 0.1 make 1, and 1e308 + 1e308 − 1e308 is 1e308', () => {
    const sums = new GroupSums()
    for (let time = 0; time < 10; time++) sums.add(0, 0.1, 1)
    for (const one of [1e308, 1e308, -1e308]) sums.add(5, one, 1)
    expect([sums.sumOf(0), sums.sumOf(5), sums.countOf(5), sums.sumOf(99)]).toEqual([1, 1e308, 3, 0])
    sums.clear()
    expect([sums.sumOf(5), sums.countOf(5)]).toEqual([0, 0])
  })
})

test('rows join and leave groups', () => {
  const members = new Members()
  const moves: [number, number][] = [
    [3, 10],
    [3, 11],
    [200, 5000],
    [3, 12],
  ]
  for (const [group, slot] of moves) members.add(group, slot)
  expect([members.sizeOf(3), members.sizeOf(200), members.sizeOf(4), members.sizeOf(9999)]).toEqual([3, 1, 0, 0])
  members.remove(3, 11)
  expect(new Set(members.of(3))).toEqual(new Set([10, 12]))
  members.remove(3, 12)
  expect([...members.of(3)]).toEqual([10])
  expect([...members.groups()]).toEqual([3, 200])
  members.clear()
  expect([...members.groups(), members.firstOf(3)]).toEqual([-1])
})

test('a key keeps its number while anybody uses it, and gives it back then', () => {
  const dictionary = new KeyDictionary()
  const a = dictionary.enter('a')
  const one = dictionary.enter(1)
  expect([dictionary.enter('a'), dictionary.enter('1')]).toEqual([a, 2])
  expect(one).not.toBe(a)
  dictionary.leave(a)
  expect(dictionary.enter('a')).toBe(a)
  dictionary.leave(a)
  dictionary.leave(a)
  expect(dictionary.enter('b')).toBe(a)
  expect(dictionary.size).toBe(3)
  expect(dictionary.enter(Number.NaN)).toBe(dictionary.enter(Number.NaN))
})
