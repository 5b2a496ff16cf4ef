import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { useEffect, useId, useRef, useState } from 'react'
import { shownColumns } from '../book/desk-book'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { datesFirst, startText, typedValue } from '../grid/typed-value'
import { BeadMark, beadKind } from '../look/bead'
import { cellText, counted, lookOf } from '../look/cell-text'
import { FormDialog } from './form-dialog'

/** One row as a form: a field for each column, what follows beside them, and a way to the rows around it. */
export function EntryForm({
  table,
  row,
  place,
  onGo,
  onClose,
}: {
  table: TableFacts
  /** Id of the row; null while there is none at the place. */
  row: number | null
  place: number
  /** Goes to another row, by its place. */
  onGo: (place: number) => void
  onClose: () => void
}) {
  const book = useDeskBook()
  const { revision } = useBookState()
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({})
  const [fault, setFault] = useState<string | null>(null)
  const { answer } = useAnswer(row === null ? null : JSON.stringify([table.name, row, revision]), () =>
    book.session.row(table.name, row as number),
  )
  const first = useRef<HTMLDivElement>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another row is begun from its first field.
  useEffect(() => {
    setTyped({})
    setFault(null)
    first.current?.querySelector<HTMLElement>('input:not(:disabled)')?.focus()
  }, [row])
  const columns = shownColumns(table)
  const cells = answer?.cells ?? {}
  const isOpen = (column: ColumnFacts): boolean => book.may.enter && !column.calculated && column.state !== 'stamp'
  const changed = columns.filter(({ name }) => typed[name] !== undefined && typed[name] !== startText(cells[name] ?? null))
  const keep = async (): Promise<boolean> => {
    if (changed.length === 0) return true
    const made = changed.map((column) => ({ column: column.name, typed: typedValue(typed[column.name] ?? '', column) }))
    const refused = made.flatMap((one) => ('refused' in one.typed ? [one.typed.refused] : []))
    setFault(refused[0] ?? null)
    if (refused.length > 0 || row === null) return false
    const set = made.map((one) => ({ row, column: one.column, value: 'value' in one.typed ? one.typed.value : null }))
    const dates = book.may.define ? datesFirst(table.name, changed, (at) => [typed[changed[at]?.name ?? ''] ?? '']) : []
    const operations = [...dates, { op: 'set-cells', table: table.name, cells: set } as Operation]
    const names = made.map((one) => one.column).join(', ')
    const isKept = await book.apply(operations, `${names} of row ${place} set`)
    if (isKept) setTyped({})
    else setFault(book.current().said?.text ?? null)
    return isKept
  }
  const go = async (to: number): Promise<void> => {
    if (await keep()) onGo(to)
  }
  const add = async (): Promise<void> => {
    if (!(await keep())) return
    if (await book.apply({ op: 'insert-rows', table: table.name, count: 1 }, 'A row added at the end')) onGo(table.rows + 1)
  }
  return (
    <FormDialog
      title={`Row ${counted(place)} of ${table.name}`}
      keep="Keep"
      isReady={changed.length > 0}
      onKeep={() => void keep()}
      onClose={onClose}
    >
      <div className="entry" ref={first}>
        {columns.map((column) => (
          <EntryField
            key={column.name}
            column={column}
            text={typed[column.name] ?? startText(cells[column.name] ?? null)}
            shown={cellText(cells[column.name], lookOf(column, [cells])).text}
            isOpen={isOpen(column)}
            onType={(text) => setTyped({ ...typed, [column.name]: text })}
          />
        ))}
      </div>
      {fault !== null && (
        <p className="card error" role="alert">
          {fault}
        </p>
      )}
      <div className="row">
        <button type="button" disabled={place <= 1} onClick={() => void go(place - 1)}>
          ‹ Row before
        </button>
        <button type="button" onClick={() => void go(place + 1)}>
          Row after ›
        </button>
        {book.may.enter && (
          <button type="button" onClick={() => void add()}>
            New row
          </button>
        )}
      </div>
    </FormDialog>
  )
}

function EntryField({
  column,
  text,
  shown,
  isOpen,
  onType,
}: {
  column: ColumnFacts
  text: string
  shown: string
  isOpen: boolean
  onType: (text: string) => void
}) {
  const { name, type, unit, properties } = column
  const { heading, choices = [] } = properties as { heading?: string; choices?: readonly string[] }
  const [id, list] = [useId(), useId()]
  return (
    <div className="field">
      <label htmlFor={id}>
        <BeadMark kind={beadKind(column)} /> {heading ?? name}
        <small>{unit ?? type}</small>
      </label>
      {isOpen ? (
        <input id={id} value={text} {...(choices.length > 0 && { list })} onChange={(event) => onType(event.target.value)} />
      ) : (
        <output id={id} className="calculated">
          {shown === '' ? '–' : shown}
        </output>
      )}
      {choices.length > 0 && (
        <datalist id={list}>
          {choices.map((choice) => (
            <option key={choice} value={choice} />
          ))}
        </datalist>
      )}
    </div>
  )
}
