/**
 * Charts of Mellow Abacus. In come the points of a chart, out go a specification of Vega-Lite, SVG, PNG or a page. Start reading
 * at `drawing.ts`, then `layers/` and `draw-in-node.ts`.
 * @module
 */

export { type DistributionOptions, distributionDrawing } from './distribution.js'
export { CHART_FORMATS, type ChartFormat, drawingBytes } from './draw-in-node.js'
export { drawSvg } from './draw-svg.js'
export { chartDrawing, type Drawing, type DrawingOptions, SPECIFICATION_SCHEMA } from './drawing.js'
export type { Theme } from './theme.js'
