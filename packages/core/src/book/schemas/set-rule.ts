import * as v from 'valibot'
import { type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text } from './fields.js'

export const setRuleSchema = operationSchema(
  'set-rule',
  {
    /** The table it is about. */
    table: Name,
    /** Its name, of its own in the workbook. */
    name: Name,
    /** A condition of the formula language; a row where it is false breaks the rule. */
    condition: Text,
    /** What breaking it is; a warning when left out. */
    severity: v.optional(v.picklist(['warning', 'hint'])),
    /** What the rule is for, told with its finding. */
    note: v.optional(Text),
    /** True where a row whose condition is blank breaks the rule too. */
    blankIsWrong: v.optional(v.boolean()),
    /** The one it stands before; at the end when left out. */
    before: v.optional(Name),
  },
  {
    /** Its id; given anew when left out. */
    id: v.optional(Id),
  },
)

/**
 * Sets a rule: a condition that every row of a table, or the table as a whole, is to meet.
 *
 * @example
 * { op: 'set-rule', table: 'harvests', name: 'some_honey', condition: 'honey_kg > 0', note: 'Empty supers are not weighed.' }
 */
export type SetRule = GivenBy<typeof setRuleSchema>
/** The same as journals carry it. */
export type JournaledSetRule = JournaledBy<typeof setRuleSchema>

export const removeRuleSchema = operationSchema('remove-rule', {
  /** The table it is about. */
  table: Name,
  /** The rule. */
  name: Name,
})

/**
 * Removes a rule.
 *
 * @example
 * { op: 'remove-rule', table: 'hives', name: 'has_boxes' }
 */
export type RemoveRule = GivenBy<typeof removeRuleSchema>
