import { Boundary, type Failed } from '../look/boundary'
import { saveBook } from '../views/saved-bytes'
import { useDeskBook } from './use-book'

/** A part of the page at a workbook: when it fails, the others go on, and nothing that was done is lost. */
export function PartOfDesk({
  name,
  children,
}: {
  /** What it is called where it says that it failed. */
  name: string
  children: React.ReactNode
}) {
  return <Boundary instead={(failed) => <FailedPart name={name} failed={failed} />}>{children}</Boundary>
}

function FailedPart({ name, failed }: { name: string; failed: Failed }) {
  const book = useDeskBook()
  return (
    <section className="failed-part card error" role="alert" aria-label={name}>
      <p>
        <strong>{name} cannot be shown.</strong> {failed.error.message}
      </p>
      <p>
        {book.source.isKept
          ? 'The workbook is as it was: every step is kept where it is served.'
          : 'The workbook is as it was. Save it before you load the page again, which forgets what is in this page only.'}
      </p>
      <div className="row">
        <button type="button" className="go" onClick={failed.again}>
          Try again
        </button>
        <button type="button" onClick={() => void saveBook(book)}>
          Save
        </button>
        <button type="button" onClick={() => location.reload()}>
          Load the page again
        </button>
      </div>
    </section>
  )
}
