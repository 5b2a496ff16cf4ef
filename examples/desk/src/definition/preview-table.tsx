import type { ColumnPreview, ShownValue, TableView } from 'mellow-abacus'
import { cellText } from '../display/cell-text'

/** What a definition would give, on the rows that tell most about it. */
export function PreviewTable({ preview, name, table }: { preview: ColumnPreview; name: string; table: TableView }) {
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
                <Shown value={row.sources.get(source)} decimals={table.column(source).properties.decimals} />
              </td>
            ))}
            <td className="calculated">
              <Shown value={row.result} decimals={undefined} />
            </td>
            <td className="quiet">{row.why}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function Shown({ value, decimals }: { value: ShownValue | undefined; decimals: number | undefined }) {
  const { text, kind } = cellText(value, decimals)
  return <span className={kind}>{kind === 'blank' ? 'blank' : text}</span>
}
