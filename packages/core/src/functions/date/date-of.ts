import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const dateOfGuide: FunctionGuide = {
  doc: 'The date of a date-time.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'date_of(@2026-03-14T23:59:59)', gives: '2026-03-14' },
    { formula: 'date_of(@1969-12-31T12:00:00)', gives: '1969-12-31' },
  ],
}

export const dateOf = defineFunction({
  name: 'date_of',
  family: 'date',
  signature: '(time: date | datetime) -> date',
  errors: [],
  kernel: dayKernel((epochDay) => epochDay),
})
