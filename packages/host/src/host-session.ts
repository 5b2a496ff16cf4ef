import {
  type AppliedChange,
  type BookSession,
  type EditKey,
  type EditOptions,
  type Ending,
  ending,
  type FaultFacts,
  type ImportedChange,
  type ImportedRows,
  type LanguageSession,
  type LiveWindow,
  type Place,
  type SessionEvent,
  SessionFault,
  type SessionReader,
  type Someone,
  sessionValue,
  type TurnOptions,
  type WindowHold,
  type WindowNews,
  type WindowRequest,
  type WindowSpan,
  WindowStore,
} from '@mellow-abacus/session'
import {
  type BookReader,
  type ChangeSet,
  type Finding,
  hasRole,
  type Operation,
  type ReaderOptions,
  type TableLanguage,
  type WorkbookView,
} from 'mellow-abacus'
import { printDateTime, zonedWallClock } from 'mellow-abacus/storage'
import { carried } from './answers/carried.js'
import { cellsOf } from './answers/cells.js'
import { isDefining, joinedChange, seenCells, sessionChange, shortenedAnswer, touchedRows } from './answers/changes.js'
import { refuseCostly } from './answers/cost.js'
import { exportedBytes } from './answers/exported.js'
import { factsOf } from './answers/facts.js'
import { functionsFor } from './answers/functions.js'
import { historyOf } from './answers/history.js'
import { insertEach, noneOf, readRows } from './answers/imported.js'
import { movedAnswer } from './answers/moved.js'
import { profileOf } from './answers/profile.js'
import { chartAnswer, chartDataOf, fitAnswer, groupsOf, reportAnswer, rowsAnswer } from './answers/rows.js'
import { soughtRow } from './answers/sought.js'
import { faultOf } from './fault-of.js'
import { answeredOnce } from './kept-answers.js'
import { seenVisitor } from './presence.js'
import type { SessionHome } from './session-home.js'
import type { WindowFeed } from './windows/window-feed.js'

/** How many were ever opened, to name each of them. */
let opened = 0

/** One reader at the workbook of a host in the same program; see `BookSession`. */
export class HostSession implements BookSession {
  readonly reader: SessionReader
  readonly language: LanguageSession
  readonly #host: SessionHome<HostSession>
  readonly #options: ReaderOptions
  readonly #id: string = `session-${++opened}`
  readonly #listeners: Set<(event: SessionEvent) => void> = new Set()
  readonly #windows: Set<HeldWindow> = new Set()
  #reader: BookReader
  #unfollow: () => void = () => undefined
  #ended: FaultFacts | null = null

  /** Called once when the host ends the session. */
  onEnd: (facts: FaultFacts) => void = () => undefined

  constructor(host: SessionHome<HostSession>, options: ReaderOptions) {
    this.#host = host
    this.#options = options
    this.#reader = host.held.reader(options)
    const { role, groups, author } = this.#reader
    this.reader = { role, groups, author }
    this.language = this.#languageSession()
    this.takeReader()
  }

