import type { Dialect } from '../dialects/index.js'
import { rowFunctionsWithForm } from '../functions/index.js'
import { AGGREGATES_WITH_FORM } from './aggregates.js'
import { ORDERED_WITH_FORM } from './ordered.js'

/** Functions that the checker tells in other terms. */
const TOLD_OTHERWISE = ['if', 'coalesce', 'if_error', 'first_of', 'convert']

/** Names of all functions that have a form in an engine; some of their calls may have none, which is said where one is refused. */
export function functionsWithForm(dialect: Dialect): ReadonlySet<string> {
  return new Set([...TOLD_OTHERWISE, ...rowFunctionsWithForm(dialect), ...AGGREGATES_WITH_FORM, 'share', ...ORDERED_WITH_FORM])
}
