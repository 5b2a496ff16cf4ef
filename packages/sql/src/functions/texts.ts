import type { ValueType } from 'mellow-abacus'
import { type Graphemes, NoForm } from '../dialects/index.js'
import { fragment, joined, literal, risky, sql, type Term } from '../terms/index.js'
import {
  faultOfKnown,
  faultWhen,
  firstFault,
  isWritten,
  strict,
  textLiteral,
  type Value,
  valueFrom,
  WHOLE,
  type Writing,
} from '../values/index.js'
import type { FunctionCall, FunctionForm } from './form.js'

/** Longest text that a formula may make, in UTF-16 units. */
const LONGEST_TEXT = 1_000_000

/** What JavaScript and the language take for white space. */
const SPACES =
  '\t\n\v\f\r \u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a\u2028\u2029\u202f\u205f\u3000\ufeff'

/** A value as text without a format. */
export function shownText(writing: Writing, of: Value, type: ValueType): Term {
  if (type === 'text') return of.value
  if (type === 'boolean') return sql`case when ${of.value} then 'true' when not ${of.value} then 'false' end`
  if (type === 'date') return writing.dialect.isoDate(of.value)
  if (type === 'datetime') return writing.call('shown_time', of.value)
  if (of.size.grain >= 0 && of.size.high <= 54) return sql`cast(cast(${of.value} as bigint) as ${writing.dialect.types.text})`
  return writing.call('shown', of.value)
}

/**
 * True for a text of more units than a text may have, of which it has no more than bytes.
 *
 * @param bytes - at least how many bytes it has, where that is known without the text
 */
export function isTooLong({ dialect, call }: Writing, text: Term, bytes: Term = dialect.byteLength(text)): Term {
  // No "and", of which DuckDB calculates both sides.
  return sql`case when ${bytes} > ${LONGEST_TEXT} then ${call('is_too_long', text)} else false end`
}

/** Most bytes of a value that is no text, written as one. */
const MOST_BYTES_OF_OTHERS = 100

/** How many bytes texts have one after another, at most. */
function bytesTogether({ dialect }: Writing, parts: readonly { readonly text: Term; readonly type: ValueType }[]): Term {
  const long = parts.filter(({ text, type }) => type === 'text' && !isWritten(text))
  const rest =
    parts.length * MOST_BYTES_OF_OTHERS + parts.reduce((sum, { text }) => sum + (isWritten(text) ? text.text.length * 4 : 0), 0)
  return long.reduce((sum, { text }) => sql`${sum} + coalesce(${dialect.byteLength(text)}, 0)`, literal(String(rest)))
}

/** A text that was made, which may be too long. */
function made(call: FunctionCall, of: readonly Value[], value: Term, bytes?: Term): Value {
  const tooLong = isTooLong(call.writing, value, bytes)
  return strict(of, sql`case when not ${tooLong} then ${value} end`, { own: faultWhen(tooLong, 'too-long') })
}

const isWhole = (x: Term): Term => sql`${x} = floor(${x})`

/** Texts with a separator between them, without the blank ones. */
function joinedBy(call: FunctionCall, separator: Value, parts: readonly { value: Value; type: ValueType }[]): Value {
  const texts = parts.map(({ value, type }) => shownText(call.writing, value, type))
  const isAny = joined(
    texts.map((one) => sql`${one} is not null`),
    ' or ',
  )
  const fault = firstFault([separator.fault, ...parts.map(({ value }) => value.fault)])
  // A text that is written out is always there.
  const isSure = fault === null && isWritten(separator.value) && texts.some(isWritten)
  const pasted =
    separator.value.text === "''"
      ? sql`(${joined(
          texts.map((one) => (isWritten(one) ? one : sql`coalesce(${one}, '')`)),
          ' || ',
        )})`
      : sql`concat_ws(${separator.value}, ${joined(texts, ', ')})`
  const isSound = fault === null ? fragment`` : fragment` and ${fault} is null`
  const all = isSure ? pasted : sql`case when (${isAny}) and ${separator.value} is not null${isSound} then ${pasted} end`
  const of = [separator, ...parts.map(({ value }) => value)]
  if (separator.value.text !== "''" || !call.writing.dialect.calculatesTwice) return made(call, of, all)
  const together = texts.map((text, index) => ({ text, type: parts[index]?.type as ValueType }))
  return made(call, of, all, bytesTogether(call.writing, together))
}

const partsFrom = ({ args, types }: FunctionCall, first: number): { value: Value; type: ValueType }[] =>
  args.slice(first).map((value, index) => ({ value, type: types[first + index] as ValueType }))

