/**
 * Charts: what is drawn of the rows of a table or of the groups of a report. How it looks is not decided here.
 *
 * In comes a chart, out go its points. Start reading at `chart-types.ts`, then `chart-data.ts`.
 * @module
 */

export { chartData } from './chart-data.js'
export { type ChartTexts, chartOfTexts, parseChart } from './chart-texts.js'
export type { ChartAxis, ChartData, ChartSeriesData } from './chart-types.js'
export { checkCharts } from './check-charts.js'
