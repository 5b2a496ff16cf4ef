import fc from 'fast-check'
import { expect, test } from 'vitest'
import { RowSet } from './row-set.js'

/** The ids that slots had are told at any later time, whatever becomes of the rows. */

const step = fc.oneof(
  fc.record({ insert: fc.integer({ min: 1, max: 3 }) }),
  fc.record({ remove: fc.array(fc.nat(), { minLength: 1, maxLength: 3 }) }),
)

test('ids of one time are told later', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 30 }), fc.boolean(), (steps, asksInBetween) => {
      const rows = new RowSet()
      const kept: { slots: number[]; expected: number[]; ids: ReturnType<RowSet['idsNow']> }[] = []
      const check = (): void => {
        for (const { slots, expected, ids } of kept) expect(slots.map((slot) => ids.idOf(slot))).toEqual(expected)
      }
      for (const one of steps) {
        if ('insert' in one) rows.insert(one.insert)
        else {
          const live = [...rows.inOrder()]
          const gone = new Set(one.remove.flatMap((at) => live[at % Math.max(1, live.length)] ?? []))
          rows.remove([...gone])
        }
        const slots = [...rows.inOrder()]
        kept.push({ slots, expected: slots.map((slot) => rows.idOf(slot)), ids: rows.idsNow() })
        if (asksInBetween) check()
      }
      check()
    }),
  )
})
