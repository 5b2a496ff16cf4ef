import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { list, Name, Text } from './fields.js'

export const setFunctionSchema = operationSchema('set-function', {
  /** What formulas call it by: a plain word that is no function of the language. */
  name: Name,
  /** What it is given, in order: names, each with its type where that is not to be found from the formula (`part: number`). */
  parameters: list(Text),
  /** What it gives. It may name its parameters, other functions of the workbook and named values. */
  formula: Text,
  /** What it is for. */
  note: v.optional(Text),
  /** The one it stands before; at the end when left out. */
  before: v.optional(Name),
})

/**
 * Sets a function of the workbook, which every formula may call as if its formula were written there. Those that call one which is
 * set anew follow.
 *
 * @example
 * { op: 'set-function', name: 'per_hundred', parameters: ['part', 'whole'], formula: '100 * part per whole' }
 *
 * @example
 * { op: 'set-function', name: 'standing', parameters: ['x: number'], formula: '(x - mean(x)) per stdev(x)', note: 'How far from the mean' }
 */
export type SetFunction = GivenBy<typeof setFunctionSchema>

export const removeFunctionSchema = operationSchema('remove-function', {
  /** The function. */
  name: Name,
})

/**
 * Removes a function that nothing calls.
 *
 * @example
 * { op: 'remove-function', name: 'per_hundred' }
 */
export type RemoveFunction = GivenBy<typeof removeFunctionSchema>

export const renameFunctionSchema = operationSchema('rename-function', {
  /** The function. */
  name: Name,
  /** Its name from now on. */
  to: Name,
})

/**
 * Gives a function of the workbook another name and rewrites every formula that calls it.
 *
 * @example
 * { op: 'rename-function', name: 'per_hundred', to: 'percentage' }
 */
export type RenameFunction = GivenBy<typeof renameFunctionSchema>
