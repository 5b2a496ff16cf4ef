import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const convertGuide: FunctionGuide = {
  doc: 'A quantity in another unit of its kind. What it is in is known by the unit of its column, or named as a third argument.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "convert(1.5, 'g', 'kg')", gives: 1500 },
    { formula: "convert(@2026-03-15 - @2026-03-01, 'wk')", gives: 2 },
    { formula: "convert(68, '°C', '°F')", gives: 20 },
    { formula: "convert(36, 'm/s', 'km/h')", gives: 10 },
  ],
}

export const convert = defineFunction({
  name: 'convert',
  family: 'number',
  signature: '(value: number, unit: text, from?: text) -> number',
  errors: [],
  form: 'convert',
})
