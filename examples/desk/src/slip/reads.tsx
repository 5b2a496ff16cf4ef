import type { ColumnFacts, TableFacts } from '@mellow-abacus/session'
import { printName } from 'mellow-abacus/display'
import { useMemo } from 'react'
import { useAnswer, useBookState, useDeskBook } from '../book/use-book'
import { BeadMark, beadKind } from '../look/bead'
import type { SlipCalls } from './slip-calls'

/** What the column reads, and what reads it: as buttons that lead there. */
export function Reads({ table, column, calls }: { table: TableFacts; column: string; calls: SlipCalls }) {
  const { session } = useDeskBook()
  const { facts } = useBookState()
  const { answer } = useAnswer(JSON.stringify([table.name, column, facts.revision]), () =>
    session.trace(`${printName(table.name)}.${printName(column)}`),
  )
  const byAddress = useMemo(
    () =>
      new Map<string, { readonly of: TableFacts; readonly one: ColumnFacts }>(
        facts.tables.flatMap((of) =>
          of.columns.map((one) => [`${printName(of.name)}.${printName(one.name)}`, { of, one }] as const),
        ),
      ),
    [facts],
  )
  if (answer === null) return null
  const list = (title: string, addresses: readonly string[]) =>
    addresses.length === 0 ? null : (
      <>
        <dt>{title}</dt>
        <dd className="row">
          {[...new Set(addresses)].map((address) => {
            const found = byAddress.get(address)
            const text = found?.of === table ? found.one.name : address
            return found === undefined ? (
              <span key={address} className="chip">
                {address}
              </span>
            ) : (
              <button
                type="button"
                key={address}
                className="chip"
                onClick={() => calls.travel({ table: found.of.name, column: found.one.name })}
              >
                <BeadMark kind={beadKind(found.one)} />
                {text}
              </button>
            )
          })}
        </dd>
      </>
    )
  return (
    <dl>
      {list(
        'reads',
        answer.upstream.filter(({ depth }) => depth === 1).map(({ from }) => from),
      )}
      {list(
        'is read by',
        answer.downstream.filter(({ depth }) => depth === 1).map(({ to }) => to),
      )}
      {answer.shownIn.length > 0 && (
        <>
          <dt>shown in</dt>
          <dd>{[...new Set(answer.shownIn.map(({ view }) => view))].join(', ')}</dd>
        </>
      )}
    </dl>
  )
}
