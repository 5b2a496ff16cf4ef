/**
 * Everything that changes a workbook: one file an operation, what it touches, what it refuses, what it does and how it is undone.
 *
 * In comes an operation that was read, out go a changed model and its inverse. Start reading at `define.ts`, then `set-cells.ts`.
 * @module
 */

export { type TableSpec, tableSpec } from './change-table.js'
export { specOf } from './column-spec.js'
export { OPERATION_NAMES, type ReadOperation, readOperation } from './read-operation.js'
export { reportOperation } from './set-report.js'
export { ruleOperation } from './set-rule.js'
