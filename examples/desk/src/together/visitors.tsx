import type { Someone } from '@mellow-abacus/session'
import { useBookState } from '../book/use-book'
import type { Travel } from '../grid/travel'

/** Others who are at the workbook: where each of them is, and a way there. */
export function Visitors({ onTravel }: { onTravel: (to: Travel) => void }) {
  const { others, facts } = useBookState()
  if (others.length === 0) return null
  return (
    <ul className="visitors" aria-label="Who is here">
      {others.map((someone) => {
        const { id, place } = someone
        const columns = facts.tables.find(({ name }) => name === place?.table)?.columns
        const column = place?.column ?? columns?.[0]?.name
        return (
          <li key={id}>
            <button
              type="button"
              title={visitorText(someone)}
              aria-label={visitorText(someone)}
              disabled={place === null || column === undefined}
              onClick={() => {
                if (place === null || column === undefined) return
                onTravel({ table: place.table, column, ...(place.row !== undefined && { to: { row: place.row } }) })
              }}
            >
              {initials(someone)}
            </button>
          </li>
        )
      })}
    </ul>
  )
}

/** What someone is called. */
export const nameOf = ({ author }: Pick<Someone, 'author'>): string => author ?? 'someone'

function visitorText(someone: Someone): string {
  const { place } = someone
  const where = place === null ? '' : `, at ${place.table}${place.column === undefined ? '' : `, ${place.column}`}`
  return `${nameOf(someone)}${where}`
}

function initials(someone: Someone): string {
  const words = nameOf(someone)
    .split(/\s+/)
    .filter((word) => word !== '')
  return words
    .slice(0, 2)
    .map((word) => word.charAt(0).toUpperCase())
    .join('')
}
