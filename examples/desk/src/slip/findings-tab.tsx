import type { TableFacts } from '@mellow-abacus/session'
import type { Finding } from 'mellow-abacus'
import { useState } from 'react'
import { useBookState, useDeskBook } from '../book/use-book'
import { countedOf } from '../look/cell-text'
import { FindingCard } from './finding-card'
import { accept, mend } from './mend'
import { RowsOfFinding } from './rows-of-finding'
import type { SlipCalls } from './slip-calls'

const ORDER = { error: 0, warning: 1, hint: 2 } as const

/** All findings, the gravest first, those of this table before others: each leads to where it is, and has its ways on. */
export function FindingsTab({ table, calls }: { table: TableFacts; calls: SlipCalls }) {
  const book = useDeskBook()
  const { findings, facts } = useBookState()
  const [isAll, setAll] = useState(false)
  const sorted = [...findings].sort((a, b) => ORDER[a.severity] - ORDER[b.severity])
  const own = sorted.filter((one) => one.table === table.name)
  const shown = isAll ? sorted : own
  const elsewhere = findings.length - own.length
  const formulaOf = ({ table: of, column }: Finding): string | null =>
    facts.tables.find(({ name }) => name === of)?.columns.find(({ name }) => name === column)?.formula ?? null
  return (
    <>
      {shown.length === 0 && (
        <p className="soft">Nothing is to be said of {isAll ? 'this workbook' : table.name}: all is well.</p>
      )}
      {shown.map((finding) => (
        <FindingCard
          key={`${finding.table} ${finding.column} ${finding.code} ${finding.message}`}
          finding={finding}
          onFix={book.may.define ? (fix) => void mend(book, finding, fix, formulaOf(finding)) : null}
          {...(book.may.define && { onAccept: (because: string) => void accept(book, finding, because) })}
        >
          {finding.table !== undefined && finding.column !== undefined && (
            <button
              type="button"
              className="chip"
              onClick={() => calls.travel({ table: finding.table as string, column: finding.column as string })}
            >
              {finding.table === table.name ? finding.column : `${finding.table}.${finding.column}`}
            </button>
          )}
          <RowsOfFinding finding={finding} calls={calls} />
        </FindingCard>
      ))}
      {elsewhere > 0 && (
        <button type="button" onClick={() => setAll(!isAll)}>
          {isAll ? `only those of ${table.name}` : `${countedOf(elsewhere, 'finding')} elsewhere`}
        </button>
      )}
    </>
  )
}