/** The piece of a list of texts at a place, from 1 or from the end. */
function piece(call: FunctionCall, of: readonly Value[], pieces: Term, place: Value): Value {
  const fits = sql`${isWhole(place.value)} and ${place.value} <> 0 and abs(${place.value}) < 1000000000`
  const isPlace = sql`${isWhole(place.value)} and ${place.value} <> 0`
  const index = risky`cast(case when ${fits} then ${place.value} end as int)`
  const value = sql`case when ${fits} then ${call.writing.dialect.pieceAt(pieces, index)} end`
  return strict(of, value, { own: faultOfKnown(sql`not (${isPlace})`, of, 'out-of-range') })
}

const spaced = (writing: Writing, x: Term): Term => writing.dialect.singleSpaces(x, SPACES)

function constantText({ constants, name }: FunctionCall, index: number): string {
  const text = constants[index]
  if (typeof text !== 'string') throw new NoForm(`${name}() has a form in SQL only where the pattern is written out`)
  return text
}

/** The `$1` and `$$` of a new text as RE2 writes them. */
function replacement(text: string): string {
  return text.replace(/\\|\$\$|\$(\d{1,2})/g, (found, group: string | undefined) =>
    found === '\\' ? '\\\\' : found === '$$' ? '$' : `\\${group}`,
  )
}

/**
 * What characters are to a reader.
 *
 * @throws NoForm where the engine does not know
 */
function graphemesOf({ name, writing }: FunctionCall): Graphemes {
  const { graphemes, title } = writing.dialect
  if (graphemes === null)
    throw new NoForm(`${name}() has no form in ${title}: it does not know the characters that a reader sees`)
  return graphemes
}

/** Functions that go by the characters that a reader sees. */
export const OF_GRAPHEMES: ReadonlySet<string> = new Set(['length', 'left', 'right', 'substring', 'position', 'reverse'])

/** More characters than a text can have. */
const MOST_CHARACTERS = 1_000_000_000

/** A count as the engines take it, where it is whole and not less than the least. */
function countFrom(least: number, n: Value): { readonly fits: Term; readonly count: Term } {
  const fits = sql`${isWhole(n.value)} and ${n.value} >= ${least}`
  return { fits, count: risky`cast(case when ${fits} then least(${n.value}, ${MOST_CHARACTERS}) end as bigint)` }
}

/** A part of a text that begins or ends it. */
const endOf =
  (side: 'left' | 'right'): FunctionForm =>
  (call) => {
    const [x, n] = call.args as [Value, Value]
    const { fits, count } = countFrom(0, n)
    const value = sql`case when ${fits} then ${graphemesOf(call)[side](x.value, count)} end`
    return strict(call.args, value, { own: faultOfKnown(sql`not (${fits})`, call.args, 'out-of-range') })
  }

