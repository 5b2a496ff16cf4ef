import type { ColumnView } from 'mellow-abacus'
import { isNumeric } from '../display/cell-text'

/** The totals line's cell of a column. */
export function TotalCell({ column, text }: { column: ColumnView; text: string }) {
  const isError = text.startsWith('!')
  return (
    <span
      role="gridcell"
      tabIndex={-1}
      className={`cell ${isNumeric(column) ? 'numeric' : ''} ${isError ? 'error' : ''}`}
      title={isError ? `${column.summary().errors} cells of ${column.name} are errors, so there is no total` : text}
    >
      {text}
    </span>
  )
}

/** The heading of a column: its bead, name and unit; pressing it sorts. */
export function HeadCell({
  column,
  isPicked,
  sort,
  onSort,
}: {
  column: ColumnView
  isPicked: boolean
  sort: boolean | null
  onSort: () => void
}) {
  return (
    <span
      role="columnheader"
      aria-sort={sort === null ? 'none' : sort ? 'descending' : 'ascending'}
      className={`head-cell ${isNumeric(column) ? 'numeric' : ''} ${isPicked ? 'picked' : ''}`}
    >
      <button type="button" onClick={onSort} onKeyDown={(event) => event.stopPropagation()}>
        <span aria-hidden="true">{column.formula === null ? '○' : '●'}</span> {column.properties.heading ?? column.name}
        {column.properties.unit !== undefined && <span className="quiet"> {column.properties.unit}</span>}
        {sort !== null && <span aria-hidden="true"> {sort ? '↓' : '↑'}</span>}
      </button>
    </span>
  )
}
