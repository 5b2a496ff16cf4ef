import type { ChartData } from 'mellow-abacus'
import { type Encoded, legendLayer, legendOf, xEncoding } from './layers/encodings.js'
import { curveLayer, residualsView } from './layers/fit-layers.js'
import { hoverLayer } from './layers/hover-layer.js'
import { type Side, seriesLayers, switchedBy } from './layers/series-layers.js'
import type { DrawnPoints } from './points/point-rows.js'
import { wrapped } from './text-width.js'
import { type Json, SIZES, type Theme } from './theme.js'
import type { ChartWords } from './words/chart-words.js'

/** Room for the labels of an axis, where drawings stand below one another. */
const EXTENT = 64

/** What the views of a chart are made from, whatever the surroundings. */
export interface ChartParts {
  readonly data: ChartData
  /** Fields of the series. */
  readonly ids: readonly string[]
  readonly points: DrawnPoints
  readonly words: ChartWords
  readonly width: number
  readonly height: number
}

/** The views of a chart, one below the other: the drawing, and what a curve leaves. */
export function chartViews({ data, ids, points, words, width, height }: ChartParts, theme: Theme): Json[] {
  const { x, series, definition, fit } = data
  const encoded: Encoded = { x, series, ids, theme, width, ticks: points.ticks }
  const hasResiduals = fit?.residuals === true
  const xBelow = xEncoding(encoded, words.x)
  const upper = hasResiduals ? xEncoding(encoded, null) : xBelow
  const legend = legendOf(encoded, definition.legend)
  const side = (axis: Side['axis'], title: string | null): Json[] =>
    title === null
      ? []
      : seriesLayers(encoded, {
          axis,
          title: wrapped(title, height, SIZES.axisTitle),
          legend,
          xOfLayers: upper,
          step: points.step,
          lone: points.lone,
          extent: hasResiduals ? EXTENT : null,
        })
  const sides = [side('left', words.left), side('right', words.right)].filter((layers) => layers.length > 0)
  const curve = fit === null ? [] : [curveLayer(fit, upper, x, theme)]
  // The curve stands on the axis of its series.
  const fitSide = series.find(({ name }) => name === fit?.series)?.axis === 'right' && sides.length > 1 ? 1 : 0
  const layered = sides.map((layers, at) => ({ layer: [...layers, ...(at === fitSide ? curve : [])] }))
  const [first] = layered
  const main: Json = {
    width,
    height,
    layer: [
      ...(legend === null ? [] : [legendLayer(encoded, legend, switchedBy(ids))]),
      ...(layered.length === 1 ? (first?.layer ?? []) : layered),
      hoverLayer(encoded, upper),
    ],
    ...(layered.length > 1 && { resolve: { scale: { y: 'independent' } } }),
  }
  return [main, ...(hasResiduals && fit !== null ? [residualsView(fit, xBelow, x, theme, width, EXTENT)] : [])]
}
