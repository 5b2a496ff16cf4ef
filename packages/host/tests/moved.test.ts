import { Workbook } from 'mellow-abacus'
import { expect, test } from 'vitest'
import { movedAnswer } from '../src/answers/moved.js'
import { heldWorkbook } from '../src/held-book.js'

test('steps that a whole host would wait for are not taken back', () => {
  const held = heldWorkbook((options) => new Workbook({ ...options, now: 0 }))
  const reader = held.reader({ role: 'own' })
  reader.apply({ op: 'set-value', name: 'price', value: 9 })
  reader.apply({ op: 'set-value', name: 'price', value: 10 })
  const request = { address: 'value:price', from: 1 }
  expect(movedAnswer(held, reader, request)).toMatchObject({ before: 9, after: 10, change: 1 })
  const large = {
    ...held,
    stepsAfter: (revision: number) =>
      Array.from(held.stepsAfter(revision), (step) => ({
        ...step,
        recalculated: [{ table: 'takes', column: 'kg', rows: 3_000_000 }],
      })),
  }
  expect(() => movedAnswer(large, reader, request)).toThrow(
    'moved: the steps from revision 1 on are of 3,000,000 rows and cells; it looks behind at most 2,000,000.',
  )
  expect(() => movedAnswer(held, reader, { ...request, from: 2, to: 1 })).toThrow('the earlier one first, of 0 to 2')
})
