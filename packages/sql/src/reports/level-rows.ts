import type { DefinedView } from 'mellow-abacus/model'
import type { Dialect } from '../dialects/index.js'
import type { GroupsOfRows, SourceColumn, SourceOfTable, TableReading, TableTerms } from '../formulas/index.js'
import { fragment, joined, over, sql, statementOf, type Term } from '../terms/index.js'
import { UNBOUNDED, type Value, valueFrom, WHOLE } from '../values/index.js'
import type { LevelTable } from './level-tables.js'

/** The rows of a level, as a statement has them. */
export interface LevelRows {
  /** What the statement calls them. */
  readonly name: string
  /** The select that finds them. */
  readonly select: string
  readonly source: SourceOfTable
}

/**
 * Finds the groups of a level among the rows of a table.
 *
 * @param rows - the table
 * @throws NoForm where a key or the condition has no form
 */
export function levelRows(rows: TableTerms, view: DefinedView, level: LevelTable, dialect: Dialect): LevelRows {
  const { quote } = dialect
  const keys = view.keys
    .slice(0, level.level)
    .map((key) => ({ key, value: rows.hidden(key.expression as NonNullable<typeof key.expression>) }))
  const called = keys.map(({ value }, index) => ({
    value: `key ${index + 1}`,
    fault: value.fault === null ? null : `key ${index + 1}!fault`,
  }))
  const columns = new Map<number, SourceColumn>()
  for (const [at, id] of level.groups.entries())
    columns.set(id, { ...PLAIN, value: `cast(s.${quote(`group ${at}`)} as float8)`, isFull: true, size: WHOLE })
  for (const [index, { value }] of keys.entries()) {
    const names = called[index] as (typeof called)[number]
    const { size, isApproximate } = value
    const fault = names.fault === null ? null : `s.${quote(names.fault)}`
    columns.set(level.keys[index] as number, { ...PLAIN, value: `s.${quote(names.value)}`, fault, size, isApproximate })
  }
  const ofRows: GroupsOfRows = {
    table: rows.definition.name,
    keys: keys.map(({ key }, index) => {
      const { value, fault } = called[index] as (typeof called)[number]
      const of = key.expression as NonNullable<typeof key.expression>
      return { of, value: `s.${quote(value)}`, fault: fault === null ? null : `s.${quote(fault)}` }
    }),
  }
  const name = quote(`level ${level.level}`)
  const number = `s.${quote(`group ${level.level}`)}`
  return {
    name,
    select:
      level.level === 0
        ? `select 1 as ${quote('group 0')}`
        : groupsSelect(
            rows,
            view,
            keys.map(({ value }) => value),
            called,
            dialect,
          ),
    source: {
      from: `${name} as s`,
      columns,
      lacks: new Map(),
      rowKey: [number],
      storedKey: [number],
      unique: [[level.groups.at(-1) as number]],
      // However many rows there are, groups that someone reads line by line are few.
      rowCount: 1,
      groups: ofRows,
      made: level.level === 0 ? new Map() : new Map([[level.places.at(-1) as number, (table) => placeOf(table, view, level)]]),
    },
  }
}

const PLAIN = { fault: null, isFull: false, size: UNBOUNDED, shown: null } as const

/** The groups with their keys, and with numbers by which those of other levels find them. */
function groupsSelect(
  rows: TableTerms,
  { where }: DefinedView,
  keys: readonly Value[],
  called: readonly { readonly value: string; readonly fault: string | null }[],
  dialect: Dialect,
): string {
  const { quote } = dialect
  const inRows = (term: Term): Term => rows.model.inRows(term, rows.rows)
  const condition = where === null ? null : inRows(rows.hidden(where, 'boolean').value)
  const parts = keys.flatMap(({ value, fault }, index) => {
    const names = called[index] as (typeof called)[number]
    const own = [{ level: index + 1, name: names.value, term: inRows(value) }]
    return fault === null || names.fault === null ? own : [...own, { level: index + 1, name: names.fault, term: inRows(fault) }]
  })
  const { text, nameOf } = statementOf(
    rows.rows,
    [...parts.map(({ term }) => term), ...(condition === null ? [] : [condition])],
    dialect,
  )
  const filter = condition === null ? '' : `\nwhere v.${nameOf(condition)}`
  const list = parts.map(({ name, term }) => `v.${nameOf(term)} as ${quote(name)}`)
  const numbers = keys.map((_, index) => {
    const order = parts.filter(({ level }) => level <= index + 1).map(({ name }) => `g.${quote(name)} nulls last`)
    return `dense_rank() over (order by ${order.join(', ')}) as ${quote(`group ${index + 1}`)}`
  })
  return `select g.*, ${[`1 as ${quote('group 0')}`, ...numbers].join(', ')}\nfrom (\nselect distinct ${list.join(', ')}\nfrom (\n${text}\n) as v${filter}\n) as g`
}

/** The place of a group among those beside it: by what is wanted, then by its key; the blank one and errors come last. */
function placeOf(table: TableReading, view: DefinedView, { level, groups, keys, sorted, columns }: LevelTable): Value {
  const { dialect } = table.model.writing
  const definition = table.definition
  const own = keys.at(-1) as number
  const key = table.column(own)
  const isText = (id: number): boolean => definition.columns.find((one) => one.id === id)?.type === 'text'
  const used: Value[] = [key]
  const by = (value: Value, text: boolean, descending: boolean): Term[] => {
    const term = text ? dialect.ordered(value.value) : value.value
    return [kindOf(value), fragment`${term} ${descending ? 'desc' : 'asc'} nulls last`]
  }
  const read = (id: number): Value => {
    const value = table.column(id)
    used.push(value)
    return value
  }
  const lowest = sorted === null ? [] : by(read(sorted), isText(sorted), false)
  const lowestDown = sorted === null ? [] : by(read(sorted), isText(sorted), true)
  const wanted = view.orders
    .filter((one) => one.level === level)
    .flatMap((one) => {
      const id = columns.get(one.by) as number
      if (id === own) return [...(one.descending ? lowestDown : lowest), ...by(key, isText(own), one.descending)]
      return by(read(id), isText(id), one.descending)
    })
  const all = [kindOf(key), ...wanted, ...lowest, ...by(key, isText(own), false)]
  const around = table.column(groups[level - 1] as number).value
  const place = over`row_number() over (partition by ${around} order by ${joined(all, ', ')})`
  return valueFrom(sql`cast(${place} as float8)`, { size: WHOLE, isApproximate: used.some((one) => one.isApproximate) })
}

/** Where a cell comes in an order before its value counts: values, blanks, errors by their codes. */
function kindOf({ value, fault }: Value): Term {
  const isBlank = sql`case when ${value} is null then 1 else 0 end`
  return fault === null ? isBlank : sql`coalesce(${fault} + 1, ${isBlank})`
}
