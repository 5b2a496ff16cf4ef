import { countedOf } from '../look/cell-text'
import { useBookState, useDeskBook } from './use-book'

/** Whether what was done is kept, and where it is not, why. */
export function Saving() {
  const { source } = useDeskBook()
  const { saving, isLost, waiting, ended } = useBookState()
  const why =
    ended !== null
      ? 'the workbook cannot be had any more'
      : isLost || waiting.length > 0
        ? `no connection${waiting.length === 0 ? '' : `, ${countedOf(waiting.length, 'edit')} kept here`}`
        : saving === 'unsaved'
          ? 'it is in this page only'
          : null
  const isSaved = why === null || (isLost && waiting.length === 0)
  return (
    <small className={`saving ${why === null ? saving : 'unsaved'}`} role="status" title={source.isKept ? undefined : HERE}>
      {why === null ? saving : isSaved ? why : `not saved: ${why}`}
    </small>
  )
}

const HERE = 'What you do is kept in this page until you save it: Ctrl S.'
