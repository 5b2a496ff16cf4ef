import type { TableFacts } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'
import { Suspense, useCallback, useMemo, useRef, useState } from 'react'
import { Mark, ROW_FILES } from './begin/begin'
import type { MadeOfFile } from './begin/open-rows'
import type { DeskBook } from './book/desk-book'
import { PartOfDesk } from './book/part-of-desk'
import { Saving } from './book/saving'
import { BookContext, useBookState, useDeskBook } from './book/use-book'
import { commandsOf } from './find/commands'
import { Find } from './find/find'
import { ghostOf } from './formula/ghost'
import { useIsDrafting } from './formula/use-draft'
import type { PreviewedDraft } from './formula/use-draft-preview'
import { Frame, type FrameCalls, type Shown } from './frame/frame'
import { Grid } from './grid/grid'
import { type GridCalls, PLAIN_LOOK } from './grid/grid-calls'
import type { Reach } from './grid/threads'
import type { Travel } from './grid/travel'
import { lazily } from './look/lazily'
import { useAppearing, usePageKeys, useWarning } from './page-hooks'
import { RowsBeside } from './rows-beside'
import { Slip } from './slip/slip'
import type { SlipCalls, SlipTab } from './slip/slip-calls'
import { Steps } from './steps/steps'
import { Meetings } from './together/meetings'
import { Visitors } from './together/visitors'
import { NOWHERE, type Pane, usePanes } from './use-panes'
import { ChartView } from './views/chart-view'
import { Condition } from './views/condition'
import type { Defined } from './views/define-dialog'
import { ReportView } from './views/report-view'
import { saveBook, saveRows } from './views/saved-bytes'

const ReportBuilder = lazily(async () => (await import('./views/report-builder')).ReportBuilder)
const ChartBuilder = lazily(async () => (await import('./views/chart-builder')).ChartBuilder)
const DefineDialog = lazily(async () => (await import('./views/define-dialog')).DefineDialog)
const Previewer = lazily(async () => (await import('./formula/previewer')).Previewer)
const SampleRows = lazily(async () => (await import('./formula/sample-rows')).SampleRows)
const EntryForm = lazily(async () => (await import('./views/entry-form')).EntryForm)
const ModelMap = lazily(async () => (await import('./frame/model-map')).ModelMap)
const NewTable = lazily(async () => (await import('./begin/new-table')).NewTable)
const OpenRows = lazily(async () => (await import('./begin/open-rows')).OpenRows)

const NO_IDS: readonly number[] = []
/** Below this width the slip lies over the grid. */
const NARROW = 1_000
/** What the page has at least where rows are shown beside others. */
const ROOM_BESIDE = { width: 700, height: 600 }

/** The page: the frame of all rods, the rows of one, and the slip about one thing of it. */
export function Desk({ book, first, onLeave }: { book: DeskBook; first: readonly File[]; onLeave: () => void }) {
  return (
    <BookContext.Provider value={book}>
      <PartOfDesk name="The page">
        <OpenDesk first={first} onLeave={onLeave} />
      </PartOfDesk>
    </BookContext.Provider>
  )
}

