import type { Vector } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const blankIfGuide: FunctionGuide = {
  doc: 'A value, or blank where it equals another.',
  blanks: 'a blank value stays blank; a blank second argument equals nothing',
  examples: [
    { formula: 'blank_if(0, 0)', gives: null },
    { formula: "blank_if('heather', 'n/a')", gives: 'heather' },
    { formula: 'blank_if(1, blank)', gives: 1 },
  ],
}

export const blankIf = defineFunction({
  name: 'blank_if',
  family: 'logic',
  signature: '(value: T, unwanted: T) -> T',
  unit: 'same',
  errors: [],
  kernel: ({ args, out, selection }) => {
    const [value, unwanted] = args as [Vector, Vector]
    out.clean = false
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const left = value.status[row] as number
      const right = unwanted.status[row] as number
      let status = left > Status.blank ? left : right > Status.blank ? right : left
      if (status === Status.value) {
        if (right === Status.value && value.values[row] === unwanted.values[row]) status = Status.blank
        else out.values[row] = value.values[row] as never
      }
      out.status[row] = status
    }
  },
})
