import { compileDatePattern } from '../values/index.js'
import type { Program } from './program.js'
import { numbersOn, type Task, textsOn } from './task.js'

/** Patterns that dates are written in, the commonest first; see Unicode TR35. */
const DATE_FORMS = [
  ...[
    'dd/MM/yyyy',
    'MM/dd/yyyy',
    'dd.MM.yyyy',
    'dd-MM-yyyy',
    'MM-dd-yyyy',
    'yyyy-MM-dd',
    'yyyy/MM/dd',
    'yyyy.MM.dd',
    'yyyyMMdd',
    'ddMMyyyy',
  ],
  ...[
    'd/M/yyyy',
    'M/d/yyyy',
    'd.M.yyyy',
    'd-M-yyyy',
    'dd/MM/yy',
    'MM/dd/yy',
    'dd.MM.yy',
    'dd-MM-yy',
    'd.M.yy',
    'd/M/yy',
    'M/d/yy',
    'yyMMdd',
  ],
  ...[
    'd MMM yyyy',
    'dd MMM yyyy',
    'd MMMM yyyy',
    'dd MMMM yyyy',
    'MMM d, yyyy',
    'MMMM d, yyyy',
    'd-MMM-yyyy',
    'dd-MMM-yyyy',
    'd-MMM-yy',
    'dd-MMM-yy',
  ],
  ...[
    'MMM d yyyy',
    'MMMM d yyyy',
    'd. MMMM yyyy',
    'd MMM yy',
    'EEEE d MMMM yyyy',
    'EEE d MMM yyyy',
    'EEEE, MMMM d, yyyy',
    'EEEE, d MMMM yyyy',
  ],
]
/** Patterns of parts of a date. */
const PARTS_OF_DATES = [
  ...[
    'yyyy',
    'yy',
    'MM',
    'dd',
    'MMMM',
    'MMM',
    'EEEE',
    'EEE',
    'yyyy-MM',
    'MM/yyyy',
    'MM.yyyy',
    'yyyyMM',
    'MMM yyyy',
    'MMMM yyyy',
    'MMM yy',
    'MM-yyyy',
  ],
  ...['d MMM', 'd MMMM', 'MMM d', 'MMMM d', 'dd/MM', 'MM/dd', 'dd.MM.', 'EEE d', 'd', 'M', 'MM-dd'],
]
const TIMES = ['HH:mm', 'HH:mm:ss', 'H:mm', 'HH', 'mm', "HH'h'mm", 'HHmm', 'h:mm a']

/** A date or date-time as text, in the patterns that people use. */
export function textsOfDate({ writer }: Task, source: Program): Program[] {
  const hasTime = source.type === 'datetime'
  const forms = [...DATE_FORMS, ...PARTS_OF_DATES]
  const timed = hasTime ? [...TIMES, ...DATE_FORMS.slice(0, 14).flatMap((form) => [`${form} HH:mm`, `${form} HH:mm:ss`])] : []
  return [...forms, ...timed].map((form) => writer.call('text', [source, writer.constant(form).at(0.6 + 0.02 * form.length)]))
}

/** Dates and date-times that a text stands for in all examples. */
export function datesOfText(task: Task, source: Program): Program[] {
  const { writer, examples } = task
  const found: Program[] = []
  const texts = textsOn(source, examples)
  if (texts === null) return []
  for (const [place, { form, type, looksSo }] of readForms().entries()) {
    if (!texts.every((text) => looksSo.test(text))) continue
    const program = writer.call('parse_date', [source, writer.constant(form).at(0.6)], 0.004 * place, type)
    if (numbersOn(program, examples).every(Number.isFinite)) found.push(program)
  }
  return found
}

/** A pattern that dates are read by. */
interface ReadForm {
  readonly form: string
  readonly type: 'date' | 'datetime'
  readonly looksSo: RegExp
}

let known: readonly ReadForm[] | undefined

/** The patterns that dates are read by, made when they are first asked for: that takes a while. */
function readForms(): readonly ReadForm[] {
  known ??= READ_FORMS.flatMap(readForm)
  return known
}

const READ_FORMS = [
  ...DATE_FORMS,
  ...DATE_FORMS.flatMap((form) => [`${form} HH:mm`, `${form} HH:mm:ss`, `${form}'T'HH:mm`, `${form}'T'HH:mm:ss`]),
]

/** A pattern with what texts look like that are written so: most are told apart by that. */
function readForm(form: string): ReadForm[] {
  const compiled = compileDatePattern(form)
  if ('unreadable' in compiled) return []
  const look = form
    .replaceAll("'", '')
    .replace(/[.]/g, '\\.')
    .replace(/[EM]{3,}/g, '\\p{L}+')
    .replace(/yyyy/g, '\\d{4}')
    .replace(/([dMyHms])\1/g, '\\d\\d')
    .replace(/(?<!\\)[dMH](?![a-z{])/g, '\\d{1,2}')
  return [{ form, type: compiled.hasTime ? 'datetime' : 'date', looksSo: new RegExp(`^${look}$`, 'u') }]
}

const PARTS = ['year', 'month', 'day', 'quarter', 'weekday', 'week', 'day_of_year', 'iso_year', 'days_in_month']
const PARTS_OF_TIME = ['hour', 'minute', 'second']
const UNITS = ['month', 'year', 'week', 'quarter']

/** Numbers that a date has. */
export function numbersOfDate({ writer }: Task, source: Program): Program[] {
  const names = source.type === 'datetime' ? [...PARTS, ...PARTS_OF_TIME] : PARTS
  return names.map((name, place) => writer.call(name, [source], 0.05 * place))
}

/** Numbers that two dates have between them. */
export function numbersBetween({ writer }: Task, from: Program, to: Program): Program[] {
  const whole = ['months_between', 'years_between', 'workdays_between'].map((name) => writer.call(name, [from, to], 0.2))
  const timed = from.type === 'datetime' || to.type === 'datetime' ? ['hour', 'minute'] : ['week']
  const elapsed = timed.map((unit) => writer.call('elapsed', [from, to, writer.constant(unit).at(0.4)], 0.2))
  return [writer.arithmetic('-', to, from), ...whole, ...elapsed]
}

/** Dates that are found from a date alone: beginnings and ends of periods, its day. */
export function datesOfDate({ writer }: Task, source: Program): Program[] {
  const periods = UNITS.flatMap((unit, place) =>
    ['start_of', 'end_of'].map((name) => writer.call(name, [source, writer.constant(unit).at(0.4)], 0.05 * place)),
  )
  return source.type === 'datetime' ? [writer.call('date_of', [source]), ...periods] : periods
}

/** The functions that put a date off, with what one of theirs is in days, about. */
export const SHIFTS = [
  { name: 'add_months', days: 30.44 },
  { name: 'add_years', days: 365.25 },
  { name: 'add_workdays', days: 1.4 },
] as const
