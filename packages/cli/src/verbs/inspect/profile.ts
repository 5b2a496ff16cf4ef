import type { ChartFormat } from '@mellow-abacus/charts'
import type { WritableFormat } from '@mellow-abacus/files'
import { CellFault, type ColumnView, counted, displayNumber, type ShownValue, type WorkbookView } from 'mellow-abacus'
import { lookAt } from '../../books/index.js'
import { refuseBadPath, writeDrawing, writeResult } from '../../output/index.js'
import type { Io } from '../../shell/index.js'
import { UsageFault } from '../../shell/index.js'
import { recordRows } from './records.js'
import type { RowsArguments } from './rows-arguments.js'

/** What `mellow profile` is told. */
export interface ProfileArguments extends Omit<RowsArguments, 'to'> {
  readonly to?: RowsArguments['to'] | 'svg' | 'png'
  readonly dark?: boolean
}

/** Runs `mellow profile`: the facts of a column, or a drawing of how often its values occur. */
export async function runProfile(book: string, address: string, args: ProfileArguments, io: Io): Promise<number> {
  const { to, ...others } = args
  const drawn = to === 'svg' || to === 'png' || (to === undefined && /\.(svg|png)$/i.test(args.output ?? ''))
  if (args.output !== undefined) refuseBadPath(args.output)
  return lookAt(book, args, io, async ({ book: workbook }) => {
    const { kind, table, name } = workbook.addressed(address)
    if (kind !== 'column') throw new UsageFault(`only a column can be profiled, and ${address} is a ${kind}.`)
    if (drawn) return drawDistribution(workbook, table, name, args, io)
    const facts = profileOf(workbook.table(table).column(name))
    const columns = ['fact', 'value'].map((one) => ({ name: one, type: 'text' }))
    await writeResult(
      recordRows(columns, facts),
      { ...others, ...(to !== undefined && { to: to as WritableFormat | 'table' }) },
      io,
    )
    return undefined
  })
}

/** Draws how often the values of a column occur. */
async function drawDistribution(
  workbook: WorkbookView,
  table: string,
  name: string,
  args: ProfileArguments,
  io: Io,
): Promise<undefined> {
  const { distributionDrawing } = await import('@mellow-abacus/charts')
  const { locale } = workbook.surroundings
  const theme = args.dark === true ? 'dark' : 'light'
  const drawing = distributionDrawing(workbook.table(table).column(name), { table, locale, theme })
  const { to, ...others } = args
  await writeDrawing(drawing, { ...others, ...(to !== undefined && { to: to as ChartFormat }) }, io)
}

/** Values listed as the commonest. */
const MOST_LISTED = 5

function profileOf(column: ColumnView): { fact: string; value: string }[] {
  const { rows, values, blanks, errors, sum, mean, min, max } = column.summary()
  const cells = column.values()
  const known = cells.filter((cell) => cell !== null && !(cell instanceof CellFault))
  const counts = new Map<ShownValue, number>()
  for (const cell of known) counts.set(cell, (counts.get(cell) ?? 0) + 1)
  const numbers = known.filter((cell) => typeof cell === 'number')
  const commonest = [...counts].filter(([, count]) => count > 1).sort((a, b) => b[1] - a[1])
  const [first, ...others] = [min, max].map((end) => cells.find((cell) => cell === end) ?? end)
  const facts: [string, unknown][] = [
    ['type', column.type ?? 'none yet'],
    ['rows', rows],
    ['values', values],
    ['blanks', blanks],
    ['errors', errors],
    ['completeness', completenessText(column)],
    ['different values', counts.size],
    ['smallest', edge(cells, column, 'least') ?? first],
    ['largest', edge(cells, column, 'most') ?? others[0]],
    ...(numbers.length > 0
      ? ([
          ['zeros', numbers.filter((value) => value === 0).length],
          ['negative', numbers.filter((value) => value < 0).length],
          ['with a fraction', numbers.filter((value) => !Number.isInteger(value)).length],
          ['sum', sum],
          ['mean', mean],
        ] satisfies [string, unknown][])
      : []),
    ...commonest.slice(0, MOST_LISTED).map(([value, count]): [string, unknown] => [`${String(value)}`, `${count} times`]),
  ]
  return facts
    .filter(([, value]) => value !== null && value !== undefined)
    .map(([fact, value]) => ({ fact, value: typeof value === 'number' ? displayNumber(value) : String(value) }))
}

/** Such as `31 rows complete, 4 with blanks (stores 3, brood 1)`. */
function completenessText(column: ColumnView): string | null {
  const found = column.completeness()
  if (found === null) return null
  const blanks = found.blanks.map(({ column: name, rows }) => `${name} ${rows}`).join(', ')
  return `${counted(found.complete, 'row')} complete, ${found.withBlanks} with blanks${blanks === '' ? '' : ` (${blanks})`}`
}

/** The first or last value of dates, which are shown as texts whose order is theirs. */
function edge(cells: readonly ShownValue[], column: ColumnView, which: 'least' | 'most'): ShownValue {
  if (column.type !== 'date' && column.type !== 'datetime') return null
  const texts = cells.filter((cell): cell is string => typeof cell === 'string').sort()
  return (which === 'least' ? texts[0] : texts.at(-1)) ?? null
}
