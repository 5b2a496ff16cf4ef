import type { TableFacts } from '@mellow-abacus/session'
import { tidyDecimalsFor } from 'mellow-abacus/display'
import { cellText, type Look, lookOf } from '../look/cell-text'
import type { PreviewedDraft } from './use-draft-preview'

/** Rows that say most about a draft lie over the first rows of the grid, with the reason each was picked. */
export function SampleRows({ table, previewed }: { table: TableFacts; previewed: PreviewedDraft }) {
  const { parts, preview } = previewed
  if (preview === null || parts === null || preview.type === null || preview.rows.length === 0) return null
  const sizes = preview.rows.flatMap(({ result }) => (typeof result === 'number' ? [Math.abs(result)] : []))
  const decimals = sizes.length === 0 ? undefined : tidyDecimalsFor(sizes, true)
  const look: Look = { type: preview.type, ...(decimals !== undefined && { decimals }) }
  const sources = Object.keys(preview.rows[0]?.sources ?? {})
  const sample = preview.rows.map((row) => row.sources)
  const looks = new Map(table.columns.map((column) => [column.name, lookOf(column, sample)]))
  return (
    <div className="samples">
      <table aria-label={`What ${parts.name} would give`}>
        <thead>
          <tr>
            <th scope="col">row</th>
            {sources.map((name) => (
              <th scope="col" key={name}>
                {name}
              </th>
            ))}
            <th scope="col" className="draft">
              {parts.name}
            </th>
            <th scope="col">why this row</th>
          </tr>
        </thead>
        <tbody>
          {preview.rows.map(({ row, rowNumber, sources: values, result, why }) => (
            <tr key={row}>
              <td className="row-number">{rowNumber}</td>
              {sources.map((name) => (
                <Shown key={name} value={values[name]} look={looks.get(name) ?? { type: null }} />
              ))}
              <Shown value={result} look={look} isDraft />
              <td className="why">{why}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Shown({ value, look, isDraft = false }: { value: Parameters<typeof cellText>[0]; look: Look; isDraft?: boolean }) {
  const { text, kind } = cellText(value, look)
  const isNumber = typeof value === 'number'
  return <td className={`${kind} ${isNumber ? 'numeric' : ''} ${isDraft ? 'draft' : ''}`}>{kind === 'blank' ? 'blank' : text}</td>
}
