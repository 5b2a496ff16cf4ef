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
  /** What people say who look for it, but for the names of their columns; with semicolons between. */
  readonly phrases: string
  readonly slots: Readonly<Record<string, TemplateSlot>>
  /** Formulas by the names of their columns, in which slots stand for names too. */
  readonly formulas: Readonly<Record<string, string>>
}

const NUMBER: TemplateSlot = { takes: ['number', 'integer'] }
const TEXT: TemplateSlot = { takes: ['text'] }
const GROUP: TemplateSlot = { takes: ['text', 'boolean', 'date', 'integer'], isGroup: true }
const DAY: TemplateSlot = { takes: ['date', 'datetime'] }
const START: TemplateSlot = {
  takes: ['date', 'datetime'],
  words: ['start', 'begin', 'from', 'taken', 'ordered', 'opened', 'received', 'first'],
}
const END: TemplateSlot = {
  ...DAY,
  words: ['end', 'ends', 'until', 'to', 'delivered', 'closed', 'done', 'ready', 'paid', 'last'],
}
const NAME: TemplateSlot = { takes: ['text'], words: ['name', 'full', 'person', 'keeper', 'member', 'who', 'author'] }
const LINKED: TemplateSlot = { takes: ['linked'] }

/** Formulas that are asked for by what they are for. */
export const TEMPLATES: readonly FormulaTemplate[] = [
  {
    phrases: 'split a name into first and last; first and last name; first name and family name; separate a full name',
    slots: { name: NAME },
    formulas: { given_name: 'word({name}, 1)', family_name: 'word({name}, -1)' },
  },
  {
    phrases: 'initials of a name; first letters of a name',
    slots: { name: NAME },
    formulas: { initials: 'left(word({name}, 1), 1) & left(word({name}, -1), 1)' },
  },
  {
    phrases: 'join first and last name; full name; put names together',
    slots: {
      first: { takes: ['text'], words: ['first', 'given'] },
      last: { takes: ['text'], words: ['last', 'family', 'surname'] },
    },
    formulas: { full_name: "{first} & ' ' & {last}" },
  },
  {
    phrases: 'join two texts; combine two columns; put columns together; concatenate',
    slots: { first: TEXT, second: TEXT },
    formulas: { '{first}_{second}': "{first} & ' ' & {second}" },
  },
  {
    phrases: 'part before a dash; part of a code; split a code; first part',
    slots: { code: { takes: ['text'], words: ['code', 'tag', 'hive', 'number', 'batch', 'id'] } },
    formulas: { '{code}_part': "split_part({code}, '-', 1)" },
  },
  {
    phrases: 'tidy a text; clean text; remove extra spaces; proper capitals',
    slots: { text: TEXT },
    formulas: { '{text}_tidy': 'title_case(single_spaces({text}))' },
  },
  {
    phrases: 'contains a word; has a word; find a word in a text',
    slots: { text: { takes: ['text'], words: ['note', 'comment', 'remark', 'text'] } },
    formulas: { has_word: "contains({text}, 'word')" },
  },
  {
    phrases: 'text to number; read numbers from text; convert text to a number',
    slots: { text: TEXT },
    formulas: { '{text}_number': 'number({text})' },
  },
  {
    phrases: 'text to date; read dates from text; convert text to a date; parse a date',
    slots: { text: { takes: ['text'], words: ['date', 'day', 'when', 'on'] } },
    formulas: { '{text}_date': "parse_date({text}, 'dd/MM/yyyy')" },
  },
  {
    phrases: 'leading zeros; pad with zeros; fixed number of digits',
    slots: { value: { takes: ['integer', 'number'], words: ['number', 'code', 'serial', 'id'] } },
    formulas: { '{value}_code': "pad_start(text({value}), 4, '0')" },
  },

  {
    phrases: 'average by; mean by; average per group; average of each',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'mean_{value}': 'mean({value} by {group})' },
  },
  {
    phrases: 'total by; sum by; total per group; subtotal; sum of each',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'total_{value}': 'sum({value} by {group})' },
  },
  {
    phrases: 'count by; how many by; number of rows by; how many of each; rows per group',
    slots: { group: GROUP },
    formulas: { 'rows_of_{group}': 'count(by {group})' },
  },
  {
    phrases: 'largest by; maximum by; highest by; best of each',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'largest_{value}': 'max({value} by {group})' },
  },
  {
    phrases: 'smallest by; minimum by; lowest by; least of each',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'smallest_{value}': 'min({value} by {group})' },
  },
  {
    phrases: 'median by; middle value by',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'median_{value}': 'median({value} by {group})' },
  },
  {
    phrases: 'percent by; share by; percent of group; part of its group',
    slots: { value: NUMBER, group: GROUP },
    formulas: { '{value}_percent': '100 * share({value} by {group})' },
  },
  {
    phrases: 'percent of total; share of total; part of the whole; percentage',
    slots: { value: NUMBER },
    formulas: { '{value}_percent': '100 * share({value})' },
  },
  {
    phrases: 'rank; rank by; place; place by; best first; position; largest first',
    slots: { value: NUMBER },
    formulas: { 'place_by_{value}': 'rank({value} desc)' },
  },
  {
    phrases: 'rank by; place by; rank within a group; best of each group',
    slots: { value: NUMBER, group: GROUP },
    formulas: { 'place_in_{group}': 'rank({value} desc by {group})' },
  },
  {
    phrases: 'difference from average; above or below average; deviation from mean',
    slots: { value: NUMBER },
    formulas: { '{value}_off_mean': '{value} - mean({value})' },
  },
  {
    phrases: 'difference from average by; above average of its group',
    slots: { value: NUMBER, group: GROUP },
    formulas: { '{value}_off_mean': '{value} - mean({value} by {group})' },
  },
  {
    phrases: 'duplicates; repeated values; occurs more than once',
    slots: { key: GROUP },
    formulas: { is_repeated: 'count(by {key}) > 1' },
  },
  { phrases: 'number the rows; running number; row number', slots: {}, formulas: { number: 'row_number()' } },
  {
    phrases: 'number the rows by; running number within a group',
    slots: { group: GROUP },
    formulas: { number: 'row_number(by {group})' },
  },

  {
    phrases: 'running total; total so far; cumulative sum; year to date',
    slots: { value: NUMBER },
    formulas: { '{value}_so_far': 'cumulative_sum({value})' },
  },
  {
    phrases: 'running total by; total so far by; cumulative sum by',
    slots: { value: NUMBER, group: GROUP },
    formulas: { '{value}_so_far': 'cumulative_sum({value} by {group})' },
  },
  {
    phrases: 'change from the row before; increase; difference to previous; change',
    slots: { value: NUMBER },
    formulas: { '{value}_change': 'difference({value})' },
  },
  {
    phrases: 'percent change; growth in percent; growth rate',
    slots: { value: NUMBER },
    formulas: { '{value}_growth': '100 * difference({value}) per lag({value})' },
  },
  {
    phrases: 'moving average; rolling mean; smooth; average of the last rows',
    slots: { value: NUMBER },
    formulas: { '{value}_smooth': 'moving_mean({value}, 7)' },
  },
  {
    phrases: 'value of the row before; previous value; previous row',
    slots: { value: { takes: ['number', 'integer', 'text', 'date', 'datetime'] } },
    formulas: { 'previous_{value}': 'lag({value})' },
  },
  {
    phrases: 'fill down; repeat the value above; fill blanks with the value before',
    slots: { value: { takes: ['text', 'number', 'integer', 'date'] } },
    formulas: { '{value}_filled': '{value} ?? lag({value})' },
  },

  {
    phrases: 'days between; days from to; how many days; duration in days; waiting time',
    slots: { start: START, end: END },
    formulas: { days: '{end} - {start}' },
  },
  {
    phrases: 'days without weekends; working days between; business days; workdays',
    slots: { start: START, end: END },
    formulas: { working_days: 'workdays_between({start}, {end})' },
  },
  {
    phrases: 'months between; how many months',
    slots: { start: START, end: END },
    formulas: { months: 'months_between({start}, {end})' },
  },
  {
    phrases: 'days since; how long ago; days until today; age in days',
    slots: { day: DAY },
    formulas: { 'days_since_{day}': 'days_between({day}, today())' },
  },
  {
    phrases: 'age in years; years since; how old',
    slots: { day: { takes: ['date', 'datetime'], words: ['birth', 'born', 'since', 'queen', 'made'] } },
    formulas: { age: 'years_between({day}, today())' },
  },
  { phrases: 'year of a date; year', slots: { day: DAY }, formulas: { year: 'year({day})' } },
  {
    phrases: 'month of a date; year and month; by month; month',
    slots: { day: DAY },
    formulas: { month: "text({day}, 'yyyy-MM')" },
  },
  { phrases: 'quarter of a date; quarter', slots: { day: DAY }, formulas: { quarter: 'quarter({day})' } },
  { phrases: 'day of the week; weekday; name of the day', slots: { day: DAY }, formulas: { weekday: "text({day}, 'EEEE')" } },
  {
    phrases: 'weekend; is it a weekend; saturday or sunday',
    slots: { day: DAY },
    formulas: { is_weekend: 'weekday({day}) >= 6' },
  },
  {
    phrases: 'first day of the month; start of the month',
    slots: { day: DAY },
    formulas: { month_begins: "start_of({day}, 'month')" },
  },
  { phrases: 'last day of the month; end of the month', slots: { day: DAY }, formulas: { month_ends: "end_of({day}, 'month')" } },
  {
    phrases: 'due date; days later; add days to a date; payment date',
    slots: { day: DAY },
    formulas: { due: 'add_days({day}, 30)' },
  },
  { phrases: 'due in working days; working days later', slots: { day: DAY }, formulas: { due: 'add_workdays({day}, 10)' } },

  {
    phrases: 'ratio; divide two columns; one per other; rate',
    slots: { part: NUMBER, whole: NUMBER },
    formulas: { '{part}_per_{whole}': '{part} per {whole}' },
  },
  {
    phrases: 'percent of another column; per hundred; rate in percent',
    slots: { part: NUMBER, whole: NUMBER },
    formulas: { '{part}_percent': '100 * {part} per {whole}' },
  },
  {
    phrases: 'difference of two columns; difference of; difference between; subtract; one minus other',
    slots: { first: NUMBER, second: NUMBER },
    formulas: { '{first}_less_{second}': '{first} - {second}' },
  },
  {
    phrases: 'product; product of; multiply two columns; times',
    slots: { first: NUMBER, second: NUMBER },
    formulas: { '{first}_times_{second}': '{first} * {second}' },
  },
  {
    phrases: 'add two columns; sum of columns; total of columns',
    slots: { first: NUMBER, second: NUMBER },
    formulas: { total: 'sum_of({first}, {second})' },
  },
  {
    phrases: 'average of columns; mean of columns',
    slots: { first: NUMBER, second: NUMBER },
    formulas: { mean: 'mean_of({first}, {second})' },
  },
  {
    phrases: 'larger of two columns; maximum of columns',
    slots: { first: NUMBER, second: NUMBER },
    formulas: { larger: 'max_of({first}, {second})' },
  },
  {
    phrases: 'round; two decimals; fewer digits',
    slots: { value: NUMBER },
    formulas: { '{value}_rounded': 'round({value}, 2)' },
  },
  {
    phrases: 'blanks as zero; zero for blanks; replace blanks with zero',
    slots: { value: NUMBER },
    formulas: { '{value}_or_zero': '{value} ?? 0' },
  },
  {
    phrases: 'first filled; one or the other; use another column where blank',
    slots: { first: TEXT, second: TEXT },
    formulas: { either: '{first} ?? {second}' },
  },
  {
    phrases: 'high or low; above the median; bands; two classes',
    slots: { value: NUMBER },
    formulas: { '{value}_class': "if({value} >= median({value}), 'high', 'low')" },
  },

  {
    phrases: 'total of linked rows; sum of linked; total from another table',
    slots: { linked: LINKED },
    formulas: { 'total_{linked}': 'sum({linked})' },
  },
  {
    phrases: 'average of linked rows; mean from another table',
    slots: { linked: LINKED },
    formulas: { 'mean_{linked}': 'mean({linked})' },
  },
  {
    phrases: 'count linked rows; how many linked; number of rows in another table',
    slots: { rows: { takes: ['rows'] } },
    formulas: { 'number_of_{rows}': 'count({rows})' },
  },
]
