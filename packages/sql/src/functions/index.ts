/**
 * What each function of one row is in SQL, with the same blanks and errors as its kernel. One table a family; what has no entry has
 * no form, and formulas that call it are refused. Start reading at `form.ts`.
 * @module
 */

import { type Dialect, NoForm } from '../dialects/index.js'
import { ACROSS_FORMS } from './across.js'
import { DATE_FORMS } from './dates.js'
import type { FunctionForm } from './form.js'
import { NUMBER_FORMS } from './numbers.js'
import { OF_GRAPHEMES, TEXT_FORMS } from './texts.js'

export { isTooLong, shownText } from './texts.js'

const FORMS: ReadonlyMap<string, FunctionForm> = new Map(
  Object.entries({ ...NUMBER_FORMS, ...TEXT_FORMS, ...DATE_FORMS, ...ACROSS_FORMS }),
)

/** Functions without a form in any engine, by the reason. */
const WITHOUT_FORM: Readonly<Record<string, string>> = {
  random: 'its numbers belong to rows of the workbook',
  random_between: 'its numbers belong to rows of the workbook',
}

/** Names of the functions of one row that have a form in an engine. */
export function rowFunctionsWithForm(dialect: Dialect): string[] {
  const isKnown = (name: string): boolean => dialect.graphemes !== null || !OF_GRAPHEMES.has(name)
  return [...FORMS.keys()].filter((name) => dialect.lacks[name] === undefined && isKnown(name))
}

/**
 * The form of a function.
 *
 * @throws NoForm where the engine has none
 */
export function functionForm(name: string, dialect: Dialect): FunctionForm {
  const form = FORMS.get(name)
  const reason = dialect.lacks[name] ?? WITHOUT_FORM[name]
  if (form === undefined || reason !== undefined)
    throw new NoForm(`${name}() has no form in ${dialect.title}${reason === undefined ? '' : `: ${reason}`}`)
  return form
}
