import type { FunctionRecord } from '../../functions/index.js'
import { CheckContext, clauseOf, rowsReadBy } from '../check/index.js'
import type { Syntax } from '../syntax/index.js'
import type { PhraseContext } from './phrase-context.js'

type CallNode = Syntax & { kind: 'call' }

/** What aggregates are called in a sentence. */
const NOUNS: Readonly<Record<string, string>> = {
  sum: 'the total of',
  mean: 'the mean of',
  min: 'the smallest',
  max: 'the largest',
  count_distinct: 'the number of different values of',
  median: 'the median of',
  mode: 'the commonest',
  stdev: 'the standard deviation of',
  variance: 'the variance of',
  first: 'the first',
  last: 'the last',
  lookup: 'the one',
  share: 'the share of',
  difference: 'the growth since the row before of',
  cumulative_sum: 'the running total of',
  cumulative_mean: 'the running mean of',
  cumulative_count: 'the running count of',
  rank: 'the rank by',
  dense_rank: 'the rank without gaps by',
}

/** True for functions of several rows that are said in words. */
export function hasNoun(name: string): boolean {
  return Object.hasOwn(NOUNS, name) || ['count', 'any', 'all', 'row_number', 'lag', 'lead'].includes(name)
}

/** A function of several rows in a sentence: what of which rows, under which condition, in which groups and order. */
export function overRowsPhrase(
  node: CallNode,
  record: FunctionRecord,
  context: PhraseContext,
  say: (part: Syntax) => string,
): string {
  const { rows, alone } = rowsOf(node, record, context)
  const values = (alone ? node.args.slice(1) : node.args).map((arg) =>
    arg.kind === 'name' && arg.parts.length > 1 ? lastName(arg) : say(arg),
  )
  const parts = [subject(record, values)]
  if (record.form === 'aggregate') parts.push(record.name === 'count' && values.length === 0 ? rows : `over ${rows}`)
  const where = clauseOf(node, 'where')
  if (where !== undefined) parts.push(`where ${say(where.condition)}`)
  const by = clauseOf(node, 'by')
  if (by !== undefined) parts.push(`with the same ${by.keys.map(say).join(' and ')} as this row`)
  const order = clauseOf(node, 'order by')
  const keys = order?.keys.map(({ key, descending }) => say(key) + (descending ? ' (largest first)' : ''))
  if (keys !== undefined) parts.push(`in the order of ${keys.join(', ')}`)
  else if (
    record.form === 'ordered' &&
    record.clauses?.includes('order by') === true &&
    record.clauses.includes('desc') === false
  )
    parts.push('in row order')
  if (clauseOf(node, 'desc') !== undefined) parts.push('(largest first)')
  return parts.join(' ')
}

function subject(record: FunctionRecord, values: readonly string[]): string {
  const [first, ...rest] = values
  switch (record.name) {
    case 'count':
      return first === undefined ? 'the number of' : `the number of values of ${first}`
    case 'any':
    case 'all':
      return `whether ${first} holds for ${record.name} of`
    case 'row_number':
      return 'the number of the row'
    case 'lag':
    case 'lead': {
      const side = record.name === 'lag' ? 'before' : 'after'
      return rest.length === 0 ? `${first} of the row ${side}` : `${first} of the row ${rest[0]} places ${side}`
    }
    default: {
      const noun = NOUNS[record.name]
      if (noun === undefined) return `${record.name}(${values.join(', ')})`
      return rest.length === 0 ? `${noun} ${first}` : `${noun} ${first} (${rest.join(', ')})`
    }
  }
}

/** The rows read, in words, and whether the first argument only names their table. */
function rowsOf(node: CallNode, record: FunctionRecord, context: PhraseContext): { rows: string; alone: boolean } {
  if (record.form === 'ordered') return { rows: '', alone: false }
  const parsed = { text: context.text, tree: node, findings: [], keywords: new Set<number>() }
  const silent = new CheckContext(parsed, context.scope, (one, part) => one.unknown(part))
  const way = clauseOf(node, 'via') ?? clauseOf(node, 'below')
  const place = rowsReadBy(silent, node.args, way, node)
  if (place === null) return { rows: 'rows', alone: false }
  const path = way?.path.map((part) => part.name).join('.')
  const through = path === undefined ? '' : ` through ${path}`
  const { which, table } = place.rows
  const words = {
    own: 'the rows of this table',
    every: `all rows of ${table}`,
    linked: `the rows of ${table} linked to this one${through}`,
    below: `the rows below this one${through}`,
  }
  return { rows: words[which], alone: place.alone }
}

/** A path without the table it starts from. */
function lastName(arg: Syntax & { kind: 'name' }): string {
  const names = arg.parts.slice(1).map((part) => part.name)
  return names.reverse().join(' of the ')
}
