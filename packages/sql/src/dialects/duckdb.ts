import { asStored, costly, risky, sql } from '../terms/index.js'
import { type Dialect, type Helper, type StoredKind, TYPES } from './dialect.js'

/** Types whose values are what their name says. */
const KINDS: Readonly<Record<string, StoredKind>> = {
  TINYINT: { kind: 'whole', bits: 7 },
  UTINYINT: { kind: 'whole', bits: 8 },
  SMALLINT: { kind: 'whole', bits: 15 },
  USMALLINT: { kind: 'whole', bits: 16 },
  INTEGER: { kind: 'whole', bits: 31 },
  UINTEGER: { kind: 'whole', bits: 32 },
  BIGINT: { kind: 'whole', bits: 63 },
  UBIGINT: { kind: 'whole', bits: 64 },
  HUGEINT: { kind: 'whole', bits: 127 },
  UHUGEINT: { kind: 'whole', bits: 128 },
  FLOAT: { kind: 'binary32' },
  DOUBLE: { kind: 'binary64' },
  BOOLEAN: { kind: 'boolean' },
  DATE: { kind: 'date' },
  ...Object.fromEntries(['TIMESTAMP', 'TIMESTAMP_S', 'TIMESTAMP_MS', 'TIMESTAMP_NS'].map((type) => [type, { kind: 'datetime' }])),
  'TIMESTAMP WITH TIME ZONE': { kind: 'moment' },
  VARCHAR: { kind: 'text' },
  UUID: { kind: 'text' },
}

/** Digits of a whole number that binary64 holds whatever they are. */
const EXACT_DIGITS = 15

/** A function that is one expression. */
const expression = (name: string, parameters: string, body: string): string => `create macro ${name}(${parameters}) as (${body})`

/** A shortest decimal that the engine can hold, by the size of the number: 17 digits of it always fit. */
const DECIMALS = [
  ['1e7', 30],
  ['1e17', 20],
  ['1e37', 0],
] as const

const HELPERS: Readonly<Record<string, Helper>> = {
  // The engine's own rest of a division is exact.
  remainder: { create: (name) => expression(name('remainder'), 'a, b', 'case when b <> 0 then a % b end') },
  rounded: {
    create: (name) =>
      expression(
        name('rounded'),
        'x, digits',
        rounded((decimal) => `round(${decimal}, digits)`),
      ),
  },
  rounded_away: {
    create: (name) =>
      expression(
        name('rounded_away'),
        'x, digits',
        rounded((decimal) => away(decimal, 'ceil')),
      ),
  },
  rounded_toward: {
    create: (name) =>
      expression(
        name('rounded_toward'),
        'x, digits',
        rounded((decimal) => away(decimal, 'floor')),
      ),
  },
  gcd_of: {
    create: (name) => expression(name('gcd_of'), 'a, b', 'cast(gcd(try_cast(a as bigint), try_cast(b as bigint)) as float8)'),
  },
  number_of: {
    create: (name) =>
      expression(
        name('number_of'),
        't',
        `case
  when not regexp_full_match(t, '[+-]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][+-]?[0-9]+)?') then null
  when regexp_full_match(t, '[+-]?[0-9]+') and (length(ltrim(t, '+-0')) > 16 or abs(try_cast(t as hugeint)) > 9007199254740992) then null
  when isfinite(try_cast(t as float8)) then try_cast(t as float8) + 0.0::float8 end`,
      ),
  },
  // A number as a reader sees it: whole ones in full, others to 15 digits.
  shown: {
    needs: ['shown_digits'],
    create: (name) =>
      expression(
        name('shown'),
        'x',
        `case
  when x = 0 then '0'
  when x = floor(x) and abs(x) <= 9007199254740992 then cast(try_cast(x as bigint) as text)
  when abs(x) < 1e-300 then cast(cast(format('{:.14e}', x) as float8) as text)
  else case when x < 0 then '-' else '' end
    || ${name('shown_digits')}(rtrim(replace(string_split(format('{:.14e}', abs(x)), 'e')[1], '.', ''), '0'), cast(string_split(format('{:.14e}', abs(x)), 'e')[2] as int))
  end`,
      ),
  },
  // The digits of a number and the place of the first of them, as text.
  shown_digits: {
    create: (name) =>
      expression(
        name('shown_digits'),
        'digits, place',
        `case
  when place >= 21 or place < -6 then left(digits, 1) || case when length(digits) > 1 then '.' || substr(digits, 2) else '' end
    || 'e' || case when place < 0 then '-' else '+' end || cast(abs(place) as text)
  when place < 0 then '0.' || repeat('0', - place - 1) || digits
  when place >= length(digits) - 1 then digits || repeat('0', place - length(digits) + 1)
  else left(digits, place + 1) || '.' || substr(digits, place + 2) end`,
      ),
  },
  shown_time: {
    create: (name) =>
      expression(
        name('shown_time'),
        't',
        `strftime(t, '%Y-%m-%dT%H:%M:%S') || case when date_trunc('second', t) = t then '' else '.' || rtrim(strftime(t, '%g'), '0') end`,
      ),
  },
  units_of: {
    create: (name) =>
      expression(
        name('units_of'),
        't',
        `cast(length(t) + length(t) - length(regexp_replace(t, '[\\x{10000}-\\x{10FFFF}]', '', 'g')) as float8)`,
      ),
  },
  is_too_long: {
    needs: ['units_of'],
    isRare: true,
    create: (name) =>
      expression(name('is_too_long'), 't', `case when strlen(t) <= 1000000 then false else ${name('units_of')}(t) > 1000000 end`),
  },
  months_apart: {
    create: (name) =>
      expression(
        name('months_apart'),
        'a, b',
        `case when b >= a then months_from(a, b) else - months_from(b, a) end`.replaceAll('months_from', name('months_from')),
      ),
    needs: ['months_from'],
  },
  months_from: {
    create: (name) =>
      expression(
        name('months_from'),
        'a, b',
        `cast((year(b) - year(a)) * 12 + month(b) - month(a)
  - case when a + to_months(cast((year(b) - year(a)) * 12 + month(b) - month(a) as int)) > b then 1 else 0 end as float8)`,
      ),
  },
}

