import { displayOf } from '../../display/index.js'
import { counted } from '../../findings/index.js'
import { CellFault, printName } from '../../values/index.js'
import type { GroupedResult, ViewLine } from './grouped-view.js'

/** What there is to say of which rows a view or a chart is of. */
type RowsOf = Pick<GroupedResult, 'table' | 'where' | 'parameters' | 'rowCount' | 'keptCount'>

/** What a view or a chart says of itself: the table, the condition, the parameters, and how many of its rows are in it. */
export function viewHead({ table, where, keptCount, rowCount, parameters }: RowsOf): string {
  const given = parameters.map(({ name, value }) => `, ${printName(name)} ${value}`).join('')
  const of = keptCount === rowCount ? counted(rowCount, 'row') : `${keptCount} of ${counted(rowCount, 'row')}`
  return `${table}${where === null ? '' : ` where ${where}`}${given}: ${of}`
}

/** What stands above the keys of groups, where those are in one column. */
export function outlineHeading({ levels }: GroupedResult): string {
  return levels.join(' / ') || 'group'
}

/** What each line is called where keys are in one column: its key as it is displayed, `(blank)`, the code of an error. */
export function lineLabels(result: GroupedResult, locale = 'en'): string[] {
  const { columns, levels, slots, lines } = result
  const keys = levels.map((name) => columns.find((one) => one.name === name))
  const shows = keys.map((key) => (key === undefined ? String : (displayOf(key, locale) ?? String)))
  return Array.from(slots, (slot, at) => {
    const { kind, level, groupCount, rowNumber } = lines[at] as ViewLine
    if (kind === 'whole') return 'whole'
    if (kind === 'others') return `(others: ${counted(groupCount ?? 0, 'group')})`
    if (kind === 'row') return `row ${rowNumber}`
    const cell = keys[level - 1]?.storage?.read(slot) ?? null
    if (cell === null) return '(blank)'
    return cell instanceof CellFault ? String(cell) : (shows[level - 1] ?? String)(cell)
  })
}

/** True for columns that an outline of keys stands for. */
export function isOfOutline({ levels, ownColumns }: GroupedResult, name: string): boolean {
  return levels.includes(name) || ownColumns.includes(name)
}

/** A view without the lines deeper than a level, the whole kept. */
export function foldedAt(result: GroupedResult, level: number): GroupedResult {
  const folded = withLines(result, (line) => line.level <= level)
  // What is folded is not left out.
  return { ...folded, matched: result.matched - result.slots.length + folded.slots.length }
}

/** The first lines of a view, with the whole at the end whatever is left out. */
export function firstLines(result: GroupedResult, most: number): GroupedResult {
  if (result.slots.length <= most) return result
  return withLines(result, (line, at) => at < most - 1 || line.kind === 'whole')
}

function withLines(result: GroupedResult, isKept: (line: ViewLine, at: number) => boolean): GroupedResult {
  const { slots, lines } = result
  const kept = [...slots.keys()].filter((at) => isKept(lines[at] as ViewLine, at))
  return {
    ...result,
    slots: Int32Array.from(kept, (at) => slots[at] as number),
    lines: kept.map((at) => lines[at] as ViewLine),
  }
}
