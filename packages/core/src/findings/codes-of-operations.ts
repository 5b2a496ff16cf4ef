import { type CodeRecord, error } from './code-record.js'

/** Why an operation is refused; the workbook is then as it was. */
export const CODES_OF_OPERATIONS = {
  'bad-operation': error('{place}: {reason}', 'The operation is not of the shape that its page describes.'),
  'bad-value': error('{place} cannot hold {found}: {reason}', 'A cell takes a number, a text, true or false, or null for blank.'),
  'unknown-rule': error('The workbook has no rule called {name}.{hint}', 'Rules are set with set-rule, and listed by list.'),
  'unknown-column': error(
    'Table {table} has no column called {name}.{hint}',
    'Names are found in any case; the nearest is named.',
  ),
  'unknown-row': error('Table {table} has no row with id {row}.', 'Ids are never used again, so the row may have been removed.'),
  'stamped-cell': error(
    '{name} is a stamp: it is written by itself when the columns it watches are filled.',
    'Detach it to type over it; the stamps so far then stay as they are.',
  ),
  'calculated-cell': error(
    '{name} is calculated, so a cell of it cannot be typed over. Its formula is: {formula}',
    'Change its sources or its formula, or detach the column, which keeps its values and drops the formula.',
  ),
  'column-in-use': error(
    '{name} is used by {users}, so it cannot be removed by itself.',
    'There are three ways on: hide it, detach the columns that use it (they keep their values), or remove them with it.',
  ),
  'column-has-values': error(
    '{name} holds {count} values that a formula would overwrite. Add the formula as a new column instead.',
    'Values that were typed or read are never overwritten by a formula.',
  ),
  'too-much-text': error(
    '{name} would make more than half a gigabyte of text.',
    'Texts that grow from row to row, or are repeated, take the square of their rows. Keep the parts, and join them where they are shown.',
  ),
  cancelled: error(
    'The calculation was cancelled; the workbook is as it was before.',
    'The caller that was told of the progress ended it.',
  ),
  'hand-edits-lost': error(
    'Resuming {name} would change {cells}, {typed} of them typed by hand{named}.',
    'A paused column can be typed over. Give the number of cells typed by hand to say that they may be lost, or detach the column.',
  ),
  'typed-values-lost': error(
    '{rows} of {table} would go, since the source has no more of them, with values typed in {columns}: {named}.',
    'Reading again takes rows away that the source has no more. Values that it never had, such as notes typed beside, would go with them: keep the rows, or say that they may go.',
  ),
  'link-in-use': error(
    'The link {name} is followed by {users}, so it cannot be removed.',
    'Change those formulas first, or remove them.',
  ),
  'table-in-use': error(
    '{name} is used by {users}, so it cannot be removed.',
    'Links that lead to a table, and formulas that read it, go first.',
  ),
  'unexpected-revision': error(
    'The workbook is at revision {revision}, not {expected} as expected: someone changed it since.',
    'Look at what has changed, and do it again.',
  ),
  'patterns-not-loaded': error(
    'What runs patterns is not loaded here.',
    'In a browser it is loaded when it is first wanted: `await loadPatterns()` once, before a formula with a pattern is used. Node loads it by itself.',
  ),
} as const satisfies Record<string, CodeRecord>
