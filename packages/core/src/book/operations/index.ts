/**
 * Everything that changes a workbook: one file an operation, what it touches, what it refuses, what it does and how it is undone.
 *
 * In comes an operation that was read, out go a changed model and its inverse. Start reading at `define.ts`, then `set-cells.ts`.
 * @module
 */

export { ALL_OPERATIONS, OPERATION_NAMES } from './all-operations.js'
export { type TableSpec, tableSpec } from './change-table.js'
export { refuseDisplay, specOf } from './column-spec.js'
export { CALCULATING_OPERATIONS, type OperationSet, type ReadOperation } from './read-operation.js'
export { tableOfChart } from './set-chart.js'
export { ruleOperation } from './set-rule.js'