function OpenDesk({ first, onLeave }: { first: readonly File[]; onLeave: () => void }) {
  const book = useDeskBook()
  const { facts, saving, ended } = useBookState()
  const [wanted, setShown] = useState<Shown>({
    kind: 'table',
    name: book.source.first ?? facts.tables[0]?.name ?? '',
  })
  const [tab, setTab] = useState<SlipTab>('formula')
  const [isSlipOpen, setSlipOpen] = useState(() => window.innerWidth > NARROW)
  const [isRenaming, setRenaming] = useState(false)
  const [isFinding, setFinding] = useState(false)
  const [isConditionOpen, setConditionOpen] = useState(false)
  const [defining, setDefining] = useState<Defined | null>(null)
  /** The report or chart that is being made or changed; one without a name is new. */
  const [building, setBuilding] = useState<{ readonly kind: 'report' | 'chart'; readonly name: string | null } | null>(null)
  const [isMaking, setMaking] = useState(first.length === 0 && facts.tables.length === 0)
  const [files, setFiles] = useState<readonly File[]>(first)
  const [reach, setReach] = useState<Reach>(1)
  const picker = useRef<HTMLInputElement>(null)
  const [isForm, setForm] = useState(false)

  const shown = known(wanted, facts.tables, facts)
  const table = shown.kind === 'table' ? facts.tables.find(({ name }) => name === shown.name) : undefined
  const panes = usePanes(facts.tables, table)
  const { main, beside, active, setLookOf, openBeside, travel } = panes
  const at = active?.at ?? NOWHERE
  const isDrafting = useIsDrafting(table?.name ?? '')
  const [previewed, setPreviewed] = useState<PreviewedDraft | null>(null)
  /** The rows in sight, while there is a draft that is to be shown in them. */
  const [seenIds, setSeenIds] = useState<readonly number[]>(NO_IDS)
  const ghost = useMemo(() => ghostOf(previewed), [previewed])
  const show = useCallback(
    (next: Shown) => {
      setShown(next)
      travel(null)
      setConditionOpen(false)
      book.hush()
    },
    [book, travel],
  )
  const goTo = useCallback(
    (to: Travel) => {
      show({ kind: 'table', name: to.table })
      travel(to)
    },
    [show, travel],
  )
  const openSlip = useCallback((next: SlipTab) => {
    setTab(next)
    setSlipOpen(true)
  }, [])
  const editFormula = useCallback(
    (of: string, column: string) => {
      const formula = book.table(of)?.columns.find(({ name }) => name === column)?.formula ?? ''
      book.drafts.set(of, { table: of, column, after: null, text: formula, base: formula })
      openSlip('formula')
    },
    [book, openSlip],
  )
  const addColumn = useCallback(
    (of: string, after: string | null) => {
      book.drafts.set(of, { table: of, column: null, after, text: '', base: null })
      openSlip('formula')
    },
    [book, openSlip],
  )
  const callsOf = ({ table: { name: of }, setLook, setAt, go }: Pane): GridCalls => ({
    ...{ look: setLook, at: setAt, inSight: setSeenIds, travel: go },
    form: () => setForm(true),
    why: () => openSlip('why'),
    filter: () => setConditionOpen(true),
    editFormula: (column) => editFormula(of, column),
    addAfter: (column) => addColumn(of, column),
    about: (column, renames) => {
      setRenaming(renames)
      openSlip('column')
      setAt((before) => ({ ...before, column }))
    },
  })
  const showAlone = ({ table: { name }, look }: Pane): void => {
    setLookOf(name, look)
    panes.closeBeside()
    show({ kind: 'table', name })
  }
  const frameCalls = useMemo<FrameCalls>(
    () => ({
      show,
      newTable: () => setMaking(true),
      newView: (kind) => setBuilding({ kind, name: null }),
      define: setDefining,
    }),
    [show],
  )
  const slipCalls = useMemo<SlipCalls>(
    () => ({
      turnTo: (next) => {
        setRenaming(false)
        setTab(next)
      },
      travel: (to) => (active === beside && to.table === beside?.table.name ? beside.go(to) : goTo(to)),
      showRows: (of, where) => {
        show({ kind: 'table', name: of })
        setLookOf(of, { ...PLAIN_LOOK, where })
      },
      showBeside: (rows) => {
        if (window.innerWidth >= ROOM_BESIDE.width && window.innerHeight >= ROOM_BESIDE.height) openBeside(rows)
        else slipCalls.showRows(rows.table, rows.where)
      },
      editFormula,
      define: setDefining,
      close: () => setSlipOpen(false),
    }),
    [active, beside, goTo, show, setLookOf, openBeside, editFormula],
  )

  const save = (): void => void saveBook(book)
  const make = async (of: string, names: readonly string[], rows: number): Promise<void> => {
    const operations: Operation[] = [
      { op: 'add-table', table: of, columns: names.map((name) => ({ name })) },
      ...(rows > 0 ? [{ op: 'insert-rows', table: of, count: rows } as const] : []),
    ]
    if (!(await book.apply(operations, `${of} made`))) return
    setMaking(false)
    show({ kind: 'table', name: of })
  }
  const take = async ({ table: of, read }: MadeOfFile): Promise<void> => {
    const columns = read.columns.map(({ name, type }) => ({ name, ...(type !== null && { type }) }))
    const block = Object.fromEntries(read.columns.map(({ name, cells }) => [name, cells]))
    const operations: Operation[] = [
      { op: 'add-table', table: of, columns },
      { op: 'insert-rows', table: of, block, count: read.rowCount },
    ]
    if (!(await book.apply(operations, `${of} read`))) return
    setFiles(files.slice(1))
    show({ kind: 'table', name: of })
  }
  const addRow = (): void => {
    if (table === undefined) return
    void book.apply({ op: 'insert-rows', table: table.name, count: 1 }, 'A row added at the end')
  }

  const leave = (): void => {
    if (saving !== 'unsaved' || window.confirm('What was done since it was saved is lost. Leave this workbook?')) onLeave()
  }

  const commands = commandsOf({
    ...{ book, table: active?.table, at, look: active?.look ?? PLAIN_LOOK, save, leave, addRow, openSlip, addColumn },
    setLook: (next) => active?.setLook(next),
    travel: (to) => active !== undefined && at.column !== null && active.go({ table: active.table.name, column: at.column, to }),
    newTable: () => setMaking(true),
    map: () => show({ kind: 'map', name: '' }),
    newView: (kind) => setBuilding({ kind, name: null }),
    define: setDefining,
    exportTable: () => active !== undefined && void saveRows(book, active.table, active.look.where),
    filter: () => setConditionOpen(true),
    form: () => setForm(true),
    openFile: () => picker.current?.click(),
  })
  usePageKeys({
    undo: () => void book.turn('undo'),
    redo: () => void book.turn('redo'),
    find: () => setFinding(true),
    save,
  })
  useWarning(saving === 'unsaved')
  useAppearing(book, active?.table.name ?? null, at)

  const inMain = main?.at.column ?? null
  const picked = table?.columns.some(({ name }) => name === inMain) === true ? inMain : null
  return (
    <div className={`desk ${isSlipOpen && table !== undefined ? 'with-slip' : ''}`}>
      <header className="desk-head">
        <h1>
          <Mark />
          {book.source.name}
        </h1>
        <Saving />
        <button type="button" className="find-button" onClick={() => setFinding(true)}>
          <span>Find or do anything</span>
          <small>Ctrl K</small>
        </button>
        <Visitors onTravel={goTo} />
        <button type="button" onClick={save}>
          Save
        </button>
        {table !== undefined && !isSlipOpen && (
          <button type="button" onClick={() => setSlipOpen(true)}>
            Slip
          </button>
        )}
      </header>
      <Frame shown={shown} calls={frameCalls} />
      <main className="desk-middle">
        {ended !== null && <p className="card error">The workbook cannot be had any more: {ended}</p>}
        <PartOfDesk key={`${shown.kind} ${shown.name}`} name={`The ${shown.kind}`}>
          {table !== undefined && main !== undefined && (
            <Grid
              key={table.name}
              {...{ table, picked, reach, isDrafting, ghost }}
              look={main.look}
              travel={main.travel}
              calls={callsOf(main)}
              onWork={() => panes.workIn('main')}
            >
              <label className="reach" title="How far threads are followed">
                <span className="sr-only">How far threads are followed</span>
                <select
                  value={reach}
                  onChange={(event) => setReach(event.target.value === 'all' ? 'all' : (Number(event.target.value) as 1 | 2))}
                >
                  <option value={1}>1</option>
                  <option value={2}>2</option>
                  <option value="all">all</option>
                </select>
              </label>
              <Suspense>
                {isDrafting && <Previewer key={table.name} table={table} ids={seenIds} onPreview={setPreviewed} />}
                {isDrafting && previewed !== null && <SampleRows table={table} previewed={previewed} />}
              </Suspense>
            </Grid>
          )}
          {shown.kind === 'map' && (
            <Suspense>
              <ModelMap onTravel={goTo} />
            </Suspense>
          )}
          {shown.kind === 'report' && (
            <ReportView
              key={shown.name}
              name={shown.name}
              onEdit={() => setBuilding({ kind: 'report', name: shown.name })}
              calls={slipCalls}
            />
          )}
          {shown.kind === 'chart' && (
            <ChartView key={shown.name} name={shown.name} onEdit={() => setBuilding({ kind: 'chart', name: shown.name })} />
          )}
        </PartOfDesk>
        {beside !== undefined && (
          <PartOfDesk name="The rows beside">
            <RowsBeside
              pane={beside}
              calls={{
                ...callsOf(beside),
                // The condition of rows is written where they are shown alone.
                filter: () => {
                  showAlone(beside)
                  setConditionOpen(true)
                },
              }}
              onWork={() => panes.workIn('beside')}
              onAlone={() => showAlone(beside)}
              onClose={panes.closeBeside}
            />
          </PartOfDesk>
        )}
        {facts.tables.length === 0 && <p className="grid-empty">There is no table yet. Make one, or open a file of rows.</p>}
        <Meetings onTravel={goTo} />
        <Steps>
          {table !== undefined && (
            <>
              {book.may.enter && (
                <button type="button" className="quiet-button" onClick={addRow}>
                  + row
                </button>
              )}
              {book.may.define && (
                <button type="button" className="quiet-button" onClick={() => addColumn(table.name, inMain)}>
                  + column
                </button>
              )}
              <Condition
                table={table}
                where={main?.look.where ?? ''}
                column={inMain}
                isOpen={isConditionOpen}
                onOpen={setConditionOpen}
                onWhere={(where) => main?.setLook({ ...main.look, where })}
              />
            </>
          )}
        </Steps>
      </main>
      {isSlipOpen && active !== undefined && (
        <PartOfDesk name="The slip">
          <Slip table={active.table} at={at} tab={tab} isRenaming={isRenaming} previewed={previewed} calls={slipCalls} />
        </PartOfDesk>
      )}
      {isFinding && (
        <Find
          commands={commands.filter(({ least }) => least === undefined || book.may[least])}
          table={table?.name}
          onTravel={(of, column, row) =>
            column === undefined
              ? show({ kind: 'table', name: of })
              : goTo({ table: of, column, ...(row !== undefined && { to: { row } }) })
          }
          onRows={slipCalls.showRows}
          onView={(kind, name) => show({ kind, name })}
          onClose={() => setFinding(false)}
        />
      )}
      <input
        ref={picker}
        type="file"
        hidden
        multiple
        aria-label="Files of rows"
        accept={ROW_FILES}
        onChange={(event) => {
          setFiles([...files, ...(event.target.files ?? [])])
          event.target.value = ''
        }}
      />
      <Suspense>
        {defining !== null && <DefineDialog first={defining} onClose={() => setDefining(null)} />}
        {building?.kind === 'report' && (
          <ReportBuilder
            table={table?.name ?? facts.tables[0]?.name ?? ''}
            kept={facts.reports.find(({ name }) => name === building.name) ?? null}
            onKept={(name) => {
              setBuilding(null)
              show({ kind: 'report', name })
            }}
            onClose={() => setBuilding(null)}
          />
        )}
        {building?.kind === 'chart' && (
          <ChartBuilder
            table={table?.name ?? facts.tables[0]?.name ?? ''}
            kept={facts.charts.find(({ name }) => name === building.name) ?? null}
            onKept={(name) => {
              setBuilding(null)
              show({ kind: 'chart', name })
            }}
            onClose={() => setBuilding(null)}
          />
        )}
        {isForm && active !== undefined && at.place > 0 && (
          <EntryForm
            table={active.table}
            row={at.row}
            place={at.place}
            onGo={(place) => {
              const { name, columns } = active.table
              active.go({ table: name, column: at.column ?? columns[0]?.name ?? '', to: { place } })
            }}
            onClose={() => setForm(false)}
          />
        )}
        {isMaking && (
          <NewTable
            taken={facts.tables.map(({ name }) => name)}
            onMake={(...made) => void make(...made)}
            onClose={() => setMaking(false)}
          />
        )}
        {files[0] !== undefined && (
          <OpenRows
            key={`${files[0].name} ${files.length}`}
            file={files[0]}
            taken={facts.tables.map(({ name }) => name)}
            onTake={(made) => void take(made)}
            onClose={() => setFiles(files.slice(1))}
          />
        )}
      </Suspense>
    </div>
  )
}

/** What is shown, or the first table where that is no more. */
function known(
  shown: Shown,
  tables: readonly TableFacts[],
  views: { reports: readonly { name: string }[]; charts: readonly { name: string }[] },
): Shown {
  if (shown.kind === 'map') return shown
  const all = shown.kind === 'table' ? tables : shown.kind === 'report' ? views.reports : views.charts
  return all.some(({ name }) => name === shown.name) ? shown : { kind: 'table', name: tables[0]?.name ?? '' }
}
