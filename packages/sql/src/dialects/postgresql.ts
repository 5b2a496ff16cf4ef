import { costly, risky, sql, type Term } from '../terms/index.js'
import { type Dialect, type Helper, type StoredKind, TYPES } from './dialect.js'

/** 2 to a power, as it is written in a statement. */
const two = (exponent: number): string => `'${2 ** exponent}'::float8`

/** Types whose values are what their name says. */
const KINDS: Readonly<Record<string, StoredKind>> = {
  smallint: { kind: 'whole', bits: 15 },
  integer: { kind: 'whole', bits: 31 },
  bigint: { kind: 'whole', bits: 63 },
  numeric: { kind: 'any-decimal' },
  real: { kind: 'binary32' },
  'double precision': { kind: 'binary64' },
  boolean: { kind: 'boolean' },
  date: { kind: 'date' },
  'timestamp without time zone': { kind: 'datetime' },
  'timestamp with time zone': { kind: 'moment' },
  ...Object.fromEntries(['text', 'name', 'uuid', 'enum', 'citext', '"char"'].map((type) => [type, { kind: 'text' }])),
}

/** A function that is one expression. */
const expression = (name: string, parameters: string, result: string, body: string): string =>
  `create function ${name}(${parameters}) returns ${result} language sql immutable strict parallel safe as $body$ select ${body} $body$`

/** A function that goes step by step. */
const steps = (name: string, parameters: string, result: string, body: string): string =>
  `create function ${name}(${parameters}) returns ${result} language plpgsql immutable strict parallel safe as $body$\n${body}\n$body$`

