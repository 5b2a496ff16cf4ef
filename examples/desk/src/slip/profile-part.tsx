import type { ColumnFacts, SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { keyText } from '../grid/group-line'
import { counted, type Look, lookOf } from '../look/cell-text'
import { conditionOf } from '../look/condition-of'
import { Distribution } from '../look/distribution'
import type { SlipCalls } from './slip-calls'

/** What a column holds: how much, between what, and what occurs most; each leads to its rows. */
export function ProfilePart({ table, column, calls }: { table: TableFacts; column: ColumnFacts; calls: SlipCalls }) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const of = { table: table.name, column: column.name }
  const { answer } = useAnswer(JSON.stringify([of, revision]), () => session.profile(of))
  if (answer === null) return null
  const { values, blanks, errors, different, least, greatest, mean, median, commonest, steps } = answer
  const look = lookOf(column, [{ [column.name]: mean ?? least }])
  const name = printName(column.name)
  const isDate = column.type === 'date' || column.type === 'datetime'
  const count = (of: number, where: string) =>
    of === 0 ? (
      '0'
    ) : (
      <button type="button" className="chip" onClick={() => calls.showRows(table.name, where)}>
        {counted(of)}
      </button>
    )
  return (
    <section aria-label={`What ${column.name} holds`} className="profile">
      <small className="soft">what it holds</small>
      {steps.length > 1 && <Distribution steps={steps} width={308} height={44} label={shapeWords(steps)} />}
      {steps.length > 1 && (
        <div className="row ends">
          <small>{keyText(least, look)}</small>
          <small>{keyText(greatest, look)}</small>
        </div>
      )}
      <dl>
        <dt>values</dt>
        <dd>
          {counted(values)}, {counted(different)} different
        </dd>
        <dt>blank</dt>
        <dd>{count(blanks, `${name} is blank`)}</dd>
        <dt>errors</dt>
        <dd>{count(errors, `${name} is error`)}</dd>
        {edges(steps.length <= 1 && least !== null, look, { smallest: least, largest: greatest })}
        {edges(mean !== null, look, { mean, median })}
      </dl>
      {commonest.length > 0 && (
        <div className="row">
          {commonest.map(({ value, rows }) => (
            <button
              type="button"
              key={JSON.stringify(value)}
              className="chip"
              title={`Show the rows in which it is ${keyText(value, look)}`}
              onClick={() => calls.showRows(table.name, conditionOf(name, [value], isDate))}
            >
              {keyText(value, look)} <small>{counted(rows)}</small>
            </button>
          ))}
        </div>
      )}
    </section>
  )
}

function edges(isShown: boolean, look: Look, values: Readonly<Record<string, SessionValue>>) {
  if (!isShown) return null
  return Object.entries(values).map(([name, value]) => (
    <div key={name}>
      <dt>{name}</dt>
      <dd>{keyText(value, look)}</dd>
    </div>
  ))
}

/** A distribution in words: where most of it lies. */
function shapeWords(steps: readonly number[]): string {
  const at = steps.indexOf(Math.max(...steps))
  const third = Math.min(2, Math.floor((3 * at) / steps.length))
  return `Distribution: most values lie ${['among the smallest', 'in the middle', 'among the largest'][third]}`
}
