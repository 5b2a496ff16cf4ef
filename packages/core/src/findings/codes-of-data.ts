import { type CodeRecord, error, hint, warning } from './code-record.js'

/** What constants and data do: each with the number of rows, where it depends on them. */
export const CODES_OF_DATA = {
  /**
   * A blank is not a value that something could be equal to.
   *
   * @example a = blank
   */
  'compared-with-blank': warning('Comparing with blank gives blank on every row, so no row is kept; ask "is blank".'),
  /**
   * A column is hidden from some readers, and they see what is calculated from it: whoever sees this result knows the hidden
   * value too. Hide the result from the same groups, or give less away: a total over more rows, a rounded share, a class.
   */
  'reveals-hidden': warning('{name} gives {of} away to {groups}, from whom that is hidden: {how}.'),
  /**
   * It is made of constants only, so it can be told before there are any rows.
   *
   * @example sqrt(-1)
   */
  'always-fails': warning('This gives the error {fault} on every row.'),
  /**
   * `??` binds looser than arithmetic, which surprises many readers.
   *
   * @example a ?? b + 1
   */
  'unclear-precedence': warning('"{left} ?? {right}" reads as {left} ?? ({right}); say which you mean with parentheses.'),
  /**
   * A blank condition is not true, so the row silently takes the `else`. A branch for blanks, or a test for them before,
   * says what is meant.
   *
   * @example if(a > 1, "x", "y")
   */
  'blank-falls-through': warning('A blank {subject} falls into the last branch.{count}'),
  /**
   * A zero is often a missing measurement. `a per b` is blank where b is zero or blank; `a / b` is an error there.
   *
   * @example a / b
   */
  'division-by-zero': warning('The divisor {subject} is zero.{count} "per" gives blank there instead.'),
  /**
   * An error in a cell goes on into whatever is calculated from it. It is traced to the cell that was typed or read so, or
   * to the formula that makes it; `if_error(…)` gives another value where an error is expected.
   *
   * @example sqrt(a - 100)
   */
  'calculated-errors': warning('{what}: {codes}.{cause}'),
  /**
   * The column has a fixed list of choices, so a comparison with another text is never true, and a formula that gives
   * another one breaks the list.
   */
  'not-a-choice': warning('{name} is none of the choices of {column}: {choices}.{hint}'),
  /**
   * The text is written out, so it can be told at once that no row will have a value.
   *
   * @example start_of(d, 'moth')
   */
  'unusable-text': warning('{name} expects {expects}, received {found}; every row gives {fault}.'),
  /**
   * Quantities of different kinds have no sum and no order, and of one kind only in the same unit: 500 g and 2 kg are not 502. Sine,
   * cosine and tangent take radians. `convert(…, 'kg')` and `radians(…)` convert.
   *
   * @example sin(deg)
   */
  'unlike-units': warning('{left} is in {leftUnit}, {right} in {rightUnit}: {reason}'),
  /**
   * The column says another unit than its formula gives. Nothing is converted by itself: either the formula converts, or the unit
   * is corrected.
   *
   */
  'unit-differs': warning('The formula gives {inferred}, but {column} says {declared}.{hint}'),
  /**
   * `convert` needs to know what it converts from: the unit of the column, or a third argument.
   *
   * @example convert(a, 'kg')
   */
  'no-conversion': error('convert cannot bring {subject} to {unit}: {reason}'),
  /**
   * Angles in radians seldom go beyond 2π. A unit of deg or ° on the column makes this certain.
   *
   * @example sin(big)
   */
  'angle-beyond-turn': hint('{subject} goes beyond a full turn in radians.{count} If it is in degrees, convert it.'),
  /**
   * A rank is the place of its own value, from the smallest, or from the largest with `desc`; a derivative and an integral
   * go along their second value.
   *
   * @example rank(a order by a desc)
   */
  'order-without-effect': warning('{name} goes in the order of {value}, so this order has no effect.{hint}'),
  /**
   * An end before its start is often two dates in the wrong columns, or one typed wrongly.
   *
   * @example days_between(d, e)
   */
  'negative-interval': hint('{subject}.{count}'),
  /** What is read over a link is blank where no row has the key. A key may be mistyped, or its row is missing. */
  'unmatched-keys': hint('{link} leads nowhere for {rows}: {to} has no {keys}.'),
  /** A link leads to one row at most. Give each row a key of its own, or link over further columns. */
  'repeated-keys': warning('{to} has {keys} in several rows, as {sample}; what is read over {link} is many-matches there.'),
  /** Texts are equal only when every sign is: capital letters, spaces at the ends and composed signs count. */
  'look-alike-keys': warning('{link} leads nowhere for {rows}, although {sample}.'),
  /**
   * A condition that compares by equality, or with one range of a key, finds its rows by an index; any other is tried on
   * every row for every row. Such a column is left stale until someone reads it.
   */
  'costly-scan': warning('{subject} looks at {pairs} pairs of rows, which takes about {time}.'),
  /**
   * A zero that stands further from the other values than these from each other is often entered for "not measured", and
   * pulls every total and mean down. `blank_if(name, 0)` takes it as missing.
   */
  'zero-apart': hint(
    '{count} of {name} are 0, far from all others, which lie from {lowest} to {highest}; a value that is missing should be blank.',
  ),
  /**
   * The table holds a sample of what a database has, and the formula will run on all of it. What the sample does not show was
   * counted there when the sample was taken.
   */
  'beyond-sample': hint('{name} {what} of the {rows} of its source, and nowhere in the sample.{after}'),
  /**
   * Parts of a score whose ranges differ by more than a factor of four do not weigh what their weights say. Bring them to
   * one scale first, as by dividing each by its highest possible value.
   */
  'unlike-scales': hint('{wide} ranges over {most}, {narrow} only over {least}, so the first decides most of the result.'),
  /**
   * The score is then not on the scale of its parts. Weights count exactly as written.
   *
   * @example weighted(a at 50%, b at 40%)
   */
  'weights-total': hint('The weights make {total}, not 100 %.'),
  /**
   * Values run into each other, and different rows can make the same text: `1` and `23` read like `12` and `3`.
   *
   * @example t & a
   */
  'no-separator': hint('{left} and {right} are joined with nothing between them.'),
  /**
   * A formula reads one row; the total of a column is an aggregate.
   *
   * @example 100 * b / b
   */
  'share-of-itself': hint('{name} divided by itself is 1 on every row; for its part of the total write {near}.'),
  /** Ratios of rows of different size do not add up: two hives with 10 kg a frame are not one with 20. */
  'total-of-ratio': hint('This adds up {name}, which is a ratio; the ratio of the totals is {near}.'),
  /**
   * What is added up on one side of a formula is of rows that are missing on the other, so their difference or ratio is of
   * neither. Give both the same rows.
   */
  'unequal-rows': hint('{one} has {count} that {other} has not.'),
  /** Spaces and capitals are easily overlooked. Write them alike, or group by the text put in one form, such as lower(trim(a)). */
  'look-alike-groups': warning('{one} and {other} of {name} look alike, and are groups of their own.{more}'),
  /** Rows have it, groups do not: a formula of lines that reads it is blank on every group. */
  'rows-on-groups': hint(
    '{name} is blank on groups: it reads {column}, which only rows have; {near} is a tally, which they have too.',
  ),
  /** The share is of all rows of the table, whatever rows are looked at. A line over the whole is of those rows alone. */
  'partial-shares': hint(
    '{name} is a share of all rows, and the condition leaves {count} out, so it does not reach 100 %; {near} does.',
  ),
  /**
   * Nothing in the formula depends on the row. A tally is kept once for the table and shown in its totals line.
   *
   * @example sum(a)
   */
  'same-on-every-row': hint('This is the same on every row; a tally keeps it once.'),
  /** Texts cannot be added up, and sort by their signs: 10 before 9. Codes with leading zeros do not count as numbers. */
  'numbers-as-text': hint('{count} of {name} look like numbers but are text.'),
  /** Nothing is cut off silently. The column becomes a number column, or its formula says how to round. */
  fractions: warning('{count} of {name} would have a fraction, which a whole-number column does not take; they count as errors.'),
  /** The text is kept as it came. Type it again, or take it apart in a further column. */
  misfits: warning('{count} of {name} {hold} text that is not {expected}, such as {sample}; they count as errors.'),
  /** Often the rest of the row stands in the next line, or a separator is missing. */
  'short-rows': warning('{count} shorter than the header, the first in line {line}; missing cells are blank.'),
  /** Often a cell has the separator in it and stands in no quotes. */
  'long-rows': warning('{count} longer than the header, the first in line {line}; what is too much is {how}.'),
  /** Names of one table differ. Another name in the file, or later by rename, says what it is. */
  'renamed-column': hint('A second column called {name} is called {to}.'),
  /**
   * Read as they are they are texts, which cannot be added up and sort by their signs. Numbers have a decimal point and
   * dates are ISO 8601 unless the options say otherwise.
   */
  'readable-otherwise': hint('{count} of {name} are {what}: {option}{rest}{kept}.{rival}'),
  /** A sign of two units (a surrogate pair) had lost one of them, so it was no text that a file could keep. */
  'mended-text': warning('{count} of {name} had half of a character in it; that stands as \ufffd now.'),
  /** The file was written by a program that does not calculate. Opened and saved by one that does, it has the values. */
  'unsaved-formulas': warning('{count} of {name} without a value: a formula whose result was not saved is blank here.'),
  /** Numbers are binary64: 15 to 17 digits. Where every digit counts, as in codes, the column is better read as text. */
  'rounded-numbers': warning('{count} of {name} have more digits than a number keeps, such as {sample}.'),
  /** Date-times are whole milliseconds. */
  'cut-times': warning('{count} of {name} are finer than a millisecond, such as {sample}; the rest is left out.'),
  /** With --delimiter the guess is not needed. */
  'guessed-delimiter': hint('The header has no comma, so {found} was taken as the delimiter; if that is wrong, say which it is.'),
  /** A name of its own makes formulas readable. */
  'unnamed-column': hint('Column {place} has no name in the header; it is called {name}.'),
  /** Each value has one place in the order. Give its rows the same key. */
  'order-key-conflict': warning('{value} of {name} has two order keys in {key}, {one} and {other}; the first is taken.{more}'),
  /** The label names the row in messages, links and reports. */
  'no-label': hint('No label on {rows}: {name} is blank there.'),
  /** The parents of an outline go up and come back; rows below the first of them are shown under it. */
  'parent-loop': warning('{rows} are below themselves, such as row {place}.'),
  /** A label is to tell rows apart. Join it from several columns, or take another column. */
  'same-label': hint('{rows} share their label with another row, such as {sample} in {name}.'),
  /** Make the calendar longer, or leave those rows out. */
  'outside-calendar': warning(
    'A date lies outside {table} on {count}; it goes from {first} to {last}, and days beyond count as if they had no holidays.',
  ),
  /** A rule is a condition of the analyst; a row where it is false breaks it. Change the rows, or the rule. */
  'rule-broken': warning('The rule {name} ({condition}) does not hold {where}.{note}'),
  /** An error is neither true nor false. The cells that the rule reads say what is wrong. */
  'rule-undecided': warning('The rule {name} ({condition}) cannot be told {where}, since something in it is an error there.'),
  /** Each format has its limits. The workbook keeps everything; CSV and JSON keep misfits as the text they were. */
  'not-held': warning('{count} of {name} cannot be kept in {format} as they are: {how}, such as {sample}.'),
  /** A cell holds one value; lists and objects are kept as the text they were. */
  'nested-values': hint('{count} kept as JSON text.'),
} as const satisfies Record<string, CodeRecord>
