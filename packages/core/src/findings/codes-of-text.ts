import { type CodeRecord, error } from './code-record.js'

/** What can be wrong with the text of a formula, before anything is known of its names. */
export const CODES_OF_TEXT = {
  /** There is nothing behind the "=", or only a comment. */
  'empty-formula': error('Expected a formula, found nothing.'),
  /**
   * Signs of other notations are named with the sign that means the same here: `<>` for ≠, `and` for &&, a comma for a
   * semicolon.
   *
   * @example a ; b
   */
  'unknown-character': error('The character {found} means nothing in a formula.{hint}'),
  /**
   * A text ends with the quote it began with; inside, that quote is written twice.
   *
   * @example "abc
   */
  'unclosed-quote': error('This text has no closing {quote}.'),
  /**
   * A name in backticks ends with a backtick; inside, a backtick is written twice.
   *
   * @example `abc
   */
  'unclosed-name': error('This name has no closing backtick.'),
  /**
   * Numbers begin and end with a digit, have at most one point, and stay within binary64: `0.5`, `5`, `1e-3`, `20%`.
   *
   * @example .5 + a
   */
  'bad-number': error('{found} is not a number as formulas write it; expected {near}.'),
  /**
   * Dates are ISO 8601 and exist in the calendar, from year 1 to 9999.
   *
   * @example d=@2026-02-30
   */
  'bad-date': error('{found} is not a date; expected one like @2026-03-14 or @2026-03-14T09:30:00.'),
  /**
   * An operator, a comma or an opening parenthesis wants a value behind it.
   *
   * @example a +
   */
  'expected-value': error('Expected a value {place}, found {found}.'),
  /**
   * A construct was begun and not gone on with: a `case` needs `when`, `then` and `end`, a `let` needs `=` and `in`.
   *
   * @example case when ok then 1
   */
  'expected-word': error('Expected {expected} {place}, found {found}.'),
  /**
   * Two values stand side by side without an operator or a comma between them.
   *
   * @example a b
   */
  'unexpected-text': error('The formula is complete before {found}.{hint}'),
  /**
   * Every opening parenthesis needs a closing one.
   *
   * @example (a + 1
   */
  'unclosed-parenthesis': error('This parenthesis is never closed.'),
  /**
   * Other notations read `a < b < c` in two ways; here `b between a and c`, or two comparisons joined by `and`, say which.
   *
   * @example 1 < a < 3
   */
  'chained-comparison': error('Comparisons do not chain: {operator} cannot follow another comparison.{hint}'),
  /**
   * So deep a formula is unreadable, and most likely a mistake; named steps (`let`) or further columns take its parts
   * apart.
   */
  'too-deep': error('The formula is nested more than {limit} levels deep here.'),
  /** Cut it into several columns, or look its values up in a table. */
  'formula-too-long': error('The formula has {length} characters; at most {limit} are read.'),
  /** A call counts as what the function that it calls says. Take the formula apart into several columns. */
  'calls-too-long': error('Written out with the functions that it calls, the formula has more than {limit} characters.'),
  /** A call counts as what the function that it calls says. Take the formula apart into several columns. */
  'calls-too-deep': error('Written out with the functions that it calls, the formula is nested too deep.'),
  /** A definition is a name, "=" and a formula; a name with spaces or other signs stands in backticks. */
  'unfinished-definition': error('Expected a definition like {near}, found {found}.'),
  /**
   * Words such as `end`, `in` or `per` mean something wherever they stand, unless they are in backticks.
   *
   * @example end + 1
   */
  'reserved-word': error('{found} is a word of the language; as a name write it in backticks: {near}.'),
} as const satisfies Record<string, CodeRecord>