/** Functions of texts. */
export const TEXT_FORMS: Readonly<Record<string, FunctionForm>> = {
  upper: ({ args: [x], writing }) => strict([x as Value], writing.dialect.cased('upper', (x as Value).value)),
  lower: ({ args: [x], writing }) => strict([x as Value], writing.dialect.cased('lower', (x as Value).value)),
  trim: ({ args: [x], writing }) => strict([x as Value], writing.dialect.trimmed((x as Value).value, SPACES)),
  single_spaces: ({ args: [x], writing }) => strict([x as Value], spaced(writing, (x as Value).value)),
  contains: ({ args }) => {
    const [x, y] = args as [Value, Value]
    return strict(args, sql`(strpos(${x.value}, ${y.value}) > 0)`)
  },
  starts_with: ({ args }) => {
    const [x, y] = args as [Value, Value]
    return strict(args, sql`starts_with(${x.value}, ${y.value})`)
  },
  ends_with: ({ args }) => {
    const [x, y] = args as [Value, Value]
    return strict(args, sql`(right(${x.value}, cast(length(${y.value}) as int)) = ${y.value})`)
  },
  replace: (call) => {
    const [x, y, z] = call.args as [Value, Value, Value]
    const replaced = sql`case when ${y.value} = '' and ${z.value} is not null then ${x.value} else replace(${x.value}, ${y.value}, ${z.value}) end`
    return made(call, call.args, replaced)
  },
  repeat: (call) => {
    const [x, n] = call.args as [Value, Value]
    const fits = sql`${isWhole(n.value)} and ${n.value} >= 0`
    const length = call.writing.call('units_of', x.value)
    // Compared by a quotient, since the product may be beyond range.
    const isLong = sql`(${length} > 0 and ${n.value} > ${LONGEST_TEXT} / nullif(${length}, 0))`
    const count = risky`cast(case when ${length} = 0 then 0 when ${n.value} <= ${LONGEST_TEXT} then ${n.value} end as int)`
    const value = sql`case when ${fits} and not ${isLong} then repeat(cast(${x.value} as ${call.writing.dialect.types.text}), ${count}) end`
    const own = firstFault([
      faultOfKnown(sql`not (${fits})`, call.args, 'out-of-range'),
      faultOfKnown(isLong, call.args, 'too-long'),
    ])
    return strict(call.args, value, { own })
  },
  length: (call) => strict(call.args, graphemesOf(call).length((call.args[0] as Value).value), { size: WHOLE }),
  left: endOf('left'),
  right: endOf('right'),
  substring: (call) => {
    const [x, start, n] = call.args as [Value, Value, Value]
    const [from, length] = [countFrom(1, start), countFrom(0, n)]
    const fits = sql`${from.fits} and ${length.fits}`
    const value = sql`case when ${fits} then ${graphemesOf(call).part(x.value, from.count, length.count)} end`
    return strict(call.args, value, { own: faultOfKnown(sql`not (${fits})`, call.args, 'out-of-range') })
  },
  position: (call) => {
    const [needle, x] = call.args as [Value, Value]
    const at = sql`strpos(${x.value}, ${needle.value})`
    const before = graphemesOf(call).length(sql`left(${x.value}, cast(${at} - 1 as int))`)
    return strict(call.args, sql`case when ${at} = 0 then 0 when ${at} = 1 then 1 else ${before} + 1 end`, { size: WHOLE })
  },
  reverse: (call) => strict(call.args, graphemesOf(call).reversed((call.args[0] as Value).value)),
  concat: (call) => joinedBy(call, valueFrom(literal(`''`)), partsFrom(call, 0)),
  join: (call) => joinedBy(call, call.args[0] as Value, partsFrom(call, 1)),
  split_part: (call) => {
    const [x, separator, place] = call.args as [Value, Value, Value]
    return piece(call, call.args, call.writing.dialect.pieces(x.value, separator.value), place)
  },
  word: (call) => {
    const [x, place] = call.args as [Value, Value]
    const words = spaced(call.writing, x.value)
    return piece(call, call.args, call.writing.dialect.pieces(sql`nullif(${words}, '')`, literal(`' '`)), place)
  },
  text: (call) => {
    const { args, types, constants, writing } = call
    if (args.length > 1) throw new NoForm(`text() with the pattern ${String(constants[1])} has no form in SQL`)
    const [x] = args as [Value]
    return strict(args, shownText(writing, x, types[0] as ValueType))
  },
  matches: (call) => {
    const [x] = call.args as [Value]
    const pattern = constantText(call, 1)
    return strict([x], sql`regexp_matches(${x.value}, ${textLiteral(pattern)})`)
  },
  replace_pattern: (call) => {
    const [x] = call.args as [Value]
    const [pattern, by] = [constantText(call, 1), constantText(call, 2)]
    if (new RegExp(pattern).test(''))
      throw new NoForm('replace_pattern() with a pattern that is met by nothing has no form in SQL')
    return made(call, [x], sql`regexp_replace(${x.value}, ${textLiteral(pattern)}, ${textLiteral(replacement(by))}, 'g')`)
  },
  capture: (call) => {
    const [x] = call.args as [Value]
    const pattern = constantText(call, 1)
    const given = call.args.length > 2 ? call.constants[2] : undefined
    if (call.args.length > 2 && typeof given !== 'number')
      throw new NoForm('capture() has a form in SQL only where the group is written out')
    const groups = (new RegExp(`${pattern}|`).exec('') as RegExpExecArray).length - 1
    const group = typeof given === 'number' ? given : Math.min(1, groups)
    const none = literal(`cast(null as ${call.writing.dialect.types.text})`)
    if (!Number.isInteger(group) || group < 0 || group > groups) {
      return strict([x], none, { own: faultOfKnown(literal('true'), [x], 'out-of-range') })
    }
    // The engine gives an empty text both for an empty group and for one that took no part.
    if (group > 0 && /[|?*]|\{0/.test(pattern)) throw new NoForm('capture() of a group that may take no part has no form in SQL')
    const found = sql`regexp_matches(${x.value}, ${textLiteral(pattern)})`
    return strict([x], sql`case when ${found} then regexp_extract(${x.value}, ${textLiteral(pattern)}, ${group}) end`)
  },
}
