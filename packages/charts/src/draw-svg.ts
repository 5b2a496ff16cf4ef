import * as vega from 'vega'
import { expressionInterpreter } from 'vega-interpreter'
import { compile, type TopLevelSpec } from 'vega-lite'
import type { Drawing } from './drawing.js'
import { HOVER } from './layers/hover-layer.js'
import { textWidth } from './text-width.js'
import type { Json } from './theme.js'

/** A drawing as SVG, with the font named and its text as text; without a browser or a canvas. */
export async function drawSvg({ specification }: Drawing): Promise<string> {
  measureByFont()
  const { spec } = compile(withoutPointer(specification) as unknown as TopLevelSpec)
  // Expressions are read, never run as scripts: a page may be forbidden to.
  const view = new vega.View(vega.parse(spec, undefined, { ast: true }), { renderer: 'none', expr: expressionInterpreter })
  try {
    return await view.toSVG()
  } finally {
    view.finalize()
  }
}

/** What Vega measures text by; its types do not tell of it. */
interface TextMetrics {
  width: (item: { readonly fontSize?: number; readonly fontWeight?: string | number }, text: unknown) => number
}

/** Lets Vega measure text by the font that is drawn: without a canvas it guesses, and labels would be cut off or far apart. */
function measureByFont(): void {
  if (typeof document !== 'undefined') return
  const { textMetrics } = vega as unknown as { readonly textMetrics: TextMetrics }
  textMetrics.width = ({ fontSize = 11, fontWeight }, text) => {
    const isBold = fontWeight === 'bold' || Number(fontWeight) >= 600
    return textWidth(text === null || text === undefined ? '' : String(text), fontSize, isBold ? 'bold' : 'regular')
  }
}

/** A specification without the layer that only shows beside a pointer. */
function withoutPointer(specification: Json): Json {
  const { vconcat } = specification as { readonly vconcat: readonly { readonly layer?: readonly Json[] }[] }
  return {
    ...specification,
    vconcat: vconcat.map((view) =>
      view.layer === undefined ? view : { ...view, layer: view.layer.filter(({ name }) => name !== HOVER) },
    ),
  }
}
