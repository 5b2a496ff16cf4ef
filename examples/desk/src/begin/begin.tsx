import { type DragEvent, useRef, useState } from 'react'
import type { ServerHere } from '../book/arrival'
import { BooksHere } from './books-here'

/** Endings of files of rows that are read. */
export const ROW_FILES = '.csv,.tsv,.tab,.json,.ndjson,.jsonl,.xlsx,.arrow,.arrows,.feather,.parquet'

/** What the page can begin with. */
export interface BeginCalls {
  newTable(): void
  openFiles(files: readonly File[]): void
  demo(): void
  openHere(here: ServerHere, name: string): void
}

/** The empty page: four ways to begin. */
export function Begin({
  isOpening,
  fault,
  here,
  calls,
}: {
  isOpening: boolean
  fault: string | null
  here: ServerHere | null
  calls: BeginCalls
}) {
  const picker = useRef<HTMLInputElement>(null)
  const [isOver, setOver] = useState(false)
  const drop = (event: DragEvent): void => {
    event.preventDefault()
    setOver(false)
    calls.openFiles([...event.dataTransfer.files])
  }
  return (
    <main
      className={`begin ${isOver ? 'over' : ''}`}
      onDragOver={(event) => {
        event.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <Mark />
      <h1>Mellow Abacus</h1>
      <p className="soft">Columns that calculate themselves. Begin with rows of your own, or look at a workbook that is there.</p>
      <div className="ways">
        <button type="button" className="way go" onClick={() => picker.current?.click()}>
          <b>Open a file</b>
          <small>CSV, TSV, JSON, NDJSON, XLSX, Arrow, Parquet, or a bundle. It can be dropped here as well.</small>
        </button>
        <button type="button" className="way" onClick={calls.newTable}>
          <b>New table</b>
          <small>Name its columns, type or paste its rows.</small>
        </button>
        <button type="button" className="way" onClick={calls.demo}>
          <b>Look at the demo</b>
          <small>A honey co-operative: hives, inspections, harvests, weather.</small>
        </button>
      </div>
      {!isOpening && <BooksHere known={here} onOpen={calls.openHere} />}
      <input
        ref={picker}
        type="file"
        hidden
        multiple
        aria-label="Files to open"
        accept={`${ROW_FILES},.bundle,.zip`}
        onChange={(event) => {
          calls.openFiles([...(event.target.files ?? [])])
          event.target.value = ''
        }}
      />
      {isOpening && <p role="status">Opening…</p>}
      {fault !== null && (
        <p role="alert" className="card error">
          {fault}
        </p>
      )}
    </main>
  )
}

/** Our mark: beads on a rod. */
export function Mark() {
  return (
    <svg className="mark" width={44} height={16} aria-hidden="true">
      <path className="rod-line" d="M0 8H44" />
      <g className="bead source">
        <circle cx={10} cy={8} r={5.5} />
      </g>
      <g className="bead calculated">
        <circle cx={24} cy={8} r={6.5} />
      </g>
      <g className="bead draft">
        <circle cx={37} cy={8} r={5.5} />
      </g>
    </svg>
  )
}
