import { displayOf } from '../../display/index.js'
import { refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnProperties, PausedFormula, TableModel } from '../model/index.js'
import { ColumnModel } from '../model/index.js'
import type { JournaledColumn } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'

/** The properties of a column spec. */
function propertiesOf(spec: JournaledColumn): ColumnProperties {
  const { name: _name, id: _id, type: _type, formula: _formula, original: _original, paused: _paused, ...properties } = spec
  return properties as object as ColumnProperties
}

/** Refuses a way to show values that there is not, or not for values of this type. */
export function refuseBadDisplay(
  transaction: Transaction,
  table: TableModel,
  column: Pick<ColumnModel, 'name' | 'type' | 'properties'>,
): void {
  if (!transaction.isUndoRedo) refuseDisplay(table.name, column, transaction.engine.surroundings.locale)
}

/**
 * Refuses a way to show values that there is not, or not for values of this type.
 *
 * @throws Refusal naming the ways there are
 */
export function refuseDisplay(table: string, column: Pick<ColumnModel, 'name' | 'type' | 'properties'>, locale: string): void {
  const { display } = column.properties
  if (display === undefined || displayOf(column, locale) !== null) return
  const ways = 'percent, currency:EUR (any ISO 4217 code), or a pattern of Unicode TR35 such as #,##0.00 or dd/MM/yyyy'
  const reason = `${JSON.stringify(display)} shows no values of type ${column.type ?? 'any'}; there are ${ways}.`
  throw refusal('bad-operation', { place: `${printName(column.name)}, display`, reason }, { table, column: column.name })
}

/** A column as the operation that would make it describes it. */
export function specOf(table: TableModel, column: ColumnModel): JournaledColumn {
  const original = column.original === null ? undefined : table.columns.find((one) => one.id === column.original)?.name
  return {
    name: column.name,
    id: column.id,
    ...(column.type !== null && (column.formula === null || column.declared) && { type: column.type }),
    ...(column.formula !== null && { formula: column.formula.text }),
    ...(original !== undefined && { original }),
    ...(column.paused !== null && { paused: pausedSpec(column.paused) }),
    ...(column.properties as object),
  }
}

/** A formula put aside, as operations carry it. */
export function pausedSpec({ formula, declared, typed }: PausedFormula): NonNullable<JournaledColumn['paused']> {
  return { formula: formula.text, declared, typed: [...typed] }
}

function pausedOf({ paused }: JournaledColumn): PausedFormula | undefined {
  if (paused === undefined) return undefined
  return { formula: { text: paused.formula, checked: null }, declared: paused.declared, typed: new Set(paused.typed) }
}

/** Refuses a column name that the table has already. */
export function refuseTaken(table: TableModel, name: string): void {
  const known = table.find(name)
  if (known !== undefined) {
    throw refusal(
      'name-taken',
      { place: `Table ${table.name}`, kind: 'column', name: printName(known.name) },
      { table: table.name, column: name },
    )
  }
}

/** Makes a column of a spec in a table; a formula is bound when all operations of the call are done. */
export function makeColumn(
  transaction: Transaction,
  table: TableModel,
  spec: JournaledColumn,
  before?: ColumnModel,
): ColumnModel {
  refuseTaken(table, spec.name)
  const column = new ColumnModel({
    ...spec,
    id: takeId(transaction, spec),
    original: spec.original === undefined ? undefined : table.column(spec.original).id,
    paused: pausedOf(spec),
    properties: propertiesOf(spec),
  })
  // What a formula gives is known once it is bound.
  if (column.formula === null) refuseBadDisplay(transaction, table, column)
  if (column.paused !== null) transaction.setAside.add(column)
  refuseStrayIds(transaction, table, column)
  table.insert(column, before)
  if (spec.tags !== undefined) transaction.recheckTags(table)
  if (column.formula !== null) transaction.unbound.set(column, table)
  if (column.type !== null) table.store.makeColumn(column.id, column.type)
  return column
}

function takeId(transaction: Transaction, spec: JournaledColumn): ColumnId {
  const id = transaction.model.takeColumnId(spec.id)
  transaction.gone.delete(id)
  return id
}

/** Refuses properties that name columns by ids of none of the table; told at the end, since they may be yet to come. */
function refuseStrayIds(transaction: Transaction, table: TableModel, { name, properties }: ColumnModel): void {
  const { orderKey, stamp } = properties
  const ids = [...(orderKey === undefined ? [] : [orderKey]), ...(stamp?.when ?? [])]
  if (transaction.isUndoRedo || ids.length === 0) return
  transaction.afterwards.push(() => {
    const stray = ids.find((id) => table.withId(id) === undefined)
    if (stray === undefined) return
    const reason = `${table.name} has no column with id ${stray}.`
    throw refusal('bad-operation', { place: `column ${printName(name)}`, reason }, { table: table.name, column: name })
  })
}

/** Refuses two columns of one list whose names are the same to the language. */
export function refuseRepeated(table: string, specs: readonly JournaledColumn[]): void {
  const seen = new Set<string>()
  for (const { name } of specs) {
    const folded = foldName(name)
    if (seen.has(folded))
      throw refusal('name-taken', { place: `Table ${table}`, kind: 'column', name: printName(name) }, { table, column: name })
    seen.add(folded)
  }
}
