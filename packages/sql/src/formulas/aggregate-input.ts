import type { Scalar } from 'mellow-abacus'
import type { Checked } from 'mellow-abacus/model'
import { numberOfFault } from '../dialects/index.js'
import { isTooLong, shownText } from '../functions/index.js'
import { joined, sql, type Term } from '../terms/index.js'
import { firstFault, unlessFault, type Value, valueFrom, type Writing } from '../values/index.js'
import { aggregateForm, PICKS } from './aggregates.js'
import { typeOf } from './formula.js'
import type { TableReading } from './reading.js'

/** A function of several rows. */
export type OverRows = Checked & { kind: 'over-rows' }

/** The parts of an aggregate, as terms of the rows it reads or of pairs of them with the row it is for. */
export interface Parts {
  readonly values: readonly Value[]
  /** True for the rows taken in; null for all of them. */
  readonly condition: Value | null
  readonly order: readonly { readonly key: Value; readonly descending: boolean; readonly isText: boolean }[]
  readonly rowKey: readonly Term[]
}

/** What a select with groups is made from. */
export interface Input {
  readonly terms: readonly Term[]
  /** Rows for which this is not true are left out; null where none are. */
  readonly where: Term | null
  /** The same for aggregates that come to the same. */
  readonly identity: string
  readonly result: Pick<Value, 'size' | 'isApproximate'>
  readonly mayFail: boolean
  write(kind: 'value' | 'fault', read: (term: Term) => string): string
}

export function needsOrder({ record }: OverRows): boolean {
  return ['first', 'last', 'lookup', 'join_rows'].includes(record.name)
}

export function inputOf(writing: Writing, node: OverRows, parts: Parts, inRows: (term: Term) => Term): Input {
  const { dialect } = writing
  const { name } = node.record
  const { condition } = parts
  const picks = PICKS.has(name)
  const isOpen = condition?.fault ?? null
  // Where the condition may be an error its rows stay, so that the error is found; values of rows not taken in are put away.
  const taken = (term: Term): Term =>
    isOpen === null || condition === null ? term : sql`case when ${condition.value} then ${term} end`
  const where =
    condition === null ? null : inRows(isOpen === null ? condition.value : sql`(${condition.value} or ${isOpen} is not null)`)
  const shown = parts.values.map((value, index) =>
    name === 'join_rows' && index === 0
      ? { ...value, value: shownText(writing, value, typeOf((node.args[0] as Checked).type, 'text')) }
      : value,
  )
  const values = shown.map(({ value }) => inRows(taken(value)))
  const faults = shown.map(({ fault }) => (fault === null ? null : inRows(taken(fault))))
  const early = [
    isOpen,
    ...(node.args.length === 0 ? [] : parts.order.map(({ key }) => (key.fault === null ? null : taken(key.fault)))),
    ...(picks ? [] : faults),
  ].filter((one) => one !== null)
  const worst = early.length === 0 ? null : inRows(early.length === 1 ? (early[0] as Term) : sql`least(${joined(early, ', ')})`)
  const keys = parts.order.map(({ key, descending, isText }) => ({ key: inRows(key.value), descending, isText }))
  const isTaken = isOpen === null || condition === null ? null : inRows(condition.value)
  const rowKey = parts.rowKey.map(inRows)
  const input = (read: (term: Term) => string) => {
    const by = (isReverse: boolean): string =>
      [
        ...keys.map(({ key, descending, isText }) => {
          const text = isText && dialect.name === 'postgresql' ? `${read(key)} collate "C"` : read(key)
          return `${text} ${descending === isReverse ? 'asc' : 'desc'} nulls ${isReverse ? 'first' : 'last'}`
        }),
        ...rowKey.map((key) => `${read(key)} ${isReverse ? 'desc' : 'asc'}`),
      ].join(', ') || '1'
    return {
      dialect,
      values: values.map(read),
      faults: faults.map((one) => (one === null ? null : read(one))),
      isTaken: isTaken === null ? null : read(isTaken),
      order: by(false),
      reverse: by(true),
      size: parts.values[0]?.size ?? { grain: 0, high: 54 },
      second: constantOf(node.args[1]),
    }
  }
  const sample = aggregateForm(
    name,
    input((term) => String(term.id)),
  )
  const approximate = [...parts.values, ...(condition === null ? [] : [condition]), ...parts.order.map(({ key }) => key)]
  return {
    terms: [...values, ...faults, worst, isTaken, ...keys.map(({ key }) => key), ...rowKey].filter((one) => one !== null),
    where,
    identity: `${name} ${[...values, ...keys.map(({ key }) => key)].map(({ id }) => id).join(' ')} ${worst?.id ?? ''} ${keys.map(({ descending }) => (descending ? 'd' : 'a')).join('')}`,
    result: { size: sample.size, isApproximate: sample.isApproximate || approximate.some((one) => one.isApproximate) },
    mayFail: worst !== null || sample.fault !== null,
    write: (kind, read) => {
      const made = aggregateForm(name, input(read))
      const least = worst === null ? null : `min(${read(worst)})`
      if (kind === 'value') {
        const failed = [least, made.fault].filter((one) => one !== null)
        if (failed.length === 0) return made.value
        return least === null ? made.value : `case when ${least} is null then ${made.value} end`
      }
      return least === null ? (made.fault as string) : made.fault === null ? least : `coalesce(${least}, ${made.fault})`
    },
  }
}

function constantOf(node: Checked | undefined): Scalar | null | undefined {
  return node?.kind === 'constant' ? node.value : undefined
}

/** The value of an aggregate for the own row: without rows there is nothing, of which there are none. */
export function finished(
  table: TableReading,
  node: OverRows,
  ownFault: Term | null,
  input: Input,
  column: (kind: 'value' | 'fault') => Term,
): Value {
  const { writing } = table.model
  const joinedFault = input.mayFail ? column('fault') : null
  const fault = firstFault([ownFault, joinedFault])
  const counts = node.record.name === 'count' || node.record.name === 'count_distinct'
  const value = counts ? sql`coalesce(${column('value')}, '0'::float8)` : column('value')
  const made =
    node.record.name === 'join_rows'
      ? lengthChecked(writing, unlessFault(fault, value), fault)
      : { value: unlessFault(fault, value), fault }
  return valueFrom(made.value, { fault: made.fault, ...input.result })
}

function lengthChecked(writing: Writing, value: Term, fault: Term | null): { value: Term; fault: Term | null } {
  const isLong = isTooLong(writing, value)
  const own = sql`case when ${isLong} then ${numberOfFault('too-long')} end`
  return { value: sql`case when not ${isLong} then ${value} end`, fault: firstFault([fault, own]) }
}
