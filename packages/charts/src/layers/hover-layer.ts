import type { Json } from '../theme.js'
import { legendLabel } from '../words/chart-words.js'
import { numberFormat } from '../words/quantity-words.js'
import type { Encoded } from './encodings.js'

/** Name of the layer that only shows beside a pointer; what is drawn once and for all does without it. */
export const HOVER = 'at_pointer'

/** A rule at the x nearest to the pointer, with the values of all series there. */
export function hoverLayer({ series, ids, x }: Encoded, xEncoding: Json): Json {
  const { type } = x.column
  const isTime = type === 'date' || type === 'datetime'
  const values = series.map((one, at) => ({
    field: ids[at],
    type: 'quantitative',
    title: legendLabel(one, series),
    format: numberFormat(one.column),
  }))
  const along = {
    field: 'x',
    title: x.column.properties.heading ?? x.column.name,
    type: isTime ? 'temporal' : x.categories === null ? 'quantitative' : 'nominal',
    ...(isTime && { format: type === 'date' ? '%Y-%m-%d' : '%Y-%m-%d %H:%M:%S', formatType: 'utcFormat' }),
  }
  return {
    name: HOVER,
    params: [
      { name: 'pointer', select: { type: 'point', fields: ['x'], nearest: true, on: 'pointerover', clear: 'pointerout' } },
    ],
    mark: { type: 'rule', strokeWidth: 1 },
    encoding: {
      x: { ...xEncoding, ...(x.categories !== null && { bandPosition: 0.5 }) },
      opacity: { condition: { param: 'pointer', empty: false, value: 0.6 }, value: 0 },
      tooltip: [along, ...values],
    },
  }
}
