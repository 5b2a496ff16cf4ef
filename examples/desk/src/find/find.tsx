import { Combobox, ComboboxItem, ComboboxList, ComboboxProvider, Dialog } from '@ariakit/react'
import type { TableFacts } from '@mellow-abacus/session'
import { useMemo, useState } from 'react'
import type { May } from '../book/may'
import { useBookState } from '../book/use-book'
import { afterwards } from '../look/afterwards'
import { BeadMark, beadKind } from '../look/bead'
import { countedOf, fullText } from '../look/cell-text'
import { holdsText, LEAST_LETTERS } from './cells-found'
import { MOST_CELLS, useCellsFound } from './use-cells-found'

/** Something that can be done, with its key where it has one. */
export interface Command {
  /** What one must be allowed to do for it; nothing when left out. */
  readonly least?: keyof May
  readonly name: string
  readonly key?: string
  run(): void
}

interface Offer {
  readonly id: string
  readonly text: string
  readonly hint: string
  readonly mark?: React.ReactNode
  run(): void
}

/** Offers that are listed at once. */
const MOST = 40

/** One field to find any table, column, report or chart, and to do anything. */
export function Find({
  commands,
  table: here,
  onTravel,
  onRows,
  onView,
  onClose,
}: {
  commands: readonly Command[]
  /** The table that is looked at, whose columns are offered before those of others. */
  table: string | undefined
  onTravel: (table: string, column?: string, row?: number) => void
  /** Shows the rows of a table where something is true. */
  onRows: (table: string, where: string) => void
  onView: (kind: 'report' | 'chart', name: string) => void
  onClose: () => void
}) {
  const { facts } = useBookState()
  const [text, setText] = useState('')
  const tables = useMemo(
    () => facts.tables.toSorted((a, b) => Number(b.name === here) - Number(a.name === here)),
    [facts.tables, here],
  )
  const found = useCellsFound(tables, text)
  const offers: Offer[] = [
    ...commands.map(({ name, key, run }) => ({ id: `do ${name}`, text: name, hint: key ?? '', run })),
    ...tables.flatMap((table) => [
      { id: `table ${table.name}`, text: table.name, hint: 'table', run: () => onTravel(table.name) },
      ...table.columns.map((column) => ({
        id: `column ${table.name} ${column.name}`,
        text: column.name,
        hint: `${table.name}${column.type === null ? '' : ` · ${column.type}`}`,
        mark: <BeadMark kind={beadKind(column)} />,
        run: () => onTravel(table.name, column.name),
      })),
    ]),
    ...facts.reports.map(({ name }) => ({ id: `report ${name}`, text: name, hint: 'report', run: () => onView('report', name) })),
    ...facts.charts.map(({ name }) => ({ id: `chart ${name}`, text: name, hint: 'chart', run: () => onView('chart', name) })),
  ]
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  const fits = ({ text: of, hint }: Offer): boolean => words.every((word) => `${of} ${hint}`.toLowerCase().includes(word))
  const inCells = found.flatMap(({ table, where, rows, first }): Offer[] => [
    ...first.map(({ column, row, value, of }) => ({
      ...{ id: `cell ${table} ${column} ${row}`, text: fullText(value), hint: `${table} · ${column} · ${fullText(of)}` },
      run: () => onTravel(table, column, row),
    })),
    ...(rows > first.length
      ? [
          {
            ...{ id: `rows ${table}`, text: `All ${countedOf(rows, 'row')} of ${table} with “${text.trim()}”`, hint: 'cells' },
            run: () => onRows(table, where),
          },
        ]
      : []),
  ])
  const shown = [...bestFirst(offers.filter(fits), text).slice(0, MOST), ...inCells, ...largeTables(tables, text.trim(), onRows)]
  return (
    <Dialog
      open
      onClose={onClose}
      className="dialog find"
      backdrop={<div className="backdrop" />}
      aria-label="Find or do anything"
    >
      <ComboboxProvider open setValue={setText}>
        <Combobox autoSelect="always" className="find-field" placeholder="Find or do anything" autoFocus />
        <ComboboxList className="find-list" alwaysVisible>
          {shown.map((offer) => (
            <ComboboxItem
              key={offer.id}
              value={offer.id}
              setValueOnClick={false}
              className="find-item"
              onClick={() => {
                onClose()
                afterwards(offer.run)
              }}
            >
              {offer.mark}
              <span>{offer.text}</span>
              <small>{offer.hint}</small>
            </ComboboxItem>
          ))}
          {shown.length === 0 && (
            <p className="soft">Nothing here is called so, and no cell holds it. Try a part of a name or of a value.</p>
          )}
        </ComboboxList>
      </ComboboxProvider>
    </Dialog>
  )
}

/** What is called just so comes before what begins so, and that before what only has it in it. */
function bestFirst(offers: readonly Offer[], text: string): Offer[] {
  const sought = text.trim().toLowerCase()
  const rankOf = ({ text: of }: Offer): number => {
    const name = of.toLowerCase()
    return name === sought ? 0 : name.startsWith(sought) ? 1 : 2
  }
  return offers.toSorted((a, b) => rankOf(a) - rankOf(b))
}

/** Tables that are too large to be looked through by the way: they are when one asks for it. */
function largeTables(tables: readonly TableFacts[], sought: string, onRows: (table: string, where: string) => void): Offer[] {
  if (sought.length < LEAST_LETTERS) return []
  return tables.flatMap(({ name, rows, columns }): Offer[] => {
    const where = rows * columns.length > MOST_CELLS ? holdsText(columns, sought) : null
    if (where === null) return []
    const text = `Rows of ${name} with “${sought}”`
    return [{ id: `rows ${name}`, text, hint: `looks through ${countedOf(rows, 'row')}`, run: () => onRows(name, where) }]
  })
}
