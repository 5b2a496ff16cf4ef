import { type CodeRecord, error, hint } from './code-record.js'

/** What can be wrong with the names, types and forms of a formula. */
export const CODES_OF_NAMES = {
  /**
   * The name is misspelt, or belongs to another table: then the message says which, since the formula may have been meant
   * for that one.
   *
   * @example ab + 1
   */
  'unknown-name': error('{place} has no column or value called {name}.{hint}'),
  /**
   * An aggregate reads many rows. Functions that end in _of read several columns of the same row.
   *
   * @example sum(a, b, big)
   */
  'rows-not-columns': error('{name} goes over the rows of one column; over several columns of a row it is {across}.'),
  /**
   * A better name was found. The fix writes it.
   *
   * @example normalize_spaces(t)
   */
  'former-name': hint('{former} is called {name} now; both are understood for a while.'),
  /**
   * `mellow functions` lists them all and finds them by what they are for.
   *
   * @example rund(a)
   */
  'unknown-function': error('There is no function called {name}.{hint}'),
  /** What the function of the workbook does with it does not go with what it is given here. */
  'not-for-function': error('{name} cannot be calculated: {reason}'),
  /**
   * With a dot a value is reached through a link, where a row has at most one partner. Of the many rows of another table
   * only a total, a count or a lookup is a value: `sum(harvests.honey_kg)`, or with every `sum(every harvests.honey_kg)`.
   *
   * @example t.x
   */
  'unexpected-qualifier': error('{name} is no value of a row: table {table} has no link called {link}.{hint}'),
  /**
   * The name behind `every` is that of a table.
   *
   * @example sum(every tests.x)
   */
  'unknown-table': error('The workbook has no table called {name}.{hint}'),
  /**
   * A link is called after its first key column unless it was given a name of its own.
   *
   * @example sum(a via parent)
   */
  'unknown-link': error('Table {table} has no link called {name}.{hint}'),
  /**
   * A tag stands for all columns that carry it; a column gets it with its properties.
   *
   * @example sum_of(#tests)
   */
  'unknown-tag': error('No column of table {table} has the tag #{name}.{hint}'),
  /**
   * Without `every` an aggregate reads the rows that are linked to this one, so there must be a link between the tables.
   *
   * @example sum(other.x)
   */
  'no-link': error('No link leads from {table} to {home}; with every, all rows of {table} are read.'),
  /** Rows are linked in more than one way; `via` names the link that is meant. */
  'several-links': error('Several links lead from {table} to this table: {links}. Say which with via.'),
  /**
   * Values of a second table are reached through a link of the rows read, or in an aggregate of their own.
   *
   * @example sum(every other.x + every sample.a)
   */
  'second-table': error('An aggregate reads the rows of one table; this one names {first} and {second}.'),
  /**
   * Each function takes certain clauses, each once; its page lists them.
   *
   * @example round(a where ok)
   */
  'misplaced-clause': error('"{clause}" cannot stand here: {reason}'),
  /**
   * In another table there is no key of "this row"; a condition says which rows belong to it.
   *
   * @example sum(every other.x by b)
   */
  'keys-elsewhere': error('"by" groups the rows of the own table; for rows of {table} write where {tests}.'),
  /**
   * The part is right in itself but has no meaning at this place; the message says where it has one.
   *
   * @example #tag
   */
  'not-here': error('{found} cannot stand here: {reason}'),
  /** A name is the column of the row before it is a named value; `book.` asks for the named value. */
  'shadowed-value': hint('{name} is the column of this table; the named value of that name is {near}.'),
  /** Names are the same regardless of case, so two that differ only so cannot stand side by side. */
  'name-taken': error('{place} already has a {kind} called {name}.'),
  /**
   * Nothing is converted silently: `number(…)` and `text(…)` say that a conversion is wanted, or the column gets another
   * type.
   *
   * @example '5' * 2
   */
  'type-mismatch': error('{place} expects {expected}, received {received}.{hint}'),
  /**
   * Arguments are separated by commas; those with a question mark in the form can be left out.
   *
   * @example round()
   */
  'argument-count': error('{name} takes {expected}, received {received}. Its form is {form}'),
  /**
   * Weights and possible points are written behind their value: `weighted(brood at 60%, stores at 40%)`, `points_of(taste
   * out of 20)`.
   *
   * @example weighted(a, b at 50%)
   */
  'amount-expected': error('{name} expects {expected}, behind each of its values.'),
  /**
   * It decides what the whole column is, so it cannot differ from row to row.
   *
   * @example weighted(a at b)
   */
  'constant-expected': error('{place} must be written out; expected {expected}.'),
  /**
   * A column has one type; blank fits every type, and a date beside a date-time counts as its midnight.
   *
   * @example if(ok, 1, "x")
   */
  'branch-types': error('The branches of one condition must agree: this one is {received}, an earlier one {expected}.'),
  /** Mistakes often follow from each other, so a long list helps no one. The rest is counted, not shown. */
  'more-errors': error('{count} more errors and remarks follow; mend the first ones.'),
  /** The rest is counted, not shown. */
  'more-remarks': hint('{count} more remarks follow.'),
  /** Each column of the path reads the next. Only a `lag` with a constant number of rows may close such a ring. */
  cycle: error('{name} would depend on itself: {path}.'),
} as const satisfies Record<string, CodeRecord>
