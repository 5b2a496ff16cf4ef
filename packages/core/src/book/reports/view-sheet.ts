import type { Cell } from '../../columns/index.js'
import { LineSheet } from '../../engine/index.js'
import { cellsOfPlan } from '../queries/index.js'
import type { AcrossGroups } from './across.js'
import type { GroupNode } from './group-tree.js'
import { NEIGHBOURS } from './line-columns.js'
import type { ViewColumn } from './view-columns.js'
import type { Line } from './view-lines.js'
import { levelsOf, type ViewParts } from './view-parts.js'

/** The sheet with some columns of the view on it; for one value of the key that goes across, with what they are for that. */
export function layOut(
  parts: ViewParts,
  lines: readonly Line[],
  columns: readonly ViewColumn[],
  across: AcrossGroups | null = null,
): LineSheet {
  const whole = lines.findIndex(({ kind }) => kind === 'whole')
  const sheet = new LineSheet(parts.names.engine, {
    sizes: Int32Array.from(lines, (line) => (across === null ? line.rowCount : sizeAcross(parts, line, across))),
    neighbours: new Map([
      [NEIGHBOURS.parent, Int32Array.from(lines, ({ parent }) => parent)],
      [NEIGHBOURS.whole, new Int32Array(lines.length).fill(whole)],
      [NEIGHBOURS.previous, Int32Array.from(lines, ({ previous }) => previous)],
      [NEIGHBOURS.next, Int32Array.from(lines, ({ next }) => next)],
    ]),
  })
  for (const { id, type, level = 0 } of parts.columns.keyColumns)
    sheet.put(
      id,
      type,
      lines.map(({ node }) => keyAt(node, level)),
    )
  for (const column of columns)
    if (column.line === undefined) sheet.put(column.id, column.type, cellsOf(parts, column, lines, across))
    else sheet.calculate(column.id, column.line.plan, column.line.isRunning)
  return sheet
}

/** The cells of a column that is not made from others. */
function cellsOf(parts: ViewParts, { ofRow, ofRows }: ViewColumn, lines: readonly Line[], across: AcrossGroups | null): Cell[] {
  const cells: Cell[] = new Array(lines.length).fill(null)
  const places = (test: (line: Line) => boolean): number[] => [...lines.keys()].filter((at) => test(lines[at] as Line))
  const isRow = ({ kind }: Line): boolean => kind === 'row'
  if (ofRow !== undefined && across === null) {
    const at = places(isRow)
    const slots = at.map((place) => (lines[place] as Line).slots?.[0] as number)
    const found = cellsOfPlan(parts.names.engine, parts.names.table, ofRow, slots)
    for (const [index, place] of at.entries()) cells[place] = found[slots[index] as number] ?? null
  }
  if (ofRows === undefined) return cells
  const ofNone = across === null ? null : parts.rows.cellOver(ofRows, [])
  for (const level of levelsOf(parts)) {
    const at = places((line) => line.level === level && (line.kind === 'group' || line.kind === 'whole'))
    const groups = at.map((place) => groupAcross((lines[place] as Line).node, across))
    const known = at.filter((_, index) => groups[index] !== undefined)
    for (const place of at) cells[place] = ofNone
    const numbers = Int32Array.from(groups.filter((group) => group !== undefined))
    const found = parts.rows.cells(ofRows, across === null ? level : parts.rows.acrossOf(level), numbers)
    for (const [index, cell] of found.entries()) cells[known[index] as number] = cell
  }
  const hasTally = (line: Line): boolean =>
    line.kind === 'others' || (isRow(line) && across === null && parts.view.tallyDetails === true && ofRow === undefined)
  for (const at of places(hasTally)) cells[at] = parts.rows.cellOver(ofRows, slotsAcross(parts, lines[at] as Line, across))
  return cells
}

/** The group of a level, or its part with one value of the key that goes across; undefined where it has none. */
function groupAcross({ level, group }: GroupNode, across: AcrossGroups | null): number | undefined {
  return across === null ? group : across.levels[level]?.get(group)
}

/** The rows of a line that is no group of its own, or those with one value of the key that goes across. */
function slotsAcross(parts: ViewParts, { slots }: Line, across: AcrossGroups | null): number[] {
  const all = [...(slots ?? [])]
  const level = parts.rows.acrossOf(0)
  return across === null ? all : all.filter((slot) => parts.rows.groupOf(level, slot) === across.value)
}

function sizeAcross(parts: ViewParts, line: Line, across: AcrossGroups): number {
  if (line.slots !== null) return slotsAcross(parts, line, across).length
  const group = groupAcross(line.node, across)
  return group === undefined ? 0 : parts.rows.sizeOf(parts.rows.acrossOf(line.level), group)
}

/** The key that a group has on a level; blank above its own. */
function keyAt(node: GroupNode, level: number): Cell {
  for (let at: GroupNode | null = node; at !== null; at = at.outer) if (at.level === level) return at.key
  return null
}
