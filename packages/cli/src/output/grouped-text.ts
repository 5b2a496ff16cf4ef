import { counted, type GroupedResult, isOfOutline, lineLabels, outlineHeading, type QueryResult, viewHead } from 'mellow-abacus'
import type { Paint } from '../shell/index.js'
import { heading, layOut, type ShownCell, shownRows, type WayToShow } from './table-text.js'

/** Lines of a grouped view for the eye: groups set in under the one around them, bold; the whole at the end. */
export function groupedText(
  result: GroupedResult,
  { folded = 0, ...way }: WayToShow & { readonly folded?: number },
  paint: Paint,
  width: number,
): string {
  const values = result.columns.filter(({ name }) => !isOfOutline(result, name))
  const { slots, lines } = result
  const rows = shownRows({ ...result, columns: values }, way)
  const labels = lineLabels(result, way.locale)
  const head = { text: outlineHeading(result), isLeft: true, painted: paint.strong }
  const cells = Array.from(slots, (_, at): ShownCell[] => {
    const { kind, level = 0 } = lines[at] ?? {}
    const painted = (text: string): string => (kind === 'row' ? text : paint.strong(text))
    const own = (rows[at] as string[]).map((text): ShownCell => {
      const isError = text.startsWith('!')
      return { text, painted: isError ? paint.error : painted }
    })
    return [{ text: `${'  '.repeat(Math.max(0, level - 1))}${labels[at]}`, painted }, ...own]
  })
  const body = layOut([head, ...values.map((column) => heading(column, paint))], cells, {
    wanted: values.map(({ calculated }) => calculated),
    width,
    paint,
    more: result.matched - slots.length,
    unit: 'line',
    notes: folded === 0 ? [] : [`${counted(folded, 'line')} folded`],
  })
  return `${paint.quiet(viewHead(result))}\n${body}`
}

/** True for lines in groups, where those are not the innermost ones alone. */
export function isGrouped(result: QueryResult): result is GroupedResult {
  return 'isFlat' in result && result.isFlat === false
}

/** Why `--columns` is refused in groups. */
export const COLUMNS_OF_GROUPS = '--columns does not go with groups, whose columns are --column, --tally and --line'
