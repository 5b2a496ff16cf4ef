import { plainBytes } from './draw.js'
import type { Drawing } from './drawing.js'

/** What a chart can be written as in a browser. */
export const CHART_FORMATS = ['svg', 'json'] as const

/** What a chart can be written as in a browser: a drawing, or its specification. */
export type ChartFormat = (typeof CHART_FORMATS)[number]

/** A drawing as the bytes of a file: SVG, or the specification as JSON. */
export function drawingBytes(drawing: Drawing, format: ChartFormat): Promise<Uint8Array> {
  return plainBytes(drawing, format)
}
