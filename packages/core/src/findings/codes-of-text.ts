import { type CodeRecord, error } from './code-record.js'

/** What can be wrong with the text of a formula, before anything is known of its names. */
export const CODES_OF_TEXT = {
  'empty-formula': error('Expected a formula, found nothing.', 'There is nothing behind the "=", or only a comment.', ' '),
  'unknown-character': error(
    'The character {found} means nothing in a formula.{hint}',
    'Signs of other notations are named with the sign that means the same here: `<>` for ≠, `and` for &&, a comma for a semicolon.',
    'a ; b',
  ),
  'unclosed-quote': error(
    'This text has no closing {quote}.',
    'A text ends with the quote it began with; inside, that quote is written twice.',
    '"abc',
  ),
  'unclosed-name': error(
    'This name has no closing backtick.',
    'A name in backticks ends with a backtick; inside, a backtick is written twice.',
    '`abc',
  ),
  'bad-number': error(
    '{found} is not a number as formulas write it; expected {near}.',
    'Numbers begin and end with a digit, have at most one point, and stay within binary64: `0.5`, `5`, `1e-3`, `20%`.',
    '.5 + a',
  ),
  'bad-date': error(
    '{found} is not a date; expected one like @2026-03-14 or @2026-03-14T09:30:00.',
    'Dates are ISO 8601 and exist in the calendar, from year 1 to 9999.',
    '@2026-02-30',
  ),
  'expected-value': error(
    'Expected a value {place}, found {found}.',
    'An operator, a comma or an opening parenthesis wants a value behind it.',
    'a + ',
  ),
  'expected-word': error(
    'Expected {expected} {place}, found {found}.',
    'A construct was begun and not gone on with: a `case` needs `when`, `then` and `end`, a `let` needs `=` and `in`.',
    'case when ok then 1',
  ),
  'unexpected-text': error(
    'The formula is complete before {found}.{hint}',
    'Two values stand side by side without an operator or a comma between them.',
    'a b',
  ),
  'unclosed-parenthesis': error('This parenthesis is never closed.', 'Every opening parenthesis needs a closing one.', '(a + 1'),
  'chained-comparison': error(
    'Comparisons do not chain: {operator} cannot follow another comparison.{hint}',
    'Other notations read `a < b < c` in two ways; here `b between a and c`, or two comparisons joined by `and`, say which.',
    '1 < a < 3',
  ),
  'too-deep': error(
    'The formula is nested more than {limit} levels deep here.',
    'So deep a formula is unreadable, and most likely a mistake; named steps (`let`) or further columns take its parts apart.',
  ),
  'formula-too-long': error(
    'The formula has {length} characters; at most {limit} are read.',
    'Cut it into several columns, or look its values up in a table.',
  ),
  'unfinished-definition': error(
    'Expected a definition like {near}, found {found}.',
    'A definition is a name, "=" and a formula; a name with spaces or other signs stands in backticks.',
  ),
  'reserved-word': error(
    '{found} is a word of the language; as a name write it in backticks: {near}.',
    'Words such as `end`, `in` or `per` mean something wherever they stand, unless they are in backticks.',
    'end + 1',
  ),
} as const satisfies Record<string, CodeRecord>
