import { drawSvg } from './draw-svg.js'
import type { Drawing } from './drawing.js'

/** A drawing as the bytes of a file, in a format that needs nothing of the platform: SVG, or the specification as JSON. */
export async function plainBytes(drawing: Drawing, format: 'svg' | 'json'): Promise<Uint8Array> {
  const text = format === 'svg' ? await drawSvg(drawing) : JSON.stringify(drawing.specification, null, 2)
  return new TextEncoder().encode(`${text}\n`)
}
