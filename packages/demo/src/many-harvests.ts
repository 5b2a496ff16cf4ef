import { YARDS } from './yards.js'

/** The engines that the statements are for. */
type Engine = 'duckdb' | 'postgresql'

/** Hives of the database: each has the more harvests, the more harvests there are. */
const HIVES = 20_000
/** One harvest of so many has no combs counted: so few that a sample hardly ever has one. */
const UNCOUNTED = 400_000

/**
 * Statements that make a database of the co-operative as it would be after many years: apiaries, twenty thousand hives, and so
 * many harvests, in the schema that is there, each with the moment when it was entered or changed last. The same numbers make the
 * same rows.
 *
 * @param count - how many harvests
 */
export function manyHarvests(count: number, engine: Engine): string[] {
  const numbers = (many: number): string =>
    engine === 'duckdb' ? `range(${many}) as r(i)` : `generate_series(0, ${many - 1}) as r(i)`
  const rest = (factor: number, of: number): string => `(cast(i as bigint) * ${factor} % ${of})`
  const codes = YARDS.map(([code]) => `'${code}'`).join(', ')
  const list = engine === 'duckdb' ? `[${codes}]` : `(array[${codes}])`
  const forage =
    engine === 'duckdb' ? "['willow', 'clover', 'lime', 'heather']" : "(array['willow', 'clover', 'lime', 'heather'])"
  const day = `date '2000-04-01' + cast(${rest(31, 9_400)} as integer)`
  const text = (number: string, digits: number): string => `lpad(cast(${number} as text), ${digits}, '0')`
  return [
    'create table apiaries (code text primary key, name text not null, landscape text not null)',
    `insert into apiaries values ${YARDS.map(([code, name, landscape]) => `('${code}', '${name}', '${landscape}')`).join(', ')}`,
    'create table hives (tag text primary key, yard text not null, frames integer not null)',
    `insert into hives
select 'H-' || ${text('i', 5)}, ${list}[1 + i % ${YARDS.length}], 8 + ${rest(7, 5)}
from ${numbers(HIVES)}`,
    'create table harvests (id bigint primary key, hive text not null, day date not null, forage text not null, combs integer not null, honey_kg numeric(6,2), moisture numeric(4,1) not null, entered timestamp not null)',
    `insert into harvests
select i, 'H-' || ${text(rest(7919, HIVES), 5)}, ${day}, ${forage}[1 + ${rest(13, 4)}], case when i % ${UNCOUNTED} = 11 then 0 else 4 + ${rest(3, 7)} end,
  case when ${rest(17, 1_000)} = 3 then null else cast(${rest(7_907, 3_200)} as numeric(6,2)) / 100 end, cast(155 + ${rest(11, 50)} as numeric(6,1)) / 10, cast(${day} as timestamp)
from ${numbers(count)}`,
  ]
}
