import * as v from 'valibot'
import { field, type GivenBy, type JournaledBy, operationSchema } from './define-schema.js'
import { Id, Name, Text } from './fields.js'

export const setRuleSchema = operationSchema('set-rule', {
  does: 'Sets a rule: a condition that every row of a table, or the table as a whole, is to meet.',
  fields: {
    table: field(Name, 'The table it is about.'),
    name: field(Name, 'Its name, of its own in the workbook.'),
    condition: field(Text, 'A condition of the formula language; a row where it is false breaks the rule.'),
    severity: v.optional(field(v.picklist(['warning', 'hint']), 'What breaking it is; a warning when left out.')),
    note: v.optional(field(Text, 'What the rule is for, told with its finding.')),
    blankIsWrong: v.optional(field(v.boolean(), 'True where a row whose condition is blank breaks the rule too.')),
    before: v.optional(field(Name, 'The one it stands before; at the end when left out.')),
  },
  journal: { id: v.optional(field(Id, 'Its id; given anew when left out.')) },
  examples: [
    { op: 'set-rule', table: 'harvests', name: 'some_honey', condition: 'honey_kg > 0', note: 'Empty supers are not weighed.' },
  ],
})

/** A rule that rows are to meet. */
export type SetRule = GivenBy<typeof setRuleSchema>
/** The same as journals carry it. */
export type JournaledSetRule = JournaledBy<typeof setRuleSchema>

export const removeRuleSchema = operationSchema('remove-rule', {
  does: 'Removes a rule.',
  fields: { table: field(Name, 'The table it is about.'), name: field(Name, 'The rule.') },
  examples: [{ op: 'remove-rule', table: 'hives', name: 'has_boxes' }],
})

/** Takes a rule away. */
export type RemoveRule = GivenBy<typeof removeRuleSchema>
