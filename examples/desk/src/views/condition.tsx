import { Popover, PopoverDisclosure, PopoverProvider } from '@ariakit/react'
import type { SessionValue, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useEffect, useState } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { counted, countedOf, isNumeric } from '../look/cell-text'
import { conditionOf } from '../look/condition-of'

/** Values that are offered to be picked. */
const MOST_VALUES = 40

/** How many rows are shown, and the condition that says which: written as a formula, or picked from the values of a column. */
export function Condition({
  table,
  where,
  column,
  isOpen,
  onOpen,
  onWhere,
}: {
  table: TableFacts
  where: string
  /** The column whose values are offered. */
  column: string | null
  isOpen: boolean
  onOpen: (open: boolean) => void
  onWhere: (where: string) => void
}) {
  const { session } = useDeskBook()
  const { revision } = useBookState()
  const { answer } = useAnswer(where === '' ? null : JSON.stringify([table.name, where, revision]), () =>
    session.query({ table: table.name, where, columns: [], limit: 1 }),
  )
  const rows = where === '' ? countedOf(table.rows, 'row') : `${counted(answer?.matched ?? 0)} of ${countedOf(table.rows, 'row')}`
  const of = table.columns.find(({ name }) => name === column)
  return (
    <>
      <PopoverProvider open={isOpen} setOpen={onOpen} placement="top-end">
        <PopoverDisclosure className={`quiet-button rows-shown ${where === '' ? '' : 'is-part'}`}>
          {rows}
          {where !== '' && <code>{where}</code>}
        </PopoverDisclosure>
        <Popover unmountOnHide className="popover condition" gutter={8} portal aria-label="Rows shown">
          <Written where={where} onWhere={onWhere} />
          {of !== undefined && <Picked key={of.name} table={table} column={of.name} isNumber={isNumeric(of)} onWhere={onWhere} />}
        </Popover>
      </PopoverProvider>
      {where !== '' && (
        <button
          type="button"
          className="icon-button"
          aria-label="Show all rows"
          title="Show all rows"
          onClick={() => onWhere('')}
        >
          ×
        </button>
      )}
    </>
  )
}

function Written({ where, onWhere }: { where: string; onWhere: (where: string) => void }) {
  const [text, setText] = useState(where)
  useEffect(() => setText(where), [where])
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        onWhere(text.trim())
      }}
    >
      <label className="field">
        <span>rows where</span>
        <input value={text} onChange={(event) => setText(event.target.value)} placeholder="infestation > 3 and stores_kg < 8" />
      </label>
      <div className="row">
        <button type="submit" className="go">
          Show them
        </button>
        <button type="button" onClick={() => onWhere('')}>
          Show all rows
        </button>
      </div>
    </form>
  )
}

function Picked({
  table,
  column,
  isNumber,
  onWhere,
}: {
  table: TableFacts
  column: string
  isNumber: boolean
  onWhere: (where: string) => void
}) {
  const { session } = useDeskBook()
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  const [least, setLeast] = useState('')
  const [most, setMost] = useState('')
  const name = printName(column)
  const { answer } = useAnswer(isNumber ? null : JSON.stringify([table.name, column]), () =>
    session.report({
      table: table.name,
      levels: [{ name: 'value', key: name }],
      tallies: [{ name: 'rows', formula: 'count()' }],
      order: [{ by: 'rows', descending: true }],
      limit: MOST_VALUES,
    }),
  )
  if (isNumber)
    return (
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault()
          const parts = [least === '' ? '' : `${name} >= ${Number(least)}`, most === '' ? '' : `${name} <= ${Number(most)}`]
          onWhere(parts.filter((part) => part !== '').join(' and '))
        }}
      >
        <span>{column} from</span>
        <input
          className="short"
          aria-label="from"
          inputMode="decimal"
          value={least}
          onChange={(event) => setLeast(event.target.value)}
        />
        <span>to</span>
        <input
          className="short"
          aria-label="to"
          inputMode="decimal"
          value={most}
          onChange={(event) => setMost(event.target.value)}
        />
        <button type="submit">Show</button>
        <button type="button" onClick={() => onWhere(`${name} is blank`)}>
          only blanks
        </button>
      </form>
    )
  const at = (of: string): number => answer?.columns.findIndex((one) => one.name === of) ?? -1
  const groups = (answer?.lines ?? []).flatMap(({ kind, values }) =>
    kind === 'group' ? [{ value: values[at('value')] as SessionValue, rows: values[at('rows')] }] : [],
  )
  const isDate = ['date', 'datetime'].includes(table.columns.find((one) => one.name === column)?.type ?? '')
  const pick = (next: ReadonlySet<string>): void => {
    setPicked(next)
    onWhere(
      conditionOf(
        name,
        [...next].map((text) => JSON.parse(text) as SessionValue),
        isDate,
      ),
    )
  }
  return (
    <fieldset className="values">
      <legend>{column} is</legend>
      {groups.map(({ value, rows }) => {
        const key = JSON.stringify(value)
        return (
          <label key={key}>
            <input
              type="checkbox"
              checked={picked.has(key)}
              onChange={() => {
                const next = new Set(picked)
                if (!next.delete(key)) next.add(key)
                pick(next)
              }}
            />
            <span>{value === null ? '(blank)' : typeof value === 'object' ? '(error)' : String(value)}</span>
            <small>{typeof rows === 'number' ? counted(rows) : ''}</small>
          </label>
        )
      })}
    </fieldset>
  )
}
