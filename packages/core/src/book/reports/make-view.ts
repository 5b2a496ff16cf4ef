import { type Engine, GroupedRows, type LineSheet } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { Model } from '../model/index.js'
import { scopeOf, showCell } from '../model/index.js'
import { conditionOf, type QueryColumn, stateOf } from '../queries/index.js'
import { valuesAcross } from './across.js'
import { arrangeGroups } from './arrange-groups.js'
import { readView } from './given-view.js'
import { treeOf } from './group-tree.js'
import type { GroupedResult, GroupedView } from './grouped-view.js'
import { type ViewColumn, viewColumns } from './view-columns.js'
import { type Line, linesOf } from './view-lines.js'
import type { ViewNames } from './view-names.js'
import { ViewParameters } from './view-parameters.js'
import type { ViewParts } from './view-parts.js'
import { layOut } from './view-sheet.js'

/** Columns of the result that are none of the view's. */
const LEVEL = -1 as ColumnId
const OTHERS = -2 as ColumnId

/**
 * Makes a grouped view.
 *
 * @throws Refusal for unknown names and fields, formulas with mistakes, and conditions that are not true or false
 */
export function makeView(model: Model, engine: Engine, given: GroupedView): GroupedResult {
  const view = readView(given)
  const table = model.table(view.table)
  const parameters = new ViewParameters(model, table, engine.surroundings.zone, view.parameters ?? [])
  const names: ViewNames = { model, engine, table, parameters }
  const condition = view.where === undefined ? null : conditionOf(table, view.where, parameters.scope(scopeOf(model, table)))
  const where = condition === null ? null : parameters.filled(condition).expression
  const columns = viewColumns(names, view)
  const rows = new GroupedRows(engine, table.store, where, columns.keys, columns.across?.expression ?? null)
  try {
    return resultOf({ names, view, columns, rows })
  } finally {
    rows.end()
  }
}

function resultOf(parts: ViewParts): GroupedResult {
  const { limit, flat, top = [], having } = parts.view
  const whole = treeOf(parts)
  arrangeGroups(parts, whole)
  const groupCount = whole.inner.length
  if (limit !== undefined) whole.inner = whole.inner.slice(0, limit)
  const lines = linesOf(parts, whole)
  const sheet = layOut(parts, lines, parts.columns.all)
  sheet.put(
    LEVEL,
    'integer',
    lines.map(({ level }) => level),
  )
  const hasOthers = top.length > 0 || having !== undefined
  if (hasOthers)
    sheet.put(
      OTHERS,
      'integer',
      lines.map((line) => line.groupCount),
    )
  const slots = Int32Array.from(lines.keys()).filter((at) => flat !== true || lines[at]?.level === parts.columns.keys.length)
  const columns = [
    ...(flat === true ? [] : [ownColumn('level', LEVEL, sheet)]),
    ...parts.columns.keyColumns.map((column) => shown(parts, column, sheet)),
    ...(hasOthers ? [ownColumn('others', OTHERS, sheet)] : []),
    ...withAcross(
      parts,
      lines,
      parts.columns.shown.map((column) => shown(parts, column, sheet)),
    ),
  ]
  return {
    columns,
    matched: slots.length + groupCount - whole.inner.length,
    slots,
    ids: () => Array.from(slots, (line) => line + 1),
    rows: () =>
      Array.from(slots, (line) => columns.map(({ storage }) => showCell(storage?.read(line) ?? null, storage?.type ?? 'text'))),
    lines: Array.from(slots, (at) => {
      const { kind, level, rowCount, groupCount: count, row, rowNumber } = lines[at] as Line
      return { kind, level, rowCount, groupCount: count, row, rowNumber }
    }),
    levels: parts.columns.keyColumns.map(({ name }) => name),
    ownColumns: [...(flat === true ? [] : ['level']), ...(hasOthers ? ['others'] : [])],
    isFlat: flat === true,
    parameters: parts.view.parameters ?? [],
    rowCount: parts.names.table.store.rows.rowCount,
    keptCount: whole.size,
  }
}

/** Columns with each tally and line once a value of the key that goes across, before what they are over all. */
function withAcross(parts: ViewParts, lines: readonly Line[], columns: readonly QueryColumn[]): readonly QueryColumn[] {
  const { across, shown: all } = parts.columns
  if (across === null) return columns
  const spread = all.filter((column) => !isOfRows(column))
  const ofValues = valuesAcross(parts).flatMap(({ name, groups }) => {
    const sheet = layOut(parts, lines, parts.columns.all, groups)
    return spread.map((column) => ({ ...shown(parts, column, sheet), name: `${name} ${column.name}` }))
  })
  const isSpread = (at: number): boolean => !isOfRows(all[at] as ViewColumn)
  return [...columns.filter((_, at) => !isSpread(at)), ...ofValues, ...columns.filter((_, at) => isSpread(at))]
}

function ownColumn(name: string, id: ColumnId, sheet: LineSheet): QueryColumn {
  return { name, type: 'integer', calculated: true, state: null, unit: null, properties: {}, storage: sheet.column(id) }
}

function shown(parts: ViewParts, { id, name, type, properties, source }: ViewColumn, sheet: LineSheet): QueryColumn {
  return {
    name,
    type,
    calculated: source === undefined || source.formula !== null,
    state: source === undefined ? null : stateOf(parts.names.engine, source),
    unit: properties.unit ?? null,
    properties,
    storage: sheet.column(id),
  }
}

/** True for columns of single rows, which cannot be spread. */
const isOfRows = ({ ofRows, line }: ViewColumn): boolean => ofRows === undefined && line === undefined
