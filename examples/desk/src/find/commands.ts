import type { TableFacts } from '@mellow-abacus/session'
import type { DeskBook } from '../book/desk-book'
import type { LookedAt, TableLook } from '../grid/grid-calls'
import { nextBlank, nextError, type Sought } from '../grid/travel'
import type { SlipTab } from '../slip/slip-calls'
import type { Defined } from '../views/define-dialog'
import type { Command } from './find'

/** What commands are about and what they ask of the page. */
export interface CommandsAbout {
  readonly book: DeskBook
  readonly table: TableFacts | undefined
  readonly at: LookedAt
  readonly look: TableLook
  setLook(look: TableLook): void
  /** Goes to a row in the column that is picked. */
  travel(to: Sought): void
  addColumn(table: string, after: string | null): void
  addRow(): void
  newTable(): void
  newView(kind: 'report' | 'chart'): void
  define(first: Defined): void
  filter(): void
  map(): void
  form(): void
  openSlip(tab: SlipTab): void
  openFile(): void
  save(): void
  exportTable(): void
  leave(): void
}

/** All that can be done by name; what is about a column is there where one is picked. */
export function commandsOf(about: CommandsAbout): Command[] {
  const { book, table, at } = about
  return [
    ...makingCommands(about),
    ...(table === undefined || at.row === null ? [] : rowCommands(about, table, at.row)),
    ...(at.column === null ? [] : columnCommands(about, at.column)),
    { name: 'Save a bundle', key: 'Ctrl S', run: about.save },
    { name: 'Export the rows as CSV', run: about.exportTable },
    { name: 'Take back', least: 'edit', key: 'Ctrl Z', run: () => void book.turn('undo') },
    { name: 'Do again', least: 'edit', key: 'Ctrl Shift Z', run: () => void book.turn('redo') },
    { name: 'Show some rows only', run: about.filter },
    { name: 'Map of the model', run: about.map },
    { name: 'Show why', run: () => about.openSlip('why') },
    { name: 'Show findings', run: () => about.openSlip('findings') },
    { name: 'About the column', run: () => about.openSlip('column') },
    { name: 'Open a file of rows', least: 'define', run: about.openFile },
    { name: 'Open another workbook', run: about.leave },
  ]
}

function makingCommands({ table, at, ...about }: CommandsAbout): Command[] {
  const inTable: Command[] =
    table === undefined
      ? []
      : [
          { name: 'New calculated column', least: 'define', run: () => about.addColumn(table.name, at.column) },
          {
            name: 'New tally',
            least: 'define',
            run: () => about.define({ kind: 'tally', table: table.name, name: '', formula: '' }),
          },
          {
            name: 'New rule',
            least: 'define',
            run: () => about.define({ kind: 'rule', table: table.name, name: '', formula: '' }),
          },
          { name: 'Add a row', least: 'enter', run: about.addRow },
        ]
  return [
    ...inTable,
    { name: 'New table', least: 'define', run: about.newTable },
    { name: 'New report', least: 'define', run: () => about.newView('report') },
    { name: 'New chart', least: 'define', run: () => about.newView('chart') },
    { name: 'New function', least: 'define', run: () => about.define({ kind: 'function', table: '', name: '', formula: '' }) },
    { name: 'New named value', least: 'define', run: () => about.define({ kind: 'value', table: '', name: '', formula: '' }) },
  ]
}

function rowCommands(about: CommandsAbout, table: TableFacts, row: number): Command[] {
  const { book, at, look, form } = about
  const hasOutline = table.parent !== null && look.group === null
  const remove = { op: 'remove-rows', table: table.name, rows: [row] } as const
  const insert = { op: 'insert-rows', table: table.name, count: 1, before: row } as const
  const above: Command = {
    name: 'Put a row in above',
    least: 'enter',
    run: () => void book.apply(insert, `A row put in at ${at.place}`),
  }
  return [
    { name: 'Fill in the row as a form', run: form },
    // Between rows in another order than that of their table there is no place.
    ...(look.sorts.length > 0 || look.group !== null || (hasOutline && look.outline !== null) ? [] : [above]),
    ...(hasOutline ? outlineCommands(about) : []),
    { name: 'Remove the row', least: 'enter', run: () => void book.apply(remove, `Row ${at.place} removed`) },
  ]
}

function outlineCommands({ look, setLook }: CommandsAbout): Command[] {
  const { outline } = look
  if (outline === null) return [{ name: 'Rows below their parents', run: () => setLook({ ...look, outline: {} }) }]
  return [
    { name: 'Fold all rows', run: () => setLook({ ...look, outline: { levels: 1 } }) },
    { name: 'Unfold all rows', run: () => setLook({ ...look, outline: {} }) },
    { name: 'Rows as they stand, without the outline', run: () => setLook({ ...look, outline: null }) },
  ]
}

function columnCommands({ look, setLook, travel }: CommandsAbout, column: string): Command[] {
  const isGrouped = look.group?.column === column
  return [
    { name: `Go to the smallest ${column}`, run: () => travel({ end: 'smallest' }) },
    { name: `Go to the largest ${column}`, run: () => travel({ end: 'largest' }) },
    { name: `Go to the next blank ${column}`, run: () => travel(nextBlank(column)) },
    { name: `Go to the next error in ${column}`, run: () => travel(nextError(column)) },
    {
      name: isGrouped ? 'Rows in no groups' : `Rows in groups by ${column}`,
      run: () => setLook({ ...look, group: isGrouped ? null : { column, folded: [] } }),
    },
  ]
}
