import { type ColumnPreview, type ShownValue, type TableView, tidyDecimalsFor } from 'mellow-abacus'
import { cellText, type NumberLook } from '../display/cell-text'

/** What a definition would give, on the rows that tell most about it. */
export function PreviewTable({ preview, name, table }: { preview: ColumnPreview; name: string; table: TableView }) {
  const sizes = preview.rows.flatMap(({ result }) => (typeof result === 'number' ? [Math.abs(result)] : []))
  const resultDecimals = tidyDecimalsFor(sizes, true)
  const sources = [...(preview.rows[0]?.sources.keys() ?? [])]
  return (
    <table className="preview" aria-label={`What ${name} would give`}>
      <thead>
        <tr>
          <th scope="col">row</th>
          {sources.map((source) => (
            <th scope="col" key={source}>
              ○ {source}
            </th>
          ))}
          <th scope="col" className="calculated">
            ● {name}
          </th>
          <th scope="col">why this row</th>
        </tr>
      </thead>
      <tbody>
        {preview.rows.map((row) => (
          <tr key={row.row}>
            <td>{row.rowNumber}</td>
            {sources.map((source) => (
              <td key={source}>
                <Shown value={row.sources.get(source)} look={table.column(source).properties} />
              </td>
            ))}
            <td className="calculated">
              <Shown value={row.result} look={{ decimals: resultDecimals }} />
            </td>
            <td className="quiet">{row.why}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Shown({ value, look }: { value: ShownValue | undefined; look: NumberLook }) {
  const { text, kind } = cellText(value, look)
  return <span className={kind}>{kind === 'blank' ? 'blank' : text}</span>
}
