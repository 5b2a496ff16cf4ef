import { compile, type TopLevelSpec } from 'vega-lite'
import { drawSvg } from '../draw-svg.js'
import type { Drawing } from '../drawing.js'
import { viewerCode } from '../platform/node.js'
import type { Json } from '../theme.js'
import { TOKENS } from '../tokens.js'

/** A compiled specification, as far as its data goes. */
interface Compiled {
  readonly data: readonly { readonly name: string; readonly values?: unknown }[]
}

/**
 * A drawing as a page of one file: the drawing itself for readers without scripts and on paper, the specification as JSON, and
 * a program that switches series by the legend and tells the values under the pointer, in light and dark. It asks the network
 * for nothing and evaluates no text as code.
 */
export async function drawPage(drawing: Drawing): Promise<string> {
  const { title, specification } = drawing
  const byTheme = Object.fromEntries((['light', 'dark'] as const).map((theme) => [theme, compiled(drawing.inTheme(theme))]))
  const { light, dark } = TOKENS
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${escaped(title)}</title>
<style>
:root { color-scheme: light dark; --paper: ${light.paper}; --ink: ${light.ink}; --rule: ${light.rule} }
@media (prefers-color-scheme: dark) { :root { --paper: ${dark.paper}; --ink: ${dark.ink}; --rule: ${dark.rule} } }
body { margin: 0; background: var(--paper); color: var(--ink); font: 14px/1.4 "DejaVu Sans", Verdana, sans-serif }
main { display: grid; justify-content: safe center; padding: 8px; overflow-x: auto }
#told { position: fixed; pointer-events: none; padding: 4px 8px; border: 1px solid var(--rule); background: var(--paper); font-size: 12px }
#told td:last-child { text-align: right; padding-left: 1em; font-variant-numeric: tabular-nums }
#told[hidden] { display: none }
</style>
</head>
<body>
<main id="chart">
${await drawSvg(drawing)}
</main>
<div id="told" role="status" hidden></div>
<script type="application/json" id="specification">${inScript(specification)}</script>
<script type="application/json" id="compiled">${inScript(byTheme)}</script>
<script>${(await viewerCode()).replaceAll('</script', '<\\/script')}</script>
</body>
</html>
`
}

/** A specification compiled, without its points, which the page has once. */
function compiled(specification: Json): Json {
  const { data, ...parts } = compile(specification as unknown as TopLevelSpec).spec as unknown as Compiled & Json
  return { ...parts, data: data.map((one) => (one.name === 'points' ? { ...one, values: [] } : one)) }
}

const escaped = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')

/** JSON that cannot end the script it stands in. */
const inScript = (value: unknown): string => JSON.stringify(value).replaceAll('<', '\\u003c')
