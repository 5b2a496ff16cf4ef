import type { ChartDefinition } from 'mellow-abacus'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { ViewHead } from './report-view'

/** A chart that is kept, as a drawing; it follows the workbook. */
export function ChartView({ name, onEdit }: { name: string; onEdit: () => void }) {
  return (
    <div className="view chart-view">
      <ViewHead name={name} kind="chart" onEdit={onEdit} />
      <Drawing chart={name} label={`Chart ${name}`} />
    </div>
  )
}

/** A chart drawn: one that is kept, by its name, or one as its definition says. */
export function Drawing({ chart, label }: { chart: string | ChartDefinition; label: string }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const { answer, fault } = useAnswer(JSON.stringify([chart, revision]), async () => {
    const bytes = await session.exported({ chart }, 'svg')
    return `data:image/svg+xml;charset=utf-8,${encodeURIComponent(new TextDecoder().decode(bytes))}`
  })
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return <p role="status">Drawing…</p>
  return <img src={answer} alt={label} />
}
