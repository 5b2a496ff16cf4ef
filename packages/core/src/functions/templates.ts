import type { ValueType } from '../values/index.js'

/** What a template leaves open: a column of certain types, or of the rows that are linked to a row. */
export interface TemplateSlot {
  /** Types of columns that fit; `linked` for numbers of a table whose rows lead here, `rows` for such a table. */
  readonly takes: readonly (ValueType | 'linked' | 'rows')[]
  /** Words that the names of such columns often have. */
  readonly words?: readonly string[]
  /** True for columns that rows are put together by: few different values. */
  readonly isGroup?: boolean
}

/** Formulas for a purpose, with columns left open: `{value}` stands for the column that fills the slot `value`. */
export interface FormulaTemplate {
  /** What people say who look for it, but for the names of their columns. */
  readonly phrases: readonly string[]
  readonly slots: Readonly<Record<string, TemplateSlot>>
  /** Formulas by the names of their columns, in which slots stand for names too. */
  readonly formulas: Readonly<Record<string, string>>
}

const NUMBER: TemplateSlot = { takes: ['number', 'integer'] }
const TEXT: TemplateSlot = { takes: ['text'] }
const GROUP: TemplateSlot = { takes: ['text', 'boolean', 'date', 'integer'], isGroup: true }
const DAY: TemplateSlot = { takes: ['date', 'datetime'] }
const START: TemplateSlot = { ...DAY, words: ['start', 'begin', 'from', 'taken', 'ordered', 'opened', 'received', 'first'] }
const END: TemplateSlot = {
  ...DAY,
  words: ['end', 'ends', 'until', 'to', 'delivered', 'closed', 'done', 'ready', 'paid', 'last'],
}
const NAME: TemplateSlot = { takes: ['text'], words: ['name', 'full', 'person', 'keeper', 'member', 'who', 'author'] }
const LINKED: TemplateSlot = { takes: ['linked'] }

/** One slot, its phrases and its formulas. */
const template = (phrases: string, slots: FormulaTemplate['slots'], formulas: FormulaTemplate['formulas']): FormulaTemplate => ({
  phrases: phrases.split('; '),
  slots,
  formulas,
})

