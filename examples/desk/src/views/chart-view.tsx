import { useAnswer, useBookState, useDeskBook } from '../book/use-book'

/** A chart that is kept, as a drawing; it follows the workbook. */
export function ChartView({ name }: { name: string }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const { answer, fault } = useAnswer(JSON.stringify([name, revision]), async () => {
    const bytes = await session.exported({ chart: name }, 'svg')
    return `data:image/svg+xml;charset=utf-8,${encodeURIComponent(new TextDecoder().decode(bytes))}`
  })
  if (fault !== null) return <p className="card error">{fault}</p>
  if (answer === null) return <p role="status">Drawing…</p>
  return (
    <div className="view chart-view">
      <h2>{name}</h2>
      <img src={answer} alt={`Chart ${name}`} />
    </div>
  )
}
