/**
 * The demo tables: a seed in, tables of a made-up honey co-operative out. Start reading at `thistle-and-comb.ts`.
 * @module
 */

export { DEMO_BOOK, type DemoBook, type DemoChart, type DemoReport } from './demo-book.js'
export { type DemoDefinition, demoDefinitions } from './demo-definitions.js'
export { type DemoCell, type DemoColumn, type DemoOperation, type DemoTable, demoCsv, demoOperations } from './demo-table.js'
export { manyHarvests } from './many-harvests.js'
export { manyReadings } from './many-readings.js'
export { SeededRandom } from './random.js'
export { DEMO_SEED, thistleAndComb } from './thistle-and-comb.js'