  /** Begins anew at the workbook that its host holds now. */
  takeReader(): void {
    this.#unfollow()
    this.#reader = this.#host.held.reader(this.#options)
    const audience = this.#host.audienceOf(this.#reader)
    this.#unfollow = audience.add((event) => {
      for (const listener of [...this.#listeners]) listener(event)
    })
    for (const window of this.#windows) window.beginAnew(audience.window(window.request))
  }

  facts: BookSession['facts'] = () => this.#look((view) => factsOf(view))

  apply(operations: Operation | readonly Operation[], options: EditOptions = {}): Promise<AppliedChange> {
    const { returns, key, seen, asSeen = [], ...given } = options
    return this.#edit(key, () => {
      for (const row of asSeen) this.#refuseChanged(row)
      const change = this.#host.recent.seeing(seen, () =>
        this.#reader.applyJson(operations, { ...given, at: now(this.#reader.view) }),
      )
      return this.#applied(change, returns)
    })
  }

  undo: BookSession['undo'] = (options) => this.#turn('undo', options)

  redo: BookSession['redo'] = (options) => this.#turn('redo', options)

  #turn(kind: 'undo' | 'redo', { key, returns }: TurnOptions = {}): Promise<AppliedChange | null> {
    return this.#edit(key, () => {
      const change = this.#reader[kind]({ at: now(this.#reader.view) })
      return change === null ? null : this.#applied(change, returns)
    })
  }

  async importRows(table: string, given: ImportedRows, { key, returns }: TurnOptions = {}): Promise<ImportedChange> {
    this.#refuseEnded()
    const rows = await readRows(this.#reader.view, table, given)
    return this.#edit(key, () => {
      const insert = (from: number, to: number): ChangeSet =>
        this.#reader.apply(rows.operation(table, from, to), { at: now(this.#reader.view) })
      if (given.each !== true) return { change: this.#applied(insert(0, rows.count), returns), refused: [] }
      const { changes, refused } = insertEach(rows.count, insert)
      if (changes.length === 0) throw noneOf(refused)
      return { change: joinedChange(changes.map((change) => this.#applied(change, returns))), refused }
    })
  }

  exported: BookSession['exported'] = (what, format) =>
    this.#look((view) => {
      this.#refuseCostly(view, 'rows' in what ? what.rows : 'report' in what ? what.report : what.chart)
      return this.#host.inPeace(() => exportedBytes(view, what, format))
    })

  #applied(change: ChangeSet, returns: EditOptions['returns'] = 'rows'): AppliedChange {
    const { view } = this.#reader
    const rows = returns === 'rows' ? touchedRows(view, change) : []
    return { ...sessionChange(change, isDefining(change), seenCells(view, this.#host.recent.met)), rows }
  }

  /** Refuses what is asked for and would take too long; what is kept under a name was defined by someone who may. */
  #refuseCostly(view: WorkbookView, asked: string | { readonly table?: string }): void {
    if (typeof asked !== 'string' && asked.table !== undefined) refuseCostly(view, asked.table, asked, this.#host.mostPairs)
  }

  /** Refuses an edit of a row that is another than its author saw. */
  #refuseChanged({ table, id, cells }: NonNullable<EditOptions['asSeen']>[number]): void {
    const { view } = this.#reader
    const found = view.table(table)
    const now = found.hasRow(id) ? cellsOf(found.columns, id) : null
    if (JSON.stringify(now) === JSON.stringify(cells)) return
    throw new SessionFault({ code: 'row-changed', message: 'The row is not any more as it was seen.' })
  }

  preview: BookSession['preview'] = (operations) =>
    this.#look(() => {
      const { change, columns } = this.#reader.previewJson(operations)
      return { change: sessionChange(change, false), columns: carried(columns) as never }
    })

  query: BookSession['query'] = (query) =>
    this.#look((view) => {
      this.#refuseCostly(view, query)
      return rowsAnswer(view, query)
    })

  row: BookSession['row'] = (name, id) =>
    this.#look((view) => {
      const table = view.table(name)
      return table.hasRow(id) ? { revision: view.revision, id, cells: cellsOf(table.columns, id) } : null
    })

  seek: BookSession['seek'] = (request) =>
    this.#look((view) => {
      this.#refuseCostly(view, request)
      return { revision: view.revision, found: soughtRow(view, request) }
    })

  functions: BookSession['functions'] = (words) => this.#look((view) => functionsFor(words, view.functions))

  report: BookSession['report'] = (report, parameters = {}) =>
    this.#look((view) => {
      this.#refuseCostly(view, report)
      return reportAnswer(view, groupsOf(view, report, parameters))
    })

  chart: BookSession['chart'] = (chart, parameters = {}) =>
    this.#look((view) => {
      this.#refuseCostly(view, chart)
      return chartAnswer(view, chartDataOf(view, chart, parameters))
    })

  fit: BookSession['fit'] = (request) =>
    this.#look((view) => {
      this.#refuseCostly(view, request)
      return fitAnswer(view.fit(request))
    })

  value: BookSession['value'] = (name) => this.#look((view) => sessionValue(view.value(name)))

  profile: BookSession['profile'] = ({ table, column }) =>
    this.#look((view) => ({ revision: view.revision, ...profileOf(view.table(table).column(column)) }))

  findings: BookSession['findings'] = () => this.#look((view) => view.check())

  explain: BookSession['explain'] = (table, formula) => this.#look((view) => view.explain(table, formula))

  why: BookSession['why'] = (address, row) => this.#look((view) => carried(view.why(address, row)))

  trace: BookSession['trace'] = (address) => this.#look((view) => view.trace(address))

  moved: BookSession['moved'] = (request) => this.#look(() => movedAnswer(this.#host.held, this.#reader, request))

  suggest: BookSession['suggest'] = (request) => this.#look((view) => carried(view.suggest(request)))

  formulasFor: BookSession['formulasFor'] = (table, words) => this.#look((view) => carried(view.formulasFor(table, words)))

  history: BookSession['history'] = (request = {}) => this.#look(() => historyOf(this.#host.held, this.#reader, request))

  accepting: BookSession['accepting'] = (finding, because) => this.#look((view) => view.accepting(finding as Finding, because))

  appear: BookSession['appear'] = ({ place, draft = null }) =>
    this.#look(() => {
      const { role, author } = this.reader
      this.#host.presence.note({ id: this.#id, author, role, place, draft })
      this.#host.tellPresence()
      return this.#present()
    })

  /** Tells who is there now. */
  tellPresence(): void {
    const present = this.#present()
    for (const listener of [...this.#listeners]) listener({ kind: 'presence', present })
  }

  #present(): Someone[] {
    const { view } = this.#reader
    const seesAll = hasRole(this.reader.role, 'define')
    const knows = ({ table, column }: Place): boolean => {
      const found = view.tables.includes(table) ? view.table(table) : undefined
      return found !== undefined && (column === undefined || found.columns.some(({ name }) => name === column))
    }
    return this.#host.presence.list().map((one) => ({ ...seenVisitor(one, knows, seesAll), isYou: one.id === this.#id }))
  }

  async watch(request: WindowRequest): Promise<LiveWindow> {
    let store: WindowStore | null = null
    const { first, ...hold } = await this.openWindow(request, (news) => store?.take(news))
    store = new WindowStore(first, hold)
    return store.window
  }

  /**
   * Opens a window for someone who puts together what it shows.
   *
   * @param listener - gets all that comes after what it shows first
   */
  openWindow(request: WindowRequest, listener: (news: WindowNews) => void): Promise<WindowHold & { readonly first: WindowNews }> {
    return this.#look((view) => {
      this.#refuseCostly(view, request)
      const held: HeldWindow = new HeldWindow(request, listener, () => this.#windows.delete(held))
      const first = held.begin(this.#host.audienceOf(this.#reader).window(request))
      this.#windows.add(held)
      const show = (span: WindowSpan): Promise<void> =>
        this.#look(() => held.move(span, (moved) => this.#host.audienceOf(this.#reader).window(moved)))
      return { first, show, end: () => held.end() }
    })
  }

  on(listener: (event: SessionEvent) => void): Ending {
    const own = (event: SessionEvent): void => listener(event)
    this.#listeners.add(own)
    return ending(() => void this.#listeners.delete(own))
  }

  close(): Promise<void> {
    if (this.#ended === null) this.#finish({ code: 'closed', message: 'The session was closed.' })
    return Promise.resolve()
  }

  /** Ends it, whoever is at it. */
  end(facts: FaultFacts): void {
    if (this.#ended !== null) return
    this.#finish(facts)
    this.onEnd(facts)
  }

  #finish(facts: FaultFacts): void {
    this.#ended = facts
    this.#unfollow()
    for (const window of [...this.#windows]) window.end()
    this.#host.forget(this)
    if (this.#host.presence.forget(this.#id)) this.#host.tellPresence()
  }

  /** Looks at the workbook as it was last kept. */
  async #look<Answer>(look: (view: WorkbookView) => Answer | Promise<Answer>): Promise<Answer> {
    this.#refuseEnded()
    try {
      return await look(this.#reader.view)
    } catch (error) {
      throw faultOf(error)
    }
  }

  async #edit<Answer>(key: EditKey | undefined, run: () => Answer): Promise<Answer> {
    this.#refuseEnded()
    if (key === undefined) return this.#host.edit(run)
    return this.#host.edit(() => {
      const { role, hidden } = this.#reader
      const seen = JSON.stringify([role, [...hidden].sort()])
      return answeredOnce(this.#host.held, key, { seen, shortened: shortenedAnswer }, run)
    })
  }

  #refuseEnded(): void {
    if (this.#ended !== null) throw new SessionFault(this.#ended)
  }

  #languageSession(): LanguageSession {
    const ask =
      <Args extends readonly unknown[], Answer>(answer: (language: TableLanguage, ...args: Args) => Answer) =>
      (table: string, ...args: Args): Promise<Answer> =>
        this.#look((view) => carried(answer(view.language(table), ...args)) as Answer)
    return {
      findings: ask((language, formula: string) => language.findings(formula)),
      complete: ask((language, formula: string, offset: number) => language.complete(formula, offset)),
      hover: ask((language, formula: string, offset: number) => language.hover(formula, offset)),
      signature: ask((language, formula: string, offset: number) => language.signature(formula, offset)),
      format: ask((language, formula: string) => language.format(formula)),
      rename: ask((language, formula: string, offset: number, to: string) => language.rename(formula, offset, to)),
      tokens: ask((language, formula: string) => language.tokens(formula)),
      preview: (table, column) =>
        this.#look((view) => {
          refuseCostly(view, table, column.formula, this.#host.mostPairs)
          return carried(view.previewColumn(table, column))
        }),
    }
  }
}

/** A window of a session at the feed that keeps it up to date. */
class HeldWindow {
  request: WindowRequest
  readonly #listener: (news: WindowNews) => void
  readonly #forget: () => void
  #leave: () => void = () => undefined

  constructor(request: WindowRequest, listener: (news: WindowNews) => void, forget: () => void) {
    this.request = request
    this.#listener = listener
    this.#forget = forget
  }

  /** Begins at a feed; gives all that it shows. */
  begin(feed: WindowFeed): WindowNews {
    this.#leave()
    this.#leave = feed.add(this.#listener)
    return feed.whole()
  }

  /** Begins at another feed, and tells of all that this shows. */
  beginAnew(feed: WindowFeed): void {
    this.#listener(this.begin(feed))
  }

  /** Shows other places. */
  move(span: WindowSpan, feedOf: (request: WindowRequest) => WindowFeed): void {
    const moved = { ...this.request, ...span }
    const feed = feedOf(moved)
    this.request = moved
    this.beginAnew(feed)
  }

  end(): void {
    this.#leave()
    this.#forget()
  }
}

/** The time of the machine on the wall clock of the workbook, to the second. */
function now({ surroundings: { zone } }: WorkbookView): string {
  return printDateTime(Math.floor(zonedWallClock(zone)(Date.now()) / 1000) * 1000)
}
