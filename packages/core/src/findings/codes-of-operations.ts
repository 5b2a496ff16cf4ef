import { type CodeRecord, error } from './code-record.js'

/** Why an operation is refused; the workbook is then as it was. */
export const CODES_OF_OPERATIONS = {
  /** The operation is not of the shape that its page describes. */
  'bad-operation': error('{place}: {reason}'),
  /** A cell takes a number, a text, true or false, or null for blank. */
  'bad-value': error('{place} cannot hold {found}: {reason}'),
  /** Say which of them is meant, or name other columns to be used. */
  'examples-contradict': error('The examples for {name} contradict each other in {rows}: {reason}.'),
  /** Check the examples, name further columns to be used, or give fewer examples. */
  'no-formula-fits': error('No formula was found for {name} that gives what is wanted in {examples}.{near}'),
  /** Reports are set with set-report, and listed by list. */
  'unknown-report': error('The workbook has no report called {name}.{hint}'),
  /** Charts are set with set-chart, and listed by list. */
  'unknown-chart': error('The workbook has no chart called {name}.{hint}'),
  /** Remove those charts first, or draw something else in them. */
  'report-in-use': error('{name} is used by {users}, so it cannot be removed.'),
  /** Bars of a total hide the parts beside it: they all look small. Leave it out, put it on the other axis, or ask for it. */
  'total-beside-parts': error('{name} is the total of the bars beside it, and would hide them.'),
  /** Remove what calls it first, or have that do without it. */
  'function-in-use': error('{name} is called by {users}, so it cannot be removed.'),
  /** A function may call others, as long as none of them leads back to it. */
  'function-cycle': error('{name} would call itself: {path}.'),
  /** Leave the parameter out, or use it. */
  'unused-parameter': error('The formula of {name} does not use its parameter {parameter}.'),
  /** Rules are set with set-rule, and listed by list. */
  'unknown-rule': error('The workbook has no rule called {name}.{hint}'),
  /** Names are found in any case; the nearest is named. */
  'unknown-column': error('Table {table} has no column called {name}.{hint}'),
  /** Ids are never used again, so the row may have been removed. */
  'unknown-row': error('Table {table} has no row with id {row}.'),
  /** Detach it to type over it; the stamps so far then stay as they are. */
  'stamped-cell': error('{name} is a stamp: it is written by itself when the columns it watches are filled.'),
  /** Ask someone who may define, or have the column no longer fixed. */
  'fixed-cell': error('{name} is fixed: its cells are typed over only by those who may define.'),
  /** A role has all that the ones before it have: read, enter, edit, define, own. */
  'needs-role': error('{what} takes the role {least}, and yours is {role}.'),
  /** Rows are told apart, found and linked by it, so that it cannot be missing for some readers. */
  'hides-key': error('{name} cannot be hidden from readers: it is {use}.'),
  /** One's own last step is taken back as long as nothing of it was touched since; otherwise it is changed by hand. */
  'step-overtaken': error(
    'Step {revision} can be neither taken back nor done again: {who} has changed {what} since, in step {later}.',
  ),
  /** Something that the caller does not see stands against it. */
  'withheld-reason': error('This cannot be done, for a reason that you may not see. Ask an owner of the workbook.'),
  /** Change its sources or its formula, or detach the column, which keeps its values and drops the formula. */
  'calculated-cell': error('{name} is calculated, so a cell of it cannot be typed over. Its formula is: {formula}'),
  /** There are three ways on: hide it, detach the columns that use it (they keep their values), or remove them with it. */
  'column-in-use': error('{name} is used by {users}, so it cannot be removed by itself.'),
  /** Values that were typed or read are never overwritten by a formula. */
  'column-has-values': error(
    '{name} holds {count} values that a formula would overwrite. Add the formula as a new column instead.',
  ),
  /**
   * Texts that grow from row to row, or are repeated, take the square of their rows. Keep the parts, and join them where
   * they are shown.
   */
  'too-much-text': error('{name} would make more than half a gigabyte of text.'),
  /** The caller that was told of the progress ended it. */
  cancelled: error('The calculation was cancelled; the workbook is as it was before.'),
  /**
   * A paused column can be typed over. Give the number of cells typed by hand to say that they may be lost, or detach the
   * column.
   */
  'hand-edits-lost': error('Resuming {name} would change {cells}, {typed} of them typed by hand{named}.'),
  /**
   * Reading again takes rows away that the source has no more. Values that it never had, such as notes typed beside, would
   * go with them: keep the rows, or say that they may go.
   */
  'typed-values-lost': error(
    '{rows} of {table} would go, since the source has no more of them, with values typed in {columns}: {named}.',
  ),
  /** Change those formulas first, or remove them. */
  'link-in-use': error('The link {name} is followed by {users}, so it cannot be removed.'),
  /** Links that lead to a table, and formulas that read it, go first. */
  'table-in-use': error('{name} is used by {users}, so it cannot be removed.'),
  /** Look at what has changed, and do it again. */
  'unexpected-revision': error('The workbook is at revision {revision}, not {expected} as expected: someone changed it since.'),
  /**
   * In a browser it is loaded when it is first wanted: `await loadPatterns()` once, before a formula with a pattern is
   * used. Node loads it by itself.
   */
  'patterns-not-loaded': error('What runs patterns is not loaded here.'),
} as const satisfies Record<string, CodeRecord>
