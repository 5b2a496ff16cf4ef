import * as v from 'valibot'
import { readGiven, Text } from '../schemas/index.js'
import type { Query } from './query-types.js'

const count = v.pipe(v.number(), v.integer(), v.minValue(0))

const order = v.union([Text, v.array(v.strictObject({ column: Text, descending: v.optional(v.boolean()) }))])

const parameter = v.union([
  v.pipe(v.number(), v.finite()),
  Text,
  v.boolean(),
  v.null(),
  v.strictObject({ date: Text }),
  v.strictObject({ datetime: Text }),
])

const queryShape = v.strictObject({
  table: Text,
  where: v.optional(Text),
  order: v.optional(order),
  columns: v.optional(v.array(Text)),
  limit: v.optional(count),
  offset: v.optional(count),
  parameters: v.optional(v.array(parameter)),
})

/** Reads a query. */
export const readQuery = (given: Query): Query => readGiven('the query', queryShape, given) as Query
