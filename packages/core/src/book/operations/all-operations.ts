// A page that only calculates loads none of this: nothing here is done unless it is used.

import type { AnyOperationSchema } from '../schemas/index.js'
import { CALCULATING_OPERATIONS, type OperationSet } from './read-operation.js'
import { removeChart, setChart } from './set-chart.js'
import { removeReport, setReport } from './set-report.js'

/** All operations: those that calculate, and those of what is kept to be looked at. */
export const ALL_OPERATIONS: OperationSet = /* @__PURE__ */ CALCULATING_OPERATIONS.with([
  setReport,
  removeReport,
  setChart,
  removeChart,
])

/** Names of all operations. */
export const OPERATION_NAMES: readonly string[] = /* @__PURE__ */ namesOf(ALL_OPERATIONS)

/** What all operations look like, in the order of their reference. */
export const OPERATION_SCHEMAS: readonly AnyOperationSchema[] = /* @__PURE__ */ schemasOf(ALL_OPERATIONS)

function namesOf({ names }: OperationSet): string[] {
  return names
}

function schemasOf({ schemas }: OperationSet): AnyOperationSchema[] {
  return schemas
}
