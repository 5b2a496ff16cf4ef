import { type Engine, GroupedRows, type LineSheet } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import type { Model } from '../model/index.js'
import { showCell } from '../model/index.js'
import { type QueryColumn, stateOf } from '../queries/index.js'
import { type GroupedView, groupedViewShape, readGiven } from '../schemas/index.js'
import { valuesAcross } from './across.js'
import { arrangeGroups } from './arrange-groups.js'
import { type KnownView, knownView } from './check-view.js'
import { type GroupNode, treeOf } from './group-tree.js'
import type { GroupedResult } from './grouped-view.js'
import type { ViewColumn } from './view-columns.js'
import { viewFindings } from './view-findings.js'
import { type Line, linesOf } from './view-lines.js'
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
  const known = knownView(model, engine, readGiven('the view', groupedViewShape, given))
  const rows = rowsOf(known)
  try {
    const parts = { ...known, rows }
    return resultOf(parts, laidOut(parts))
  } finally {
    rows.end()
  }
}

/** The groups of a view, to be ended by whoever takes them. */
export function rowsOf({ names: { engine, table }, where, columns }: KnownView): GroupedRows {
  return new GroupedRows(engine, table.store, where, columns.keys, columns.across?.expression ?? null)
}

/** A view with its lines laid out. */
export interface LaidOut {
  /** Its groups, arranged. */
  readonly whole: GroupNode
  readonly lines: Line[]
  readonly sheet: LineSheet
  /** The outermost groups, those beyond the limit included. */
  readonly outermost: number
  readonly shownOutermost: number
}

/** Puts the groups of a view in order and computes what stands in their lines. */
export function laidOut(parts: ViewParts): LaidOut {
  const { limit } = parts.view
  const whole = treeOf(parts)
  arrangeGroups(parts, whole)
  const outermost = whole.inner.length
  if (limit !== undefined) whole.inner = whole.inner.slice(0, limit)
  const lines = linesOf(parts, whole)
  const sheet = layOut(parts, lines, parts.columns.all)
  sheet.put(
    LEVEL,
    'integer',
    lines.map(({ level }) => level),
  )
  if (hasOthers(parts))
    sheet.put(
      OTHERS,
      'integer',
      lines.map((line) => line.groupCount),
    )
  return { whole, lines, sheet, outermost, shownOutermost: whole.inner.length }
}

/** True for views some groups of which may stand together in one line. */
export function hasOthers({ view: { top = [], having } }: Pick<ViewParts, 'view'>): boolean {
  return top.length > 0 || having !== undefined
}

/** What a view that is laid out gives. */
export function resultOf(parts: ViewParts, { whole, lines, sheet, outermost, shownOutermost }: LaidOut): GroupedResult {
  const { flat } = parts.view
  const slots = Int32Array.from(lines.keys()).filter((at) => flat !== true || lines[at]?.level === parts.columns.keys.length)
  const columns = [
    ...(flat === true ? [] : [ownColumn('level', LEVEL, sheet)]),
    ...parts.columns.keyColumns.map((column) => shown(parts, column, sheet)),
    ...(hasOthers(parts) ? [ownColumn('others', OTHERS, sheet)] : []),
    ...withAcross(
      parts,
      lines,
      parts.columns.shown.map((column) => shown(parts, column, sheet)),
    ),
  ]
  return {
    columns,
    matched: slots.length + outermost - shownOutermost,
    slots,
    ids: () => Array.from(slots, (line) => line + 1),
    rows: () =>
      Array.from(slots, (line) => columns.map(({ storage }) => showCell(storage?.read(line) ?? null, storage?.type ?? 'text'))),
    lines: Array.from(slots, (at) => {
      const { kind, level, rowCount, groupCount: count, row, rowNumber } = lines[at] as Line
      return { kind, level, rowCount, groupCount: count, row, rowNumber }
    }),
    levels: parts.columns.keyColumns.map(({ name }) => name),
    ownColumns: [...(flat === true ? [] : ['level']), ...(hasOthers(parts) ? ['others'] : [])],
    isFlat: flat === true,
    isFolded: parts.view.details === 'folded',
    table: parts.names.table.name,
    where: parts.view.where ?? null,
    parameters: parts.view.parameters ?? [],
    rowCount: parts.names.table.store.rows.rowCount,
    keptCount: parts.rows.sizeOf(0, 0),
    findings: () => viewFindings(parts, whole),
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
