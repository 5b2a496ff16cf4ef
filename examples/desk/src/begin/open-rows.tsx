import { formatOfName, type ReadableFormat } from '@mellow-abacus/files'
import type { ValueType } from 'mellow-abacus'
import { useEffect, useState } from 'react'
import type { ReadFile } from '../book/of-worker'
import { readFileOfRows } from '../book/sources'
import { counted, countedOf } from '../look/cell-text'
import { FormDialog } from '../views/form-dialog'

/** A table as it is to be made of a file. */
export interface MadeOfFile {
  readonly table: string
  readonly read: ReadFile
}

const TYPES: readonly ValueType[] = ['number', 'integer', 'text', 'boolean', 'date', 'datetime']
/** Rows of a file that its report shows. */
const SHOWN_ROWS = 5

/** What was found in a file, before it becomes a table: reading options, columns with their types, and what is to be known of it. */
export function OpenRows({
  file,
  taken,
  onTake,
  onClose,
}: {
  file: File
  taken: readonly string[]
  onTake: (made: MadeOfFile) => void
  onClose: () => void
}) {
  const [name, setName] = useState(() => freeName(file.name, taken))
  const [delimiter, setDelimiter] = useState('')
  const [decimal, setDecimal] = useState('.')
  const [types, setTypes] = useState<ReadonlyMap<string, { readonly type: ValueType }>>(new Map())
  const [read, setRead] = useState<ReadFile | null>(null)
  const [fault, setFault] = useState<string | null>(null)
  const format: ReadableFormat = formatOfName(file.name) ?? 'csv'
  const isText = format === 'csv' || format === 'tsv'
  useEffect(() => {
    let isOld = false
    const options = { decimal, ...(delimiter !== '' && { delimiter }), duplicates: 'rename' as const, types }
    file
      .arrayBuffer()
      .then((bytes) => readFileOfRows({ bytes: new Uint8Array(bytes), format, options: isText ? options : { types } }))
      .then(
        (found) => {
          if (isOld) return
          setRead(found)
          setFault(null)
        },
        (error: Error) => {
          if (!isOld) setFault(error.message)
        },
      )
    return () => {
      isOld = true
    }
  }, [file, format, isText, delimiter, decimal, types])
  const isTaken = taken.some((one) => one.toLowerCase() === name.trim().toLowerCase())
  const isReady = read !== null && fault === null && name.trim() !== '' && !isTaken
  return (
    <FormDialog
      title={file.name}
      keep={read === null ? 'Take' : `Take ${countedOf(read.rowCount, 'row')}`}
      isReady={isReady}
      isWide
      onKeep={() => read !== null && onTake({ table: name.trim(), read })}
      onClose={onClose}
    >
      <div className="fields">
        <label className="field">
          <span>table</span>
          <input value={name} onChange={(event) => setName(event.target.value)} />
        </label>
        {isText && (
          <>
            <label className="field">
              <span>between cells</span>
              <select value={delimiter} onChange={(event) => setDelimiter(event.target.value)}>
                <option value="">as found</option>
                <option value=",">comma</option>
                <option value=";">semicolon</option>
                <option value={'\t'}>tab</option>
                <option value="|">bar</option>
              </select>
            </label>
            <label className="field">
              <span>decimal mark</span>
              <select value={decimal} onChange={(event) => setDecimal(event.target.value)}>
                <option value=".">point</option>
                <option value=",">comma</option>
              </select>
            </label>
          </>
        )}
      </div>
      {isTaken && <p className="card error">There is a table called {name.trim()} already; choose another name.</p>}
      {fault !== null && <p className="card error">{fault}</p>}
      {read === null && fault === null && <p role="status">Reading…</p>}
      {read !== null && fault === null && (
        <Report read={read} onType={(column, type) => setTypes(new Map(types).set(column, { type }))} />
      )}
    </FormDialog>
  )
}

function Report({
  read: { columns, rowCount, findings },
  onType,
}: {
  read: ReadFile
  onType: (column: string, type: ValueType) => void
}) {
  return (
    <>
      <p className="soft">
        {countedOf(rowCount, 'row')}, {countedOf(columns.length, 'column')}. Types are those that all values fit; another one
        keeps texts that do not fit it, and counts them.
      </p>
      {findings.map(({ message }) => (
        <p className="card warning" key={message}>
          {message}
        </p>
      ))}
      <div className="report-table">
        <table>
          <thead>
            <tr>
              {columns.map(({ name, type, misfits, blanks }) => (
                <th scope="col" key={name}>
                  {name}
                  <small>
                    <select
                      aria-label={`type of ${name}`}
                      value={type ?? ''}
                      onChange={(event) => onType(name, event.target.value as ValueType)}
                    >
                      {type === null && <option value="">blank</option>}
                      {TYPES.map((one) => (
                        <option key={one}>{one}</option>
                      ))}
                    </select>
                    {blanks > 0 && ` · ${counted(blanks)} blank`}
                    {misfits > 0 && <em> · {countedOf(misfits, 'misfit')}</em>}
                  </small>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: Math.min(SHOWN_ROWS, rowCount) }, (_, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file have nothing else by which they are told apart.
              <tr key={row}>
                {columns.map(({ name, cells }) => (
                  <td key={name}>{cellOfFile(cells[row])}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

function cellOfFile(cell: ReadFile['columns'][number]['cells'][number] | undefined): string {
  if (cell === null || cell === undefined) return ''
  if (typeof cell !== 'object') return String(cell)
  return 'misfit' in cell ? cell.misfit : `!${cell.error}`
}

/** A name for the table of a file that no other one has. */
function freeName(file: string, taken: readonly string[]): string {
  const base = file.replace(/\.[^.]+$/, '').replace(/[^\p{L}\p{N}_]+/gu, '_') || 'rows'
  const isTaken = (name: string): boolean => taken.some((one) => one.toLowerCase() === name.toLowerCase())
  let name = base
  for (let number = 2; isTaken(name); number++) name = `${base}_${number}`
  return name
}
