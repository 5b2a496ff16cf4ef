import fc from 'fast-check'
import { NUMBER_PATTERNS } from './oracle-functions.js'

/** Formulas of each type over the columns a, b, w (numbers; w has misfits), t, u (texts), d (date), m (date-time), ok (boolean). */
export interface RandomFormulas {
  readonly number: fc.Arbitrary<string>
  readonly text: fc.Arbitrary<string>
  readonly boolean: fc.Arbitrary<string>
  readonly date: fc.Arbitrary<string>
}

const form = (parts: TemplateStringsArray, ...holes: fc.Arbitrary<string>[]): fc.Arbitrary<string> =>
  fc.tuple(...holes).map((filled) => parts.reduce((text, part, index) => text + part + (filled[index] ?? ''), ''))

/** Well-typed random formulas; `columns` are further number columns that may be read. */
export function randomFormulas(columns: readonly string[] = []): RandomFormulas {
  return fc.letrec<{ number: string; text: string; boolean: string; date: string }>((tie) => {
    const n = tie('number')
    const t = tie('text')
    const c = tie('boolean')
    const d = tie('date')
    const small = fc.constantFrom('0', '1', '2', '-1', '3', '0.5')
    const arithmetic = fc.constantFrom('+', '-', '*', '/', 'per')
    const comparison = fc.constantFrom('=', '<>', '<', '<=', '>', '>=')
    // One depth for all types together: counted apart, a formula that goes from type to type would never end.
    const depth = { depthSize: 'small' as const, maxDepth: 5, depthIdentifier: fc.createDepthIdentifier(), withCrossShrink: true }
    const choice = (of: fc.Arbitrary<string>): fc.Arbitrary<string>[] => [
      form`if(${c}, ${of}, ${of})`,
      form`case when ${c} then ${of} when ${c} then ${of} end`,
      form`case when ${c} then ${of} else ${of} end`,
      form`case ${n} when ${n} then ${of} when ${small} then ${of} else ${of} end`,
      form`coalesce(${of}, ${of}, ${of})`,
      form`if_error(${of}, ${of})`,
      form`blank_if(${of}, ${of})`,
      form`(${of} ?? ${of})`,
      form`(let s = ${of} in if(${c}, s, s ?? ${of}))`,
    ]
    return {
      number: fc.oneof(
        depth,
        fc.constantFrom('a', 'b', 'w', 'blank', '0', '1', '2', '-1', '0.1', '2.5', '1e308', '5e-324', '12%', '300', ...columns),
        form`(${n} ${arithmetic} ${n})`,
        form`(${n} ${arithmetic} ${n} ${arithmetic} ${n})`,
        form`(-${n})`,
        form`(${n} ^ ${small})`,
        form`${fc.constantFrom('abs', 'sign', 'sqrt', 'floor', 'ceiling', 'truncate', 'round')}(${n})`,
        form`round(${n}, ${fc.constantFrom('0', '1', '2', '-1')})`,
        form`${fc.constantFrom('mod', 'quotient')}(${n}, ${n})`,
        form`${fc.constantFrom('round_up', 'round_down')}(${n}, ${fc.constantFrom('0', '1', '-1')})`,
        form`round_to(${n}, ${fc.constantFrom('1', '0.25', '5', '0', '0.1')})`,
        form`power(${n}, ${small})`,
        form`${fc.constantFrom('log10', 'log2', 'ln', 'exp', 'sinh', 'tanh', 'atan', 'degrees', 'radians', 'factorial')}(${n})`,
        form`log(${n}, ${small})`,
        form`${fc.constantFrom('gcd', 'lcm')}(${n}, ${n})`,
        form`atan2(${n}, ${n})`,
        form`${fc.constantFrom('sum_of', 'mean_of', 'median_of', 'min_of', 'max_of', 'count_of')}(${n}, ${n}, ${n})`,
        form`${fc.constantFrom('sum_of', 'mean_of', 'median_of', 'max_of')}(${n}, ${n}, blanks as zero)`,
        form`mean_of(#scores, ${n})`,
        form`weighted(${n} at 20%, ${n} at 35%, ${n} at 45%${fc.constantFrom('', ', blanks as zero')})`,
        form`weighted(${n} at 1, ${n} at 0.125)`,
        form`points_of(${n} out of 20, ${n} out of 7.5${fc.constantFrom('', ', blanks as zero')})`,
        form`first_of(${n}, ${n})`,
        form`${fc.constantFrom('quarter', 'week', 'iso_year', 'day_of_year', 'days_in_month')}(${d})`,
        form`${fc.constantFrom('hour', 'minute', 'second')}(m)`,
        form`${fc.constantFrom('months_between', 'years_between', 'workdays_between')}(${d}, ${fc.constantFrom('d', 'm', '@2024-02-29')})`,
        form`workdays_between(${d}, @2026-03-14, ${fc.constantFrom("'fri sat'", "''", "'sun'")})`,
        form`elapsed(${d}, m, ${fc.constantFrom("'year'", "'quarter'", "'week'", "'hour'", "'second'")})`,
        form`position(${t}, ${t})`,
        form`clamp(${n}, ${small}, ${small})`,
        form`length(${t})`,
        form`number(${t})`,
        form`${fc.constantFrom('year', 'month', 'day', 'weekday')}(${d})`,
        form`days_between(${d}, m)`,
        form`(${d} - ${d})`,
        form`(m - ${d})`,
        form`(let s = ${n} in s * s + ${n})`,
        ...choice(n),
      ),
      text: fc.oneof(
        depth,
        fc.constantFrom('t', 'u', "''", "'ab'", "'é🐝'", "'12.5'", 'blank', "' x y '"),
        form`(${t} & ${n})`,
        form`(${t} & ${d} & ${c})`,
        form`${fc.constantFrom('upper', 'lower', 'trim', 'title_case', 'single_spaces', 'reverse')}(${t})`,
        form`substring(${t}, ${small}, ${small})`,
        form`repeat(${t}, ${small})`,
        form`${fc.constantFrom('pad_start', 'pad_end')}(${t}, ${fc.constantFrom('4', '0', '0.5')}, ${fc.constantFrom("'·'", "' '", "''")})`,
        form`capture(${t}, ${fc.constantFrom("'([a-z]+)'", "'b'", "'(a)|(b)', 2")})`,
        form`replace_pattern(${t}, ${fc.constantFrom("'[a-z]'", "'( )'", "'x*'")}, ${fc.constantFrom("'z'", "'$$'", "''")})`,
        form`text(${n}, ${fc.constantFrom(...Object.keys(NUMBER_PATTERNS).map((pattern) => `'${pattern}'`))})`,
        form`${fc.constantFrom('min_of', 'max_of', 'first_of')}(${t}, ${t})`,
        form`${fc.constantFrom('left', 'right')}(${t}, ${small})`,
        form`join('-', ${t}, ${n}, ${d})`,
        form`concat(${t}, ${c})`,
        form`replace(${t}, ${t}, 'z')`,
        form`split_part(${t}, ' ', ${small})`,
        form`word(${t}, ${small})`,
        form`text(${fc.oneof(n, d, c)})`,
        ...choice(t),
      ),
      boolean: fc.oneof(
        depth,
        fc.constantFrom('ok', 'true', 'false', '(a > 1)', '(w < b)'),
        form`(${n} ${comparison} ${n})`,
        form`(${t} ${comparison} ${t})`,
        form`(${d} ${comparison} ${d})`,
        form`(m ${comparison} ${d})`,
        form`(${c} ${fc.constantFrom('=', '<>')} ${c})`,
        form`(${c} and ${c})`,
        form`(${c} or ${c} and ${c})`,
        form`(not ${c})`,
        form`(${n} ${fc.constantFrom('', 'not ')}between ${n} and ${n})`,
        form`(${n} ${fc.constantFrom('', 'not ')}in (${n}, ${n}, 1))`,
        form`(${fc.oneof(n, t, d)} is ${fc.constantFrom('', 'not ')}${fc.constantFrom('blank', 'error')})`,
        form`${fc.constantFrom('contains', 'starts_with', 'ends_with')}(${t}, ${t})`,
        form`is_number(${t})`,
        form`matches(${t}, ${fc.constantFrom("'^[A-Z]'", "'b$'", "' '")})`,
        form`${fc.constantFrom('any_of', 'all_of')}(${c}, ${c}, ${c})`,
        form`is_workday(${d})`,
        form`if(${c}, ${c}, ${c})`,
        form`(${c} ?? ${c})`,
      ),
      date: fc.oneof(
        depth,
        fc.constantFrom('d', '@2026-03-14', '@0001-01-01', '@9999-12-31', 'blank_if(d, d)', 'd'),
        form`(${d} + ${small})`,
        form`(${d} - ${small})`,
        form`${fc.constantFrom('add_days', 'add_months', 'add_years')}(${d}, ${n})`,
        form`add_workdays(${d}, ${small})`,
        form`${fc.constantFrom('start_of', 'end_of')}(${d}, ${fc.constantFrom("'year'", "'quarter'", "'month'", "'week'", "'hour'")})`,
        form`${fc.constantFrom('min_of', 'max_of')}(${d}, ${d})`,
        form`date_of(m)`,
        form`parse_date(${t}, 'd.M.y')`,
        form`date(${n}, ${small}, ${small})`,
        ...choice(d),
      ),
    }
  })
}

