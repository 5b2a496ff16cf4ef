/** How much a finding matters: `error` blocks, `warning` blocks under strictness, `hint` never more than advises. */
export type Severity = 'error' | 'warning' | 'hint'

/** What is known about a code; messages name parameters in braces. */
export interface CodeRecord {
  readonly severity: Severity
  readonly message: string
  /** A formula that raises it, over the columns of findings.test.ts; none for refusals and what needs more than a formula. */
  readonly example?: string
}

const error = (message: string, example?: string): CodeRecord => ({
  severity: 'error',
  message,
  ...(example !== undefined && { example }),
})
const warning = (message: string, example?: string): CodeRecord => ({
  severity: 'warning',
  message,
  ...(example !== undefined && { example }),
})

const hint = (message: string, example?: string): CodeRecord => ({
  severity: 'hint',
  message,
  ...(example !== undefined && { example }),
})

/**
 * The one registry of findings and refusals. A code says what happened in plain words, is never reused, and carries its
 * wording here only; whoever raises it gives parameters.
 */
const codes = {
  // Text of a formula
  'empty-formula': error('Expected a formula, found nothing.', ' '),
  'unknown-character': error('The character {found} means nothing in a formula.{hint}', 'a ; b'),
  'unclosed-quote': error('This text has no closing {quote}.', '"abc'),
  'unclosed-name': error('This name has no closing backtick.', '`abc'),
  'bad-number': error('{found} is not a number as formulas write it; expected {near}.', '.5 + a'),
  'bad-date': error('{found} is not a date; expected one like @2026-03-14 or @2026-03-14T09:30:00.', '@2026-02-30'),
  'expected-value': error('Expected a value {place}, found {found}.', 'a + '),
  'expected-word': error('Expected {expected} {place}, found {found}.', 'case when ok then 1'),
  'unexpected-text': error('The formula is complete before {found}.{hint}', 'a b'),
  'unclosed-parenthesis': error('This parenthesis is never closed.', '(a + 1'),
  'chained-comparison': error('Comparisons do not chain: {operator} cannot follow another comparison.{hint}', '1 < a < 3'),
  'too-deep': error('The formula is nested more than {limit} levels deep here.'),
  'formula-too-long': error('The formula has {length} characters; at most {limit} are read.'),
  'unfinished-definition': error('Expected a definition like {near}, found {found}.'),
  'reserved-word': error('{found} is a word of the language; as a name write it in backticks: {near}.', 'end + 1'),
  // Names
  'unknown-name': error('{place} has no column or value called {name}.{hint}', 'ab + 1'),
  'unknown-function': error('There is no function called {name}.{hint}', 'rund(a)'),
  'unexpected-qualifier': error('{name} is no value of a row: table {table} has no link called {link}.{hint}', 't.x'),
  'unknown-table': error('The workbook has no table called {name}.{hint}', 'sum(every tests.x)'),
  'unknown-link': error('Table {table} has no link called {name}.{hint}', 'sum(a via parent)'),
  'unknown-tag': error('No column of table {table} has the tag #{name}.{hint}', 'sum_of(#tests)'),
  'no-link': error('No link leads from {table} to {home}; with every, all rows of {table} are read.', 'sum(other.x)'),
  'several-links': error('Several links lead from {table} to this table: {links}. Say which with via.'),
  'second-table': error(
    'An aggregate reads the rows of one table; this one names {first} and {second}.',
    'sum(every other.x + every sample.a)',
  ),
  'misplaced-clause': error('"{clause}" cannot stand here: {reason}', 'round(a where ok)'),
  'keys-elsewhere': error(
    '"by" groups the rows of the own table; for rows of {table} write where {tests}.',
    'sum(every other.x by b)',
  ),
  'not-here': error('{found} cannot stand here: {reason}', '#tag'),
  'shadowed-value': hint('{name} is the column of this table; the named value of that name is {near}.'),
  'name-taken': error('{place} already has a {kind} called {name}.'),
  // Types
  'type-mismatch': error('{place} expects {expected}, received {received}.{hint}', "'5' * 2"),
  'argument-count': error('{name} takes {expected}, received {received}. Its form is {form}', 'round()'),
  'amount-expected': error('{name} expects {expected}, behind each of its values.', 'weighted(a, b at 50%)'),
  'constant-expected': error('{place} must be written out; expected {expected}.', 'weighted(a at b)'),
  'branch-types': error(
    'The branches of one condition must agree: this one is {received}, an earlier one {expected}.',
    'if(ok, 1, "x")',
  ),
  // Structure
  cycle: error('{name} would depend on itself: {path}.'),
  // What constants and data do
  'compared-with-blank': warning(
    'Comparing with blank gives blank on every row, so no row is kept; ask "is blank".',
    'a = blank',
  ),
  'always-fails': warning('This gives the error {fault} on every row.', 'sqrt(-1)'),
  'unclear-precedence': warning(
    '"{left} ?? {right}" reads as {left} ?? ({right}); say which you mean with parentheses.',
    'a ?? b + 1',
  ),
  'blank-falls-through': warning('A blank {subject} falls into the last branch.{count}', 'if(a > 1, "x", "y")'),
  'division-by-zero': warning('The divisor {subject} is zero.{count} "per" gives blank there instead.', 'a / b'),
  'unusable-text': warning('{name} expects {expects}, received {found}; every row gives {fault}.', "start_of(d, 'moth')"),
  'angle-in-degrees': warning('{name} takes radians, but {subject} is in {unit}.'),
  'angle-beyond-turn': hint('{subject} goes beyond a full turn in radians.{count} If it is in degrees, convert it.', 'sin(big)'),
  'negative-interval': hint('{subject}.{count}', 'days_between(d, e)'),
  'weights-total': hint('The weights make {total}, not 100 %.', 'weighted(a at 50%, b at 40%)'),
  'no-separator': hint('{left} and {right} are joined with nothing between them.', 't & a'),
  'share-of-itself': hint('{name} divided by itself is 1 on every row; for its part of the total write {near}.', '100 * b / b'),
  'total-of-ratio': hint('This adds up {name}, which is a ratio; the ratio of the totals is {near}.'),
  'same-on-every-row': hint('This is the same on every row; a tally keeps it once.', 'sum(a)'),
  fractions: warning('{count} of {name} would have a fraction, which a whole-number column does not take; they count as errors.'),
  misfits: warning('{count} of {name} hold text that is not {expected}, such as {sample}; they count as errors.'),
  // Files as they were read
  'short-rows': warning('{count} shorter than the header, the first in line {line}; missing cells are blank.'),
  'guessed-delimiter': hint('The header has no comma, so {found} was taken as the delimiter; if that is wrong, say which it is.'),
  'unnamed-column': hint('Column {place} has no name in the header; it is called {name}.'),
  'nested-values': hint('{count} kept as JSON text.'),
  // Refusals of operations
  'bad-operation': error('{place}: {reason}'),
  'bad-value': error('{place} cannot hold {found}: {reason}'),
  'unknown-column': error('Table {table} has no column called {name}.{hint}'),
  'unknown-row': error('Table {table} has no row with id {row}.'),
  'calculated-cell': error('{name} is calculated, so a cell of it cannot be typed over. Its formula is: {formula}'),
  'column-in-use': error('{name} is used by {users}, so it cannot be removed. Remove or change those first.'),
  'column-has-values': error(
    '{name} holds {count} values that a formula would overwrite. Add the formula as a new column instead.',
  ),
  'unexpected-revision': error('The workbook is at revision {revision}, not {expected} as expected: someone changed it since.'),
} satisfies Record<string, CodeRecord>

/** Code of a finding or refusal. */
export type FindingCode = keyof typeof codes

/** The registry, read-only. */
export const FINDING_CODES: Readonly<Record<FindingCode, CodeRecord>> = codes
