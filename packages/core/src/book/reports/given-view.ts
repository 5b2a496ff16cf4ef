import * as v from 'valibot'
import { VALUE_TYPES } from '../../values/index.js'
import { readGiven, Text } from '../schemas/index.js'
import type { GroupedView } from './grouped-view.js'

const count = v.pipe(v.number(), v.integer(), v.minValue(0))
const formulas = v.optional(v.array(v.strictObject({ name: Text, formula: Text })))
const flag = v.optional(v.boolean())

const level = v.strictObject({ name: v.optional(Text), key: Text })

const viewShape = v.strictObject({
  table: Text,
  where: v.optional(Text),
  parameters: v.optional(
    v.array(
      v.strictObject({
        name: Text,
        type: v.picklist(VALUE_TYPES),
        value: v.optional(v.union([Text, v.pipe(v.number(), v.finite()), v.boolean()])),
      }),
    ),
  ),
  levels: v.optional(v.array(level)),
  across: v.optional(level),
  columns: formulas,
  tallies: formulas,
  lines: formulas,
  shown: v.optional(v.array(Text)),
  details: v.optional(v.picklist(['shown', 'none'])),
  tallyDetails: flag,
  order: v.optional(v.array(v.strictObject({ level: v.optional(Text), by: Text, descending: flag }))),
  top: v.optional(v.array(v.strictObject({ level: v.optional(Text), count, by: Text, ascending: flag }))),
  having: v.optional(Text),
  limit: v.optional(count),
  flat: flag,
})

/** Reads a grouped view. */
export const readView = (given: GroupedView): GroupedView => readGiven('the view', viewShape, given) as GroupedView
