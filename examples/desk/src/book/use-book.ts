import { useRevision } from '@mellow-abacus/react'
import { type ChangeSet, type Fix, type Operation, Refusal, type Workbook } from 'mellow-abacus'
import { useState } from 'react'
import { useFlushing } from './use-flushing'

/** A cell of the page: its row by id and its column by name. */
export interface CellPlace {
  readonly row: number
  readonly column: string
}

/** What the page says about the last thing that was done. */
interface Notice {
  readonly kind: 'done' | 'refused'
  readonly text: string
  /** Ways on after a refusal. */
  readonly fixes: readonly Fix[]
}

/** The workbook as the page uses it. */
export interface BookHandle {
  readonly book: Workbook
  readonly revision: number
  readonly notice: Notice | null
  /** The last change, whose cells are marked for a moment. */
  readonly lastChange: ChangeSet | null
  /** Applies operations; says what followed, or why it was refused. True when it was done. */
  apply(operations: Operation | Operation[]): boolean
  /** Applies the operations of a fix. */
  applyFix(fix: Fix): boolean
  turn(direction: 'undo' | 'redo'): void
  refuse(text: string): void
}

/** Follows a workbook: renders again after each change and keeps what is to be said about it. */
export function useBook(book: Workbook): BookHandle {
  const revision = useRevision(book)
  useFlushing(book)
  const [notice, setNotice] = useState<Notice | null>(null)
  const [lastChange, setLastChange] = useState<ChangeSet | null>(null)

  const tell = (change: ChangeSet | null, verb: string): void => {
    if (change === null) return setNotice({ kind: 'refused', text: `Nothing to ${verb.toLowerCase()}.`, fixes: [] })
    setLastChange(change)
    setNotice({ kind: 'done', text: `${verb}: ${whatFollowed(change)}`, fixes: [] })
  }
  const apply = (operations: Operation | Operation[]): boolean => {
    try {
      tell(book.apply(operations), 'Done')
      return true
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      const text = error.findings.map((finding) => finding.message).join(' ')
      setNotice({
        kind: 'refused',
        text,
        fixes: error.findings.flatMap((finding) => finding.fixes.filter((fix) => fix.operations !== undefined)),
      })
      return false
    }
  }
  return {
    book,
    revision,
    notice,
    lastChange,
    apply,
    applyFix: (fix) => fix.operations !== undefined && apply([...fix.operations] as Operation[]),
    turn: (direction) => tell(direction === 'undo' ? book.undo() : book.redo(), direction === 'undo' ? 'Undo' : 'Redo'),
    refuse: (text) => setNotice({ kind: 'refused', text, fixes: [] }),
  }
}

/** Which cells were recalculated, in words. */
function whatFollowed(change: ChangeSet): string {
  const cells = change.recalculated.map(
    ({ column, rows }) => `${column} ${rows === 1 ? '1 cell' : `${rows.toLocaleString('en')} cells`}`,
  )
  const found = change.findings.added.map((finding) => finding.message)
  return [cells.length === 0 ? 'nothing depends on it' : `recalculated ${cells.join(', ')}`, ...found].join('. ')
}
