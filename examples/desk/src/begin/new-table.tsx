import { useState } from 'react'
import { FormDialog } from '../views/form-dialog'

/** Asks what a new table is called, which columns it has, and how many rows it begins with. */
export function NewTable({
  taken,
  onMake,
  onClose,
}: {
  /** Names of the tables that there are. */
  taken: readonly string[]
  onMake: (table: string, columns: readonly string[], rows: number) => void
  onClose: () => void
}) {
  const [name, setName] = useState('')
  const [columns, setColumns] = useState('')
  const [rows, setRows] = useState('10')
  const names = columns.split(',').flatMap((part) => (part.trim() === '' ? [] : [part.trim()]))
  const isTaken = taken.some((one) => one.toLowerCase() === name.trim().toLowerCase())
  const isReady = name.trim() !== '' && !isTaken && names.length > 0 && /^\d{1,6}$/.test(rows)
  return (
    <FormDialog
      title={'New table'}
      keep="Make the table"
      isReady={isReady}
      onKeep={() => onMake(name.trim(), names, Number(rows))}
      onClose={onClose}
    >
      <label className="field">
        <span>name</span>
        <input value={name} onChange={(event) => setName(event.target.value)} placeholder="jars" />
      </label>
      {isTaken && <p className="card error">There is a table called {name.trim()} already; choose another name.</p>}
      <label className="field">
        <span>columns</span>
        <input value={columns} onChange={(event) => setColumns(event.target.value)} placeholder="day, apiary, jars" />
      </label>
      <p className="soft">Commas between the names. A column takes its type from the first value that is typed into it.</p>
      <label className="field">
        <span>rows</span>
        <input value={rows} inputMode="numeric" onChange={(event) => setRows(event.target.value)} />
      </label>
    </FormDialog>
  )
}