/** Formulas that are asked for by what they are for. */
export const TEMPLATES: readonly FormulaTemplate[] = [
  template(
    'split a name into first and last; first and last name; first name and family name; separate a full name',
    { name: NAME },
    { given_name: 'word({name}, 1)', family_name: 'word({name}, -1)' },
  ),
  template(
    'initials of a name; first letters of a name',
    { name: NAME },
    { initials: 'left(word({name}, 1), 1) & left(word({name}, -1), 1)' },
  ),
  template(
    'join first and last name; full name; put names together',
    { first: { takes: ['text'], words: ['first', 'given'] }, last: { takes: ['text'], words: ['last', 'family', 'surname'] } },
    { full_name: "{first} & ' ' & {last}" },
  ),
  template(
    'join two texts; combine two columns; put columns together; concatenate',
    { first: TEXT, second: TEXT },
    { '{first}_{second}': "{first} & ' ' & {second}" },
  ),
  template(
    'part before a dash; part of a code; split a code; first part',
    { code: { takes: ['text'], words: ['code', 'tag', 'hive', 'number', 'batch', 'id'] } },
    { '{code}_part': "split_part({code}, '-', 1)" },
  ),
  template(
    'tidy a text; clean text; remove extra spaces; proper capitals',
    { text: TEXT },
    { '{text}_tidy': 'title_case(single_spaces({text}))' },
  ),
  template(
    'contains a word; has a word; find a word in a text',
    { text: { takes: ['text'], words: ['note', 'comment', 'remark', 'text'] } },
    { has_word: "contains({text}, 'word')" },
  ),
  template(
    'text to number; read numbers from text; convert text to a number',
    { text: TEXT },
    { '{text}_number': 'number({text})' },
  ),
  template(
    'text to date; read dates from text; convert text to a date; parse a date',
    { text: { takes: ['text'], words: ['date', 'day', 'when', 'on'] } },
    { '{text}_date': "parse_date({text}, 'dd/MM/yyyy')" },
  ),
  template(
    'leading zeros; pad with zeros; fixed number of digits',
    { value: { takes: ['integer', 'number'], words: ['number', 'code', 'serial', 'id'] } },
    { '{value}_code': "pad_start(text({value}), 4, '0')" },
  ),

  template(
    'average by; mean by; average per group; average of each',
    { value: NUMBER, group: GROUP },
    { 'mean_{value}': 'mean({value} by {group})' },
  ),
  template(
    'total by; sum by; total per group; subtotal; sum of each',
    { value: NUMBER, group: GROUP },
    { 'total_{value}': 'sum({value} by {group})' },
  ),
  template(
    'count by; how many by; number of rows by; how many of each; rows per group',
    { group: GROUP },
    { 'rows_of_{group}': 'count(by {group})' },
  ),
  template(
    'largest by; maximum by; highest by; best of each',
    { value: NUMBER, group: GROUP },
    { 'largest_{value}': 'max({value} by {group})' },
  ),
  template(
    'smallest by; minimum by; lowest by; least of each',
    { value: NUMBER, group: GROUP },
    { 'smallest_{value}': 'min({value} by {group})' },
  ),
  template('median by; middle value by', { value: NUMBER, group: GROUP }, { 'median_{value}': 'median({value} by {group})' }),
  template(
    'percent by; share by; percent of group; part of its group',
    { value: NUMBER, group: GROUP },
    { '{value}_percent': '100 * share({value} by {group})' },
  ),
  template(
    'percent of total; share of total; part of the whole; percentage',
    { value: NUMBER },
    { '{value}_percent': '100 * share({value})' },
  ),
  template(
    'rank; rank by; place; place by; best first; position; largest first',
    { value: NUMBER },
    { 'place_by_{value}': 'rank({value} desc)' },
  ),
  template(
    'rank by; place by; rank within a group; best of each group',
    { value: NUMBER, group: GROUP },
    { 'place_in_{group}': 'rank({value} desc by {group})' },
  ),
  template(
    'difference from average; above or below average; deviation from mean',
    { value: NUMBER },
    { '{value}_off_mean': '{value} - mean({value})' },
  ),
  template(
    'difference from average by; above average of its group',
    { value: NUMBER, group: GROUP },
    { '{value}_off_mean': '{value} - mean({value} by {group})' },
  ),
  template('duplicates; repeated values; occurs more than once', { key: GROUP }, { is_repeated: 'count(by {key}) > 1' }),
  template('number the rows; running number; row number', {}, { number: 'row_number()' }),
  template('number the rows by; running number within a group', { group: GROUP }, { number: 'row_number(by {group})' }),

  template(
    'running total; total so far; cumulative sum; year to date',
    { value: NUMBER },
    { '{value}_so_far': 'cumulative_sum({value})' },
  ),
  template(
    'running total by; total so far by; cumulative sum by',
    { value: NUMBER, group: GROUP },
    { '{value}_so_far': 'cumulative_sum({value} by {group})' },
  ),
  template(
    'change from the row before; increase; difference to previous; change',
    { value: NUMBER },
    { '{value}_change': 'difference({value})' },
  ),
  template(
    'percent change; growth in percent; growth rate',
    { value: NUMBER },
    { '{value}_growth': '100 * difference({value}) per lag({value})' },
  ),
  template(
    'moving average; rolling mean; smooth; average of the last rows',
    { value: NUMBER },
    { '{value}_smooth': 'moving_mean({value}, 7)' },
  ),
  template(
    'value of the row before; previous value; previous row',
    { value: { takes: ['number', 'integer', 'text', 'date', 'datetime'] } },
    { 'previous_{value}': 'lag({value})' },
  ),
  template(
    'fill down; repeat the value above; fill blanks with the value before',
    { value: { takes: ['text', 'number', 'integer', 'date'] } },
    { '{value}_filled': '{value} ?? lag({value})' },
  ),

  template(
    'days between; days from to; how many days; duration in days; waiting time',
    { start: START, end: END },
    { days: '{end} - {start}' },
  ),
  template(
    'days without weekends; working days between; business days; workdays',
    { start: START, end: END },
    { working_days: 'workdays_between({start}, {end})' },
  ),
  template('months between; how many months', { start: START, end: END }, { months: 'months_between({start}, {end})' }),
  template(
    'days since; how long ago; days until today; age in days',
    { day: DAY },
    { 'days_since_{day}': 'days_between({day}, today())' },
  ),
  template(
    'age in years; years since; how old',
    { day: { ...DAY, words: ['birth', 'born', 'since', 'queen', 'made'] } },
    { age: 'years_between({day}, today())' },
  ),
  template('year of a date; year', { day: DAY }, { year: 'year({day})' }),
  template('month of a date; year and month; by month; month', { day: DAY }, { month: "text({day}, 'yyyy-MM')" }),
  template('quarter of a date; quarter', { day: DAY }, { quarter: 'quarter({day})' }),
  template('day of the week; weekday; name of the day', { day: DAY }, { weekday: "text({day}, 'EEEE')" }),
  template('weekend; is it a weekend; saturday or sunday', { day: DAY }, { is_weekend: 'weekday({day}) >= 6' }),
  template('first day of the month; start of the month', { day: DAY }, { month_begins: "start_of({day}, 'month')" }),
  template('last day of the month; end of the month', { day: DAY }, { month_ends: "end_of({day}, 'month')" }),
  template('due date; days later; add days to a date; payment date', { day: DAY }, { due: 'add_days({day}, 30)' }),
  template('due in working days; working days later', { day: DAY }, { due: 'add_workdays({day}, 10)' }),

  template(
    'ratio; divide two columns; one per other; rate',
    { part: NUMBER, whole: NUMBER },
    { '{part}_per_{whole}': '{part} per {whole}' },
  ),
  template(
    'percent of another column; per hundred; rate in percent',
    { part: NUMBER, whole: NUMBER },
    { '{part}_percent': '100 * {part} per {whole}' },
  ),
  template(
    'difference of two columns; difference of; difference between; subtract; one minus other',
    { first: NUMBER, second: NUMBER },
    { '{first}_less_{second}': '{first} - {second}' },
  ),
  template(
    'product; product of; multiply two columns; times',
    { first: NUMBER, second: NUMBER },
    { '{first}_times_{second}': '{first} * {second}' },
  ),
  template(
    'add two columns; sum of columns; total of columns',
    { first: NUMBER, second: NUMBER },
    { total: 'sum_of({first}, {second})' },
  ),
  template('average of columns; mean of columns', { first: NUMBER, second: NUMBER }, { mean: 'mean_of({first}, {second})' }),
  template(
    'larger of two columns; maximum of columns',
    { first: NUMBER, second: NUMBER },
    { larger: 'max_of({first}, {second})' },
  ),
  template('round; two decimals; fewer digits', { value: NUMBER }, { '{value}_rounded': 'round({value}, 2)' }),
  template('blanks as zero; zero for blanks; replace blanks with zero', { value: NUMBER }, { '{value}_or_zero': '{value} ?? 0' }),
  template(
    'first filled; one or the other; use another column where blank',
    { first: TEXT, second: TEXT },
    { either: '{first} ?? {second}' },
  ),
  template(
    'high or low; above the median; bands; two classes',
    { value: NUMBER },
    { '{value}_class': "if({value} >= median({value}), 'high', 'low')" },
  ),

  template(
    'total of linked rows; sum of linked; total from another table',
    { linked: LINKED },
    { 'total_{linked}': 'sum({linked})' },
  ),
  template('average of linked rows; mean from another table', { linked: LINKED }, { 'mean_{linked}': 'mean({linked})' }),
  template(
    'count linked rows; how many linked; number of rows in another table',
    { rows: { takes: ['rows'] } },
    { 'number_of_{rows}': 'count({rows})' },
  ),
]
