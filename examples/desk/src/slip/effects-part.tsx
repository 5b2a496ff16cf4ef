import type { PreviewAnswer, SessionValue, TableFacts } from '@mellow-abacus/session'
import { useEffect, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { cellText, counted, countedOf, lookOf } from '../look/cell-text'

/** Milliseconds without a key before it is asked what else would change. */
const CALM_MS = 500
/** Rows above which that is asked only when one wants to know: it calculates all of them. */
const MOST_AT_ONCE = 100_000

/** What else a changed formula would change: each column that would follow, how many cells, and a row of it before and after. */
export function EffectsPart({ table, column, formula }: { table: TableFacts; column: string; formula: string }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const [isWanted, setWanted] = useState(table.rows <= MOST_AT_ONCE)
  const calm = useCalmText(formula)
  const key = isWanted && calm !== null ? JSON.stringify([table.name, column, calm, revision]) : null
  const { answer } = useAnswer(key, async () => {
    const operation = { op: 'change-column', table: table.name, column, set: { formula: calm ?? '' } } as const
    return { formula: calm, columns: (await session.preview(operation)).columns }
  })
  if (!isWanted)
    return (
      <button type="button" onClick={() => setWanted(true)}>
        What else would change?
      </button>
    )
  // What is on its way, or was refused, is told by what is said of the formula itself.
  if (answer === null || answer.formula !== formula) return null
  const own = answer.columns.filter((one) => one.changed > 0)
  if (own.length === 0) return <p className="soft">No cell would change.</p>
  return (
    <section aria-label="What would change" className="effects">
      <small className="soft">would change</small>
      <ul className="plain">
        {own.map((one) => (
          <Effect key={`${one.table} ${one.column}`} effect={one} isHere={one.table === table.name} />
        ))}
      </ul>
    </section>
  )
}

function Effect({ effect, isHere }: { effect: PreviewAnswer['columns'][number]; isHere: boolean }) {
  const { table, column, changed, rows } = effect
  const { facts } = useBookState()
  const [first] = rows
  const found = facts.tables.find(({ name }) => name === table)?.columns.find(({ name }) => name === column)
  const look = found === undefined ? { type: null } : lookOf(found, [{ [column]: first?.before ?? null }])
  const shown = (value: SessionValue): string => cellText(value, look).text || 'blank'
  return (
    <li>
      <b>{isHere ? column : `${table}.${column}`}</b> {countedOf(changed, 'cell')}
      {first !== undefined && first.before !== undefined && (
        <small className="soft">
          {' '}
          row {counted(first.rowNumber)}: {shown(first.before)} → {shown(first.result)}
        </small>
      )}
    </li>
  )
}

function useCalmText(text: string): string | null {
  const [calm, setCalm] = useState<string | null>(null)
  useEffect(() => {
    const timer = setTimeout(() => setCalm(text), CALM_MS)
    return () => clearTimeout(timer)
  }, [text])
  return calm
}
