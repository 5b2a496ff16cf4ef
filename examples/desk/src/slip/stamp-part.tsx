import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import { useState } from 'react'
import { useDeskBook } from '../book/use-book'

/** What a stamp says of itself. */
interface Stamp {
  readonly when: readonly string[]
  readonly on: 'first-fill' | 'each-change'
  readonly content: 'time' | 'author'
}

const CONTENTS = { time: 'the time', author: 'who it was' } as const
const TIMES = { 'first-fill': 'is first filled', 'each-change': 'changes' } as const

/** Has a column write itself: when, or by whom, others were filled or changed. */
export function StampPart({ table, column }: { table: TableFacts; column: ColumnFacts }) {
  const book = useDeskBook()
  const { stamp } = column.properties as { stamp?: Stamp }
  const [content, setContent] = useState<Stamp['content']>('time')
  const [on, setOn] = useState<Stamp['on']>('first-fill')
  const [when, setWhen] = useState<readonly string[]>([])
  const of = { op: 'set-stamp', table: table.name, column: column.name } as const
  if (stamp !== undefined)
    return (
      <div>
        <small className="soft">writes itself</small>
        <p>
          {CONTENTS[stamp.content]} when {stamp.when.join(' or ')} {TIMES[stamp.on]}
        </p>
        <button type="button" onClick={() => void book.apply({ ...of, stamp: null }, `${column.name} is typed again`)}>
          Type over it again
        </button>
      </div>
    )
  const watched = table.columns.filter((one) => one !== column && !one.calculated && one.state !== 'stamp')
  if (watched.length === 0) return null
  const make = (): void =>
    void book.apply({ ...of, stamp: { when: [...when], on, content } }, `${column.name} records ${CONTENTS[content]}`)
  return (
    <details>
      <summary>Have it write itself</summary>
      <label className="field">
        <span>records</span>
        <select value={content} onChange={(event) => setContent(event.target.value as Stamp['content'])}>
          {Object.entries(CONTENTS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="values">
        <legend>when one of these</legend>
        {watched.map(({ name }) => (
          <label key={name}>
            <input
              type="checkbox"
              checked={when.includes(name)}
              onChange={() => setWhen(when.includes(name) ? when.filter((one) => one !== name) : [...when, name])}
            />
            <span>{name}</span>
          </label>
        ))}
      </fieldset>
      <label className="field">
        <span>each time it</span>
        <select value={on} onChange={(event) => setOn(event.target.value as Stamp['on'])}>
          {Object.entries(TIMES).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <button type="button" disabled={when.length === 0} onClick={make}>
        Make it a stamp
      </button>
    </details>
  )
}
