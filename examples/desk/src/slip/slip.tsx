import { Tab, TabList, TabPanel, TabProvider } from '@ariakit/react'
import type { TableFacts } from '@mellow-abacus/session'
import { useEffect, useRef } from 'react'
import { useBookState } from '../book/use-book'
import type { PreviewedDraft } from '../formula/use-draft-preview'
import type { LookedAt } from '../grid/grid-calls'
import { ColumnTab } from './column-tab'
import { FindingsTab } from './findings-tab'
import { FormulaTab } from './formula-tab'
import type { SlipCalls, SlipTab } from './slip-calls'
import { WhyTab } from './why-tab'

/** The slip: all about one thing. Its width is fixed, so that nothing that comes up in it moves a row. */
export function Slip({
  table,
  at,
  tab,
  isRenaming,
  previewed,
  calls,
}: {
  table: TableFacts
  at: LookedAt
  tab: SlipTab
  isRenaming: boolean
  /** What the draft at the table would give. */
  previewed: PreviewedDraft | null
  calls: SlipCalls
}) {
  const { findings } = useBookState()
  const column = table.columns.find(({ name }) => name === at.column)
  const slip = useKeptFocus()
  const found = findings.filter(({ severity }) => severity !== 'hint').length
  return (
    <aside className="slip" aria-label="Slip" ref={slip} tabIndex={-1}>
      <TabProvider selectedId={tab} setSelectedId={(id) => id && calls.turnTo(id as SlipTab)}>
        <div className="slip-head">
          <TabList aria-label="Slip" className="tabs">
            <Tab id="formula">Formula</Tab>
            <Tab id="why">Why</Tab>
            <Tab id="findings">Findings{found > 0 && <u>{found}</u>}</Tab>
            <Tab id="column">Column</Tab>
          </TabList>
          <button type="button" className="icon-button slip-close" aria-label="Close the slip" onClick={calls.close}>
            ×
          </button>
        </div>
        <TabPanel tabId="formula" className="slip-body" unmountOnHide>
          <FormulaTab table={table} column={column} previewed={previewed} calls={calls} />
        </TabPanel>
        <TabPanel tabId="why" className="slip-body" unmountOnHide>
          <WhyTab table={table} column={column} row={at.row} calls={calls} />
        </TabPanel>
        <TabPanel tabId="findings" className="slip-body" unmountOnHide>
          <FindingsTab table={table} calls={calls} />
        </TabPanel>
        <TabPanel tabId="column" className="slip-body" unmountOnHide>
          <ColumnTab key={column?.name} table={table} column={column} isRenaming={isRenaming} calls={calls} />
        </TabPanel>
      </TabProvider>
    </aside>
  )
}

/** Keeps the focus where it was when what had it is gone: a finding that was mended, a field that was kept. */
function useKeptFocus(): React.RefObject<HTMLElement | null> {
  const place = useRef<HTMLElement>(null)
  const wasIn = useRef(false)
  useEffect(() => {
    const note = (event: FocusEvent): void => {
      wasIn.current = event.target instanceof Node && place.current?.contains(event.target) === true
    }
    document.addEventListener('focusin', note)
    return () => document.removeEventListener('focusin', note)
  }, [])
  useEffect(() => {
    if (wasIn.current && document.activeElement === document.body) place.current?.focus()
  })
  return place
}
