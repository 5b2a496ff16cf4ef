/**
 * Charts of Mellow Abacus in browsers: specifications, to be drawn by Vega, and SVG. PNG and pages are made in Node.
 * @module
 */

export { type DistributionOptions, distributionDrawing } from './distribution.js'
export { CHART_FORMATS, type ChartFormat, drawingBytes } from './draw-in-browsers.js'
export { drawSvg } from './draw-svg.js'
export { chartDrawing, type Drawing, type DrawingOptions, SPECIFICATION_SCHEMA } from './drawing.js'
export type { Theme } from './theme.js'
