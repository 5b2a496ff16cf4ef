/**
 * How values are shown to people, without what calculates them: for pages whose workbook is held elsewhere, by a worker or a
 * server. What it gives is also at `mellow-abacus`. Start reading at `display.ts`.
 * @module
 */
export { displayNumber, exactSum, printName, type Scalar, type ValueType } from '../values/index.js'
export { type Displayed, displayOf } from './display.js'
export { type DisplayedCells, tidyDecimalsFor, tidyDecimalsOf, tidyDisplayOf } from './tidy-display.js'