/** Rounds the shortest decimal that a number prints as, as a decimal that has room for it; a larger number has no fraction. */
function rounded(round: (decimal: string) => string): string {
  const cases = DECIMALS.map(([most, scale]) => {
    const decimal = `cast(cast(abs(x) as text) as decimal(38, ${scale}))`
    return `when abs(x) < ${most} then sign(x) * cast(cast(${round(decimal)} as text) as float8)`
  })
  return `case ${cases.join('\n')} else x end`
}

function away(decimal: string, to: 'ceil' | 'floor'): string {
  const rest = `round(${decimal}, digits)`
  const unit = `cast(pow(10, - digits) as decimal(38, 15))`
  return to === 'ceil'
    ? `case when ${rest} < ${decimal} or (${rest} = 0 and x <> 0) then ${rest} + ${unit} else ${rest} end`
    : `case when ${rest} > ${decimal} then ${rest} - ${unit} else ${rest} end`
}

/** DuckDB 1.4 and later. */
export const DUCKDB: Dialect = {
  name: 'duckdb',
  title: 'DuckDB',
  failsBeyondRange: false,
  roundsByConstants: true,
  mostNameBytes: 10_000,
  calculatesTwice: false,
  joinsBlanks: true,
  hasIndexes: false,
  roomForChanges: '',
  hasTriggers: false,
  beginAtOneMoment: 'begin',
  beginReading: 'begin',
  types: TYPES,
  kindOf: (type) => {
    const decimal = /^DECIMAL\((\d+),(\d+)\)$/.exec(type)
    if (decimal !== null) return { kind: 'decimal', digits: Number(decimal[1]), behind: Number(decimal[2]) }
    return type.startsWith('ENUM(') ? { kind: 'text' } : (KINDS[type] ?? null)
  },
  // Decimals of more digits are rounded twice by a cast.
  nearestNumber: (decimal, digits) =>
    digits <= EXACT_DIGITS ? `cast(${decimal} as float8)` : `cast(cast(${decimal} as varchar) as float8)`,
  asText: (value) => `cast(${value} as varchar)`,
  helpers: HELPERS,
  lacks: {
    round_to: 'its decimals are too short',
    lcm: 'its whole numbers are too small',
    upper: 'it changes case letter by letter',
    lower: 'it changes case letter by letter',
  },
  quote: (name) => `"${name.replaceAll('"', '""')}"`,
  fence: '',
  mostRepeated: 2,
  isFinite: (value) => sql`isfinite(${value})`,
  ordered: (text) => text,
  dayNumber: (date) => sql`cast(${date} - date '1970-01-01' as float8)`,
  moment: (datetime) => sql`cast(epoch_ms(${datetime}) as float8)`,
  dateOfDay: (day) => risky`(date '1970-01-01' + cast(${day} as int))`,
  timeOfMoment: (ms) => risky`make_timestamp(cast(${ms} as bigint) * 1000)`,
  plusMonths: (date, months, type) => risky`cast(${date} + to_months(${months}) as ${TYPES[type]})`,
  isoDate: (date) => sql`strftime(${date}, '%Y-%m-%d')`,
  graphemes: {
    length: (text) => sql`cast(length_grapheme(${text}) as float8)`,
    left: (text, count) => sql`left_grapheme(${text}, ${count})`,
    right: (text, count) => sql`case when ${count} = 0 then left(${text}, 0) else right_grapheme(${text}, ${count}) end`,
    part: (text, place, count) => sql`substring_grapheme(${text}, ${place}, ${count})`,
    reversed: (text) => sql`reverse(${text})`,
  },
  // Faster there than nullif.
  unlessByZero: (a, b, write) => write`case when ${asStored(b)} <> 0 then ${a} / ${b} end`,
  byteLength: (text) => sql`strlen(${text})`,
  cased: (to, text) => sql`${to}(${text})`,
  trimmed: (text, characters) => sql`trim(${text}, ${characterList(characters)})`,
  singleSpaces: (text, characters) => sql`trim(regexp_replace(${text}, ${`'[${characterClass(characters)}]+'`}, ' ', 'g'), ' ')`,
  pieces: (text, separator) => sql`(case when ${separator} = '' then [${text}] else string_split(${text}, ${separator}) end)`,
  pieceAt: (pieces, place) => sql`(${pieces})[${place}]`,
  elementOf: (values, place) => sql`([${values.join(', ')}])[${place}]`,
  bitsSummedAsStored: 0,
  commonFrame: '',
  wholeSum: (value, more) => `cast(sum(cast(${value} as bigint))${more} as float8)`,
  plainSum: (value, more) => `sum(${value})${more}`,
  firstInOrder: (value, order, condition) => `first(${value} order by ${order}) filter (where ${condition})`,
  quantile: (value, share) => {
    const list = `list_sort(list(${value}) filter (where ${value} is not null))`
    return share === 'lower' ? `(${list})[(len(${list}) + 1) // 2]` : `(${list})[len(${list}) // 2 + 1]`
  },
  percentile: (value, share) => `quantile_cont(${value}, ${share})`,
  commonest: (value) => {
    const entries = `map_entries(histogram(${value}))`
    return `list_reduce(${entries}, (a, b) -> case when b.value > a.value or (b.value = a.value and b.key < a.key) then b else a end).key`
  },
  joinedTexts: (value, separator, order) => `string_agg(${value}, ${separator} order by ${order})`,
  listOf: (value) => `list(distinct ${value})`,
  daysUpTo: (list, day, weekend) => {
    const isWorking = weekend.length === 0 ? '' : ` and isodow(d) not in (${weekend.join(', ')})`
    return costly`cast(coalesce(len(list_filter(${list}, lambda d: d <= ${day}${isWorking})), 0) as float8)`
  },
  hasDay: (list, day) => sql`coalesce(list_contains(${list}, ${day}), false)`,
  someTrue: (value) => `bool_or(${value})`,
}

function characterList(characters: string): string {
  return `'${characters.replaceAll("'", "''")}'`
}

function characterClass(characters: string): string {
  return [...characters].map((one) => `\\x{${(one.codePointAt(0) as number).toString(16)}}`).join('')
}
