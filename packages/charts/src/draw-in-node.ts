import { plainBytes } from './draw.js'
import { drawSvg } from './draw-svg.js'
import type { Drawing } from './drawing.js'
import { drawPage } from './page/draw-page.js'
import { drawPng } from './platform/node.js'

/** What a chart can be written as. */
export const CHART_FORMATS = ['svg', 'png', 'html', 'json'] as const

/** What a chart can be written as: a drawing, a picture, a page, or its specification. */
export type ChartFormat = (typeof CHART_FORMATS)[number]

/**
 * A drawing as the bytes of a file: SVG; PNG with two pixels a unit; a page of one file, which switches series and tells values
 * and needs no network; or the specification as JSON.
 */
export async function drawingBytes(drawing: Drawing, format: ChartFormat): Promise<Uint8Array> {
  if (format === 'png') return drawPng(await drawSvg(drawing))
  return format === 'html' ? new TextEncoder().encode(await drawPage(drawing)) : plainBytes(drawing, format)
}