const HELPERS: Readonly<Record<string, Helper>> = {
  // A sum that may be beyond range: halves of its parts are not.
  plus: {
    create: (name) =>
      expression(
        name('plus'),
        'a float8, b float8',
        'float8',
        `case when abs(a) < 1 or abs(b) < 1 or abs(a / 2 + b / 2) < ${two(1023)} then a + b end`,
      ),
  },
  // Products and quotients at the ends of the range: scaled by powers of two, which is exact, they say whether they are in it.
  times: {
    create: (name) =>
      expression(
        name('times'),
        'a float8, b float8',
        'float8',
        `case
  when a = 0 or b = 0 then 0
  when least(abs(a), abs(b)) >= 1 then case when (abs(a) * ${two(-512)}) * (abs(b) * ${two(-512)}) < 1 then a * b end
  when greatest(abs(a), abs(b)) < 1 and least(abs(a), abs(b)) < ${two(-400)}
    then case when (abs(a) * ${two(537)}) * (abs(b) * ${two(537)}) > 0.5 then a * b else 0 end
  else a * b end`,
      ),
  },
  ratio: {
    create: (name) =>
      expression(
        name('ratio'),
        'a float8, b float8',
        'float8',
        `case
  when b = 0 then null
  when a = 0 then 0
  when abs(b) < 1 and abs(a) > ${two(-400)} then case when (abs(a) * ${two(-537)}) / (abs(b) * ${two(537)}) < ${two(-50)} then a / b end
  when abs(b) >= 1 and abs(a) < 1 and (abs(a) < ${two(-100)} or abs(b) > ${two(100)})
    then case when (abs(a) * ${two(537)}) / (abs(b) * ${two(-537)}) > 0.5 then a / b else 0 end
  else a / b end`,
      ),
  },
  power_of: {
    needs: ['times', 'ratio'],
    create: (name) =>
      steps(
        name('power_of'),
        'base float8, exponent float8',
        'float8',
        `declare
  result float8;
  square float8;
  rest float8;
  half float8;
begin
  if base = 0 and exponent < 0 then return null; end if;
  if exponent <> floor(exponent) then
    if base < 0 then return null; end if;
    if base = 0 or base = 1 then return base; end if;
    if exponent * ln(base) < -745.2 then return 0; end if;
    if exponent * ln(base) > 709.782712893384 then return null; end if;
    return power(base, exponent);
  end if;
  result := 1;
  square := base;
  rest := abs(exponent);
  while rest > 0 loop
    if rest - 2 * floor(rest / 2) = 1 then result := ${name('times')}(result, square); end if;
    rest := floor(rest / 2);
    if rest > 0 then square := ${name('times')}(square, square); end if;
  end loop;
  if exponent >= 0 then return result; end if;
  if result is not null then return ${name('ratio')}(1, result); end if;
  half := floor(-exponent / 2);
  result := ${name('power_of')}(base, half);
  square := ${name('power_of')}(base, -exponent - half);
  if result is null or square is null then return 0; end if;
  return ${name('ratio')}(${name('ratio')}(1, result), square);
end`,
      ),
  },
  // The rest of a division, exactly: by taking away the largest doubled divisor that fits (IEEE 754, remainder toward zero).
  remainder: {
    create: (name) =>
      steps(
        name('remainder'),
        'a float8, b float8',
        'float8',
        `declare
  rest float8 := abs(a);
  size float8 := abs(b);
  part float8;
begin
  if size = 0 then return null; end if;
  while rest >= size loop
    part := size;
    while part <= rest - part loop part := part * 2; end loop;
    rest := rest - part;
  end loop;
  return case when a < 0 then - rest else rest end;
end`,
      ),
  },
  // Rounding on the shortest decimal that a number prints as.
  rounded: { create: (name) => rounding(name('rounded'), 'round(abs(x)::text::numeric, places)') },
  rounded_away: { create: (name) => rounding(name('rounded_away'), awayFrom('ceil')) },
  rounded_toward: { create: (name) => rounding(name('rounded_toward'), awayFrom('floor')) },
  round_to_step: {
    create: (name) =>
      steps(
        name('round_to_step'),
        'x float8, step float8',
        'float8',
        `declare
  unit numeric;
  made numeric;
begin
  if step = 0 then return null; end if;
  unit := abs(step)::text::numeric;
  made := floor((2 * abs(x)::text::numeric + unit) / (2 * unit)) * unit;
  -- A quotient of numerics is rounded: it is set right by what is left over.
  if made * 2 > 2 * abs(x)::text::numeric + unit then made := made - unit; end if;
  if made * 2 + unit <= 2 * abs(x)::text::numeric then made := made + unit; end if;
  if made > 1.7976931348623157e308 then return null; end if;
  return sign(x) * made::float8;
end`,
      ),
  },
  gcd_of: { create: (name) => expression(name('gcd_of'), 'a float8, b float8', 'float8', 'gcd(a::bigint, b::bigint)::float8') },
  lcm_of: {
    create: (name) =>
      expression(name('lcm_of'), 'a float8, b float8', 'float8', 'lcm(a::bigint::numeric, b::bigint::numeric)::float8'),
  },
  // The number that a text is; null where it is none.
  number_of: {
    create: (name) =>
      steps(
        name('number_of'),
        't text',
        'float8',
        `declare
  made float8;
begin
  if t !~ '^[+-]?([0-9]+[.]?[0-9]*|[.][0-9]+)([eE][+-]?[0-9]+)?$' then return null; end if;
  if t ~ '^[+-]?[0-9]+$' and abs(t::numeric) > 9007199254740992 then return null; end if;
  begin
    made := t::float8;
  exception when numeric_value_out_of_range then
    -- Too near to zero is zero; too far from it is no number.
    return case when t ~ '[eE]-' or t ~ '^[+-]?0*[.]' then 0 end;
  end;
  return made;
end`,
      ),
  },
  // A number as a reader sees it: whole ones in full, others to 15 digits, of two decimals equally near the one farther from zero.
  // Powers of ten as they are written: the engine rounds those that it calculates.
  shown: {
    create: (name) =>
      steps(
        name('shown'),
        'x float8',
        'text',
        `declare
  shortest numeric;
  made numeric;
  places int;
  digits text;
  exponent int;
begin
  if x = 0 then return '0'; end if;
  if x = floor(x) and abs(x) <= 9007199254740992 then return x::bigint::text; end if;
  if abs(x) < 1e-300 then return (case when x < 0 then '-' else '' end) || ((abs(x)::numeric)::float8)::text; end if;
  shortest := abs(x)::text::numeric;
  exponent := floor(log(shortest))::int;
  if shortest >= ('1e' || exponent + 1)::numeric then exponent := exponent + 1; end if;
  if shortest < ('1e' || exponent)::numeric then exponent := exponent - 1; end if;
  places := 14 - exponent;
  made := round(abs(x)::numeric, places);
  -- Where the decimal ends in a 5 after 15 digits, it may lie exactly between two.
  if abs(shortest - made) * 2 = ('1e' || -places)::numeric and shortest > made
    and (places < 0 or mod(shortest * ('1e' || places + 1)::numeric, 5.0 ^ least(places + 1, 400)) = 0) then
    made := made + ('1e' || -places)::numeric;
  end if;
  exponent := floor(log(made))::int;
  if made >= ('1e' || exponent + 1)::numeric then exponent := exponent + 1; end if;
  if exponent >= 21 or exponent < -6 then
    digits := trim_scale(round(made * ('1e' || -exponent)::numeric, 14))::text;
    digits := digits || 'e' || case when exponent < 0 then '-' else '+' end || abs(exponent)::text;
  else
    digits := trim_scale(round(made, greatest(places, 0)))::text;
  end if;
  return case when x < 0 then '-' else '' end || digits;
end`,
      ),
  },
  shown_time: {
    create: (name) =>
      expression(
        name('shown_time'),
        't timestamp',
        'text',
        `to_char(t, 'YYYY-MM-DD"T"HH24:MI:SS') || case when date_trunc('second', t) = t then '' else '.' || rtrim(to_char(t, 'MS'), '0') end`,
      ),
  },
  // The length of a text in UTF-16 units; a character beyond the first plane has two.
  units_of: {
    create: (name) =>
      expression(
        name('units_of'),
        't text',
        'float8',
        `(length(t) + length(t) - length(regexp_replace(t, '[\\U00010000-\\U0010FFFF]', '', 'g')))::float8`,
      ),
  },
  is_too_long: {
    needs: ['units_of'],
    isRare: true,
    create: (name) =>
      expression(
        name('is_too_long'),
        't text',
        'boolean',
        `case when octet_length(t) <= 1000000 then false else ${name('units_of')}(t) > 1000000 end`,
      ),
  },
  // Whole months between: as many as can be added to the earlier without passing the later.
  months_apart: {
    create: (name) =>
      steps(
        name('months_apart'),
        'a timestamp, b timestamp',
        'float8',
        `declare
  months int;
begin
  if b < a then return - ${name('months_apart')}(b, a); end if;
  months := ((date_part('year', b) - date_part('year', a)) * 12 + date_part('month', b) - date_part('month', a))::int;
  if a + make_interval(months => months) > b then months := months - 1; end if;
  return months;
end`,
      ),
  },
}

