import { CellFault, counted, displayOf, type GroupedResult, printName, type QueryResult, type ViewLine } from 'mellow-abacus'
import type { Paint } from '../shell/index.js'
import { heading, layOut, type ShownCell, shownRows, type WayToShow } from './table-text.js'

/** Lines of a grouped view for the eye: groups set in under the one around them, bold; the whole at the end. */
export function groupedText(
  result: GroupedResult,
  { name = 'table', where, ...way }: { readonly name?: string; readonly where?: string } & WayToShow,
  paint: Paint,
  width: number,
): string {
  const values = result.columns.filter(({ name }) => !isOfOutline(result, name))
  const { slots, lines, levels } = result
  const rows = shownRows({ ...result, columns: values }, way)
  const outline = outlineOf(result, way.locale)
  const head = { text: levels.join(' / ') || 'group', isLeft: true, painted: paint.strong }
  const cells = Array.from(slots, (_, at): ShownCell[] => {
    const isGroup = lines[at]?.kind !== 'row'
    const painted = (text: string): string => (isGroup ? paint.strong(text) : text)
    const own = (rows[at] as string[]).map((text): ShownCell => {
      const isError = text.startsWith('!')
      return { text, painted: isError ? paint.error : painted }
    })
    return [{ text: outline[at] as string, painted }, ...own]
  })
  const body = layOut([head, ...values.map((column) => heading(column, paint))], cells, {
    wanted: values.map(({ calculated }) => calculated),
    width,
    paint,
    more: result.matched - slots.length,
    unit: 'line',
  })
  return `${paint.quiet(headLine(name, where, result))}\n${body}`
}

/** True for lines in groups, where those are not the innermost ones alone. */
export function isGrouped(result: QueryResult): result is GroupedResult {
  return 'isFlat' in result && result.isFlat === false
}

/** Why `--columns` is refused in groups. */
export const COLUMNS_OF_GROUPS = '--columns does not go with groups, whose columns are --column, --tally and --line'

/** What the view says of itself: the table, the condition, and how many of its rows are in it. */
function headLine(table: string, where: string | undefined, { keptCount, rowCount, parameters }: GroupedResult): string {
  const given = parameters.map(({ name: of, value }) => `, ${printName(of)} ${value}`).join('')
  const of = keptCount === rowCount ? counted(rowCount, 'row') : `${keptCount} of ${counted(rowCount, 'row')}`
  return `${table}${where === undefined ? '' : ` where ${where}`}${given}: ${of}`
}

/** True for columns that the outline stands for. */
function isOfOutline({ levels, ownColumns }: GroupedResult, name: string): boolean {
  return levels.includes(name) || ownColumns.includes(name)
}

/** The first column: the key of each group, set in by its level. */
function outlineOf(result: GroupedResult, locale = 'en'): string[] {
  const { columns, levels, slots, lines } = result
  const keys = levels.map((name) => columns.find((one) => one.name === name))
  return Array.from(slots, (slot, at) => {
    const line = lines[at] as ViewLine
    const setIn = '  '.repeat(Math.max(0, line.level - 1))
    if (line.kind === 'whole') return 'whole'
    if (line.kind === 'others') return `${setIn}(others: ${counted(line.groupCount ?? 0, 'group')})`
    if (line.kind === 'row') return `${setIn}row ${line.rowNumber}`
    const key = keys[line.level - 1]
    const cell = key?.storage?.read(slot) ?? null
    if (cell === null) return `${setIn}(blank)`
    if (cell instanceof CellFault) return `${setIn}${String(cell)}`
    return setIn + (key === undefined ? String(cell) : (displayOf(key, locale) ?? String)(cell))
  })
}

/** The first lines of a view, with the whole at the end whatever is left out. */
export function firstLines(result: GroupedResult, most: number): GroupedResult {
  const { slots, lines } = result
  if (slots.length <= most) return result
  const kept = [...slots.keys()].filter((at) => at < most - 1 || lines[at]?.kind === 'whole')
  return {
    ...result,
    slots: Int32Array.from(kept, (at) => slots[at] as number),
    lines: kept.map((at) => lines[at] as ViewLine),
  }
}
