/**
 * Grouped views: the rows of a table in groups inside groups, with columns for rows, groups and lines.
 *
 * In comes a view, out go its lines and their cells. Start reading at `grouped-view.ts`, then `make-view.ts`.
 * @module
 */

export type {
  GroupedResult,
  GroupedView,
  ViewFormula,
  ViewLevel,
  ViewLine,
  ViewOrder,
  ViewParameter,
  ViewTop,
} from './grouped-view.js'
export { makeView } from './make-view.js'
export { parseLevels, parseViewOrder, parseViewParameter, parseViewTop } from './view-texts.js'