/** The source columns that the formulas read, with edge values. */
export const SOURCE_COLUMNS = [
  { name: 'a', type: 'number', tags: ['scores'] },
  { name: 'b', type: 'number', tags: ['scores'] },
  { name: 'w', type: 'number' },
  { name: 't', type: 'text' },
  { name: 'u', type: 'text' },
  { name: 'd', type: 'date' },
  { name: 'm', type: 'datetime' },
  { name: 'ok', type: 'boolean' },
] as const

/** A cell of a source column as operations carry it. */
export type SourceCell = number | string | boolean | null | { misfit: string }

const numbers = fc.constantFrom<SourceCell>(null, 0, 1, -1, 2.5, 1.005, 300, 1e308, -1e308, 5e-324, 1e-300, 2 ** 53, 0.1, 7)
const texts = fc.constantFrom<SourceCell>(
  null,
  '',
  'ab',
  'A b',
  'é🐝',
  '12.5',
  ' x ',
  'Z',
  '14.3.2026',
  "o'dell smith",
  '\uff21',
  '\u{1f41d}',
)

/** A random cell of a source column. */
export function randomCell(column: string): fc.Arbitrary<SourceCell> {
  if (column === 'w') return fc.oneof(numbers, fc.constant<SourceCell>({ misfit: 'about 12' }))
  if (column === 'a' || column === 'b') return numbers
  if (column === 't' || column === 'u') return texts
  if (column === 'd')
    return fc.constantFrom<SourceCell>(null, '2026-03-14', '2028-02-29', '0001-01-01', '9999-12-31', '1969-12-31')
  if (column === 'm')
    return fc.constantFrom<SourceCell>(
      null,
      '2026-03-14T09:30:00',
      '1969-12-31T23:59:59.999',
      '0001-01-01T00:00:00',
      '9999-12-31T23:59:59',
    )
  return fc.constantFrom<SourceCell>(null, true, false)
}

/** A random row. */
export const randomRow: fc.Arbitrary<Record<string, SourceCell>> = fc.record(
  Object.fromEntries(SOURCE_COLUMNS.map(({ name }) => [name, randomCell(name)])) as Record<string, fc.Arbitrary<SourceCell>>,
)