function rounding(name: string, rounded: string): string {
  return steps(
    name,
    'x float8, digits float8',
    'float8',
    `declare
  places int;
  made numeric;
begin
  if digits <> floor(digits) then return null; end if;
  places := greatest(least(digits, 1100), -1100)::int;
  made := ${rounded};
  if made > 1.7976931348623158e308 then return null; end if;
  return sign(x) * made::float8;
end`,
  )
}

function awayFrom(to: 'ceil' | 'floor'): string {
  return `case when places >= 0
    then ${to}(abs(x)::text::numeric * 10::numeric ^ places) / 10::numeric ^ places
    else ${to}(abs(x)::text::numeric / 10::numeric ^ (- places)) * 10::numeric ^ (- places) end`
}

/** PostgreSQL 15 and later. */
export const POSTGRESQL: Dialect = {
  name: 'postgresql',
  title: 'PostgreSQL',
  failsBeyondRange: true,
  roundsByConstants: false,
  mostNameBytes: 63,
  calculatesTwice: true,
  joinsBlanks: false,
  hasIndexes: true,
  // A row that stays on its page leaves the indexes as they are.
  roomForChanges: ' with (fillfactor = 80)',
  hasTriggers: true,
  beginAtOneMoment: 'begin isolation level repeatable read',
  beginReading: 'begin isolation level repeatable read, read only',
  types: TYPES,
  kindOf: (type) => {
    const bare = type.replace(/\(\d+\)(?= with|$)/, '')
    if (/^character( varying)?$/.test(bare)) return { kind: 'text' }
    const decimal = /^numeric\((\d+),(-?\d+)\)$/.exec(type)
    if (decimal !== null) return { kind: 'decimal', digits: Number(decimal[1]), behind: Number(decimal[2]) }
    return KINDS[bare] ?? null
  },
  // The engine reads the digits, so that it rounds once.
  nearestNumber: (decimal) => `cast(${decimal} as float8)`,
  asText: (value) => `(cast(${value} as text) collate "C")`,
  helpers: HELPERS,
  lacks: {
    matches: 'its patterns are of another kind',
    capture: 'its patterns are of another kind',
    replace_pattern: 'its patterns are of another kind',
  },
  quote: (name) => `"${name.replaceAll('"', '""')}"`,
  // It takes an inner select into the outer one, and so would calculate a column as often as it is read.
  fence: ' offset 0',
  mostRepeated: 16,
  isFinite: (value) => sql`(abs(${value}) < 'infinity'::float8)`,
  ordered: (text) => sql`(${text} collate "C")`,
  dayNumber: (date) => sql`cast(${date} - date '1970-01-01' as float8)`,
  moment: (datetime) => sql`round(date_part('epoch', ${datetime}) * 1000)`,
  dateOfDay: (day) => risky`(date '1970-01-01' + cast(${day} as int))`,
  timeOfMoment: (ms) => {
    const day = sql`floor(${ms} / 86400000)`
    // A date-time is counted in millionths: in one step a long interval would lose some.
    return risky`((date '1970-01-01' + cast(${day} as int)) + (${ms} - ${day} * 86400000) * interval '1 millisecond')`
  },
  plusMonths: (date, months, type) => risky`cast(${date} + make_interval(months => ${months}) as ${TYPES[type]})`,
  isoDate: (date) => sql`to_char(${date}, 'YYYY-MM-DD')`,
  graphemes: null,
  unlessByZero: (a, b, write) => write`(${a} / nullif(${b}, 0))`,
  byteLength: (text) => sql`octet_length(${text})`,
  cased: (to, text) => sql`(${to}(${text} collate "und-x-icu") collate "C")`,
  trimmed: (text, characters) => sql`btrim(${text}, ${characterList(characters)})`,
  singleSpaces: (text, characters) => {
    const list = characterList(characters)
    return sql`btrim(regexp_replace(${text}, '[' || ${list} || ']+', ' ', 'g'), ${list})`
  },
  pieces: (text, separator) => sql`(case when ${text} = '' then array[''] else string_to_array(${text}, ${separator}) end)`,
  pieceAt: (pieces, place) =>
    sql`(${pieces})[case when ${place} > 0 then ${place} else cardinality(${pieces}) + 1 + ${place} end]`,
  elementOf: (values, place) => sql`(array[${values.join(', ')}])[${place}]`,
  bitsSummedAsStored: 32,
  commonFrame: ' rows between unbounded preceding and current row',
  wholeSum: (value, more) => `cast(sum(cast(${value} as bigint))${more} as float8)`,
  plainSum: (value, more) => `sum(${value})${more}`,
  firstInOrder: (value, order, condition) => `(array_agg(${value} order by ${order}) filter (where ${condition}))[1]`,
  quantile: (value, share) => `percentile_disc(0.5) within group (order by ${value}${share === 'lower' ? '' : ' desc'})`,
  percentile: (value, share) => `percentile_cont(${share}) within group (order by ${value})`,
  commonest: (value) => `mode() within group (order by ${value})`,
  joinedTexts: (value, separator, order) => `string_agg(${value}, ${separator} order by ${order})`,
  listOf: (value) => `array_agg(distinct ${value})`,
  daysUpTo: (list, day, weekend) => {
    const isWorking = weekend.length === 0 ? '' : ` and date_part('isodow', h.d) not in (${weekend.join(', ')})`
    return costly`cast((select count(*) from unnest(${list}) as h(d) where h.d <= ${day}${isWorking}) as float8)`
  },
  hasDay: (list, day) => sql`coalesce(${day} = any(${list}), false)`,
  someTrue: (value) => `bool_or(${value})`,
}

function characterList(characters: string): Term {
  const codes = [...characters].map((one) => `\\${(one.codePointAt(0) as number).toString(16).padStart(4, '0')}`)
  return sql`${`U&'${codes.join('')}'`}`
}
