import type {
  AppliedChange,
  BookFacts,
  BookSession,
  ColumnFacts,
  HistoryStep,
  MetCell,
  Place,
  SessionChange,
  SessionFault,
  Someone,
  TableFacts,
} from '@mellow-abacus/session'
import type { Finding, Fix, Operation } from 'mellow-abacus'
import { Drafts } from '../formula/draft'
import { type May, mayOf } from './may'
import type { BookSource } from './sources'

/** What the page says about the last thing that was done. */
export interface Said {
  readonly kind: 'done' | 'refused'
  readonly text: string
  /** What followed, by column; empty where nothing did. */
  readonly followed: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
  /** Ways on after a refusal. */
  readonly fixes: readonly Fix[]
}

/** A cell that two have written, neither having seen what the other did. */
export interface Meeting extends MetCell {
  /** Names it: the later revision and the cell. */
  readonly key: string
  /** True where what was written here stands, false where the other one wrote over it. */
  readonly isYours: boolean
  /** Who the other one is. */
  readonly other: string
}

/** Operations that could not be sent yet. */
export interface WaitingEdit {
  readonly operations: readonly Operation[]
  readonly done: string
  readonly seen: number
  readonly key: { readonly name: string; readonly fingerprint: string }
}

/** An edit that had waited for the connection and was refused when it was sent. */
export interface LateEdit {
  readonly key: string
  /** What would have been done, and why it was not. */
  readonly done: string
  readonly why: string
}

/** All that the page knows of the workbook. */
export interface BookState {
  readonly facts: BookFacts
  readonly findings: readonly Finding[]
  /** The newest steps, the oldest of them first. */
  readonly steps: readonly HistoryStep[]
  readonly revision: number
  readonly said: Said | null
  /** The newest change, whose cells are tinted for a moment. */
  readonly last: SessionChange | null
  readonly saving: 'saved' | 'saving' | 'unsaved'
  /** Others who are at it now. */
  readonly others: readonly Someone[]
  /** True while the one who holds it cannot be reached. */
  readonly isLost: boolean
  /** What was done meanwhile, and is sent when the connection is back. */
  readonly waiting: readonly WaitingEdit[]
  /** Edits that waited and were refused then, until they are looked at. */
  readonly tooLate: readonly LateEdit[]
  /** Cells in which edits have met, until they are looked at. */
  readonly met: readonly Meeting[]
  /** Why nothing more can be done; null while it can. */
  readonly ended: string | null
}

/** Steps that the line at the bottom knows of. */
const MOST_STEPS = 200
/** Milliseconds after which findings are asked for again: several edits are answered together. */
const FINDINGS_MS = 120
/** Milliseconds after which edits that wait are tried again. */
const AGAIN_MS = 4_000

/** A workbook as the page follows it: what there is in it, what is said of it, and what was done to it. */
export class DeskBook {
  readonly source: BookSource
  readonly session: BookSession
  /** What the one at the page may do. */
  readonly may: May
  /** Definitions that are being written. */
  readonly drafts: Drafts
  readonly #listeners: Set<() => void> = new Set()
  #state: BookState
  #asking: ReturnType<typeof setTimeout> | undefined
  #again: ReturnType<typeof setTimeout> | undefined
  #isSending = false
  /** The last revision that someone made, and the one that was saved last. */
  #changedAt: number
  #savedAt: number

  private constructor(source: BookSource, state: BookState) {
    this.source = source
    this.session = source.session
    this.may = mayOf(source.session.reader.role)
    this.drafts = new Drafts(source.address)
    this.#state = state
    this.#changedAt = state.revision
    this.#savedAt = state.revision
    source.session.on((event) => {
      if (event.kind === 'presence') return this.#notePresent(event.present)
      if (event.kind === 'connection') return this.#noteConnection(event.isLost)
      if (event.kind === 'reset') return void this.#lookAgain()
      this.#noteMet(event, false)
      // What the page makes by itself is nobody's work.
      if (event.author !== null) this.#changedAt = event.revision
      this.#set({ revision: event.revision, last: event, saving: this.#savingNow() })
      const isOther = event.definitions || event.inserted.length > 0 || event.removed.length > 0 || event.stale.length > 0
      if (isOther) void this.#lookAgain()
      else this.#findAgain()
      void this.#fetchSteps()
    })
  }

  /** Begins to follow a workbook. */
  static async open(source: BookSource): Promise<DeskBook> {
    const facts = await source.session.facts()
    const book = new DeskBook(source, {
      facts,
      findings: [],
      steps: [],
      revision: facts.revision,
      said: null,
      last: null,
      saving: 'saved',
      others: [],
      isLost: false,
      waiting: [],
      tooLate: [],
      met: [],
      ended: null,
    })
    void book.#findAgain()
    void book.#fetchSteps()
    return book
  }

  readonly current = (): BookState => this.#state

  readonly subscribe = (notify: () => void): (() => void) => {
    this.#listeners.add(notify)
    return () => void this.#listeners.delete(notify)
  }

  /** The table of a name; undefined where there is none. */
  table(name: string): TableFacts | undefined {
    return this.#state.facts.tables.find((table) => table.name === name)
  }

  /** Applies operations and says what followed; false where they were refused, which is said as well. */
  async apply(operations: Operation | readonly Operation[], done: string): Promise<boolean> {
    const all = Array.isArray(operations) ? (operations as readonly Operation[]) : [operations as Operation]
    const edit: WaitingEdit = {
      ...{ operations: all, done, seen: this.#state.revision },
      key: { name: crypto.randomUUID(), fingerprint: '' },
    }
    // What was done before goes before it.
    if (this.#state.isLost || this.#state.waiting.length > 0) return this.#wait(edit)
    return this.#send(edit, () => this.#wait(edit))
  }

  #send({ operations, done, seen, key }: WaitingEdit, wait: () => boolean): Promise<boolean> {
    return this.#do(() => this.session.apply(operations, { seen, ...(this.source.isKept && { key }) }), {
      done,
      wait,
      operations,
    })
  }

  /** Keeps an edit until the one who holds the workbook can be reached again. */
  #wait(edit: WaitingEdit): boolean {
    const waiting = [...this.#state.waiting, edit]
    const text = 'The server cannot be reached. What you do is kept here, and sent when the connection is back.'
    this.#set({ waiting, saving: 'unsaved', said: { kind: 'refused', text, followed: [], fixes: [] } })
    this.#sendLater()
    return true
  }

  #sendLater(): void {
    clearTimeout(this.#again)
    this.#again = setTimeout(() => void this.#sendWaiting(), AGAIN_MS)
  }

  /** Sends what has waited, in the order in which it was done. */
  async #sendWaiting(): Promise<void> {
    if (this.#isSending) return
    this.#isSending = true
    try {
      for (let [edit] = this.#state.waiting; edit !== undefined; [edit] = this.#state.waiting) {
        let isStillLost = false
        const isDone = await this.#send(edit, () => {
          isStillLost = true
          return false
        })
        if (isStillLost) return this.#sendLater()
        const late = { key: edit.key.name, done: edit.done, why: this.#state.said?.text ?? '' }
        if (!isDone) this.#set({ tooLate: [...this.#state.tooLate, late] })
        this.#set({ waiting: this.#state.waiting.slice(1) })
        this.#set({ saving: this.#savingNow() })
      }
    } finally {
      this.#isSending = false
    }
  }

  /** Says where on the page one is, to the others. */
  async appear(place: Place | null): Promise<void> {
    if (!this.source.isKept || this.#state.isLost) return
    try {
      this.#notePresent(await this.session.appear({ place }))
    } catch {
      // Where one is, is said again with the next cell; a connection that is lost is told of by the feed.
    }
  }

  #notePresent(present: readonly Someone[]): void {
    this.#set({ others: present.filter(({ isYou }) => !isYou) })
  }

  #noteConnection(isLost: boolean): void {
    this.#set({ isLost })
    if (isLost) return
    void this.#sendWaiting()
    void this.#lookAgain()
    void this.#fetchSteps()
  }

  /** Notes cells in which edits have met: what one's own edit met, and one's own that another one met. */
  #noteMet({ revision, author, met }: SessionChange, isYours: boolean): void {
    const you = this.session.reader.author
    const fresh = met.flatMap((cell): Meeting[] => {
      const key = `${revision} ${cell.table} ${cell.row} ${cell.column}`
      if (!isYours && cell.author !== you) return []
      return [{ ...cell, key, isYours, other: (isYours ? cell.author : author) ?? 'someone' }]
    })
    if (fresh.length === 0) return
    const keys = new Set(fresh.map(({ key }) => key))
    // An edit of one's own may be told of before it is answered.
    const known = this.#state.met.filter(({ key, isYours: ours }) => !keys.has(key) || (ours && !isYours))
    const added = fresh.filter(({ key }) => !known.some((one) => one.key === key))
    this.#set({ met: [...known, ...added] })
  }

  /** Is done with a meeting. */
  settle(meeting: Meeting): void {
    this.#set({ met: this.#state.met.filter((one) => one !== meeting) })
  }

  /** Is done with an edit that came too late. */
  forgetLate(late: LateEdit): void {
    this.#set({ tooLate: this.#state.tooLate.filter((one) => one !== late) })
  }

  /** Does what a fix says, where it says operations. */
  async applyFix({ title, operations }: Pick<Fix, 'title' | 'operations'>): Promise<boolean> {
    return operations !== undefined && this.apply(operations as readonly Operation[], title)
  }

  /** Takes the last step back, or does it again. */
  async turn(kind: 'undo' | 'redo'): Promise<boolean> {
    const nothing = kind === 'undo' ? 'There is no step of yours to take back.' : 'There is no step to do again.'
    return this.#do(() => this.session[kind](), { done: kind === 'undo' ? 'Taken back' : 'Done again', nothing })
  }

  /** Takes steps back, or does them again, until the workbook is as it was after one of them. */
  async returnTo(revision: number): Promise<void> {
    const { undone, done } = turnedBy(this.#state.steps)
    const isBack = done.includes(revision)
    const count = isBack ? done.length - 1 - done.indexOf(revision) : undone.length - undone.indexOf(revision)
    for (let turn = 0; turn < count; turn++) if (!(await this.turn(isBack ? 'undo' : 'redo'))) return
  }

  /** Says something that is no answer of the workbook. */
  say(kind: Said['kind'], text: string): void {
    this.#set({ said: { kind, text, followed: [], fixes: [] } })
  }

  /** Forgets what was said: it was about something else. */
  hush(): void {
    if (this.#state.said?.kind === 'refused') this.#set({ said: null })
  }

  /** The workbook as bytes to be kept; what is done while they are made counts as not kept. */
  async save(): Promise<Uint8Array> {
    const { revision } = this.#state
    const bytes = await this.source.bytes()
    this.#savedAt = revision
    this.#set({ saving: this.#savingNow() })
    return bytes
  }

  close(): void {
    clearTimeout(this.#asking)
    clearTimeout(this.#again)
    this.source.close()
  }

  #savingNow(): BookState['saving'] {
    if (this.#state.waiting.length > 0) return 'unsaved'
    return this.source.isKept || this.#changedAt <= this.#savedAt ? 'saved' : 'unsaved'
  }

  /**
   * Does something, and says what came of it.
   *
   * @param how - what is said when it is done, or when there was nothing to do; what is done where nobody can be reached; and the
   * operations, where there are any
   */
  async #do(
    act: () => Promise<AppliedChange | null>,
    {
      done,
      nothing = '',
      wait,
      operations = [],
    }: { done: string; nothing?: string; wait?: () => boolean; operations?: readonly Operation[] },
  ): Promise<boolean> {
    if (this.source.isKept) this.#set({ saving: 'saving' })
    try {
      const change = await act()
      if (change !== null) this.#noteMet(change, true)
      this.#set({
        saving: this.#savingNow(),
        said:
          change === null
            ? { kind: 'refused', text: nothing, followed: [], fixes: [] }
            : { kind: 'done', text: done + inOtherUnit(change, operations), followed: change.recalculated, fixes: [] },
      })
      return change !== null
    } catch (error) {
      const { message, findings = [], code } = error as SessionFault
      if (code === 'lost' && wait !== undefined) return wait()
      const fixes = findings.flatMap((finding) => finding.fixes.filter(({ operations }) => operations !== undefined))
      const text = findings.length > 0 ? findings.map((one) => one.message).join(' ') : message
      this.#set({ saving: this.#savingNow(), said: { kind: 'refused', text, followed: [], fixes } })
      return false
    }
  }

  async #lookAgain(): Promise<void> {
    try {
      const facts = await this.session.facts()
      this.#set({ facts, revision: Math.max(facts.revision, this.#state.revision) })
      this.#findAgain()
    } catch (error) {
      this.#end(error)
    }
  }

  #findAgain(): void {
    clearTimeout(this.#asking)
    this.#asking = setTimeout(async () => {
      try {
        this.#set({ findings: await this.session.findings() })
      } catch (error) {
        this.#end(error)
      }
    }, FINDINGS_MS)
  }

  async #fetchSteps(): Promise<void> {
    try {
      const { steps } = this.#state
      const after = steps.at(-1)?.revision ?? Math.max(0, this.#state.revision - MOST_STEPS)
      const fresh = (await this.session.history({ after, limit: MOST_STEPS })).steps
      const last = this.#state.steps.at(-1)?.revision ?? 0
      const all = [...this.#state.steps, ...fresh.filter(({ revision }) => revision > last)]
      this.#set({ steps: all.slice(-MOST_STEPS) })
    } catch (error) {
      this.#end(error)
    }
  }

  /** Notes that the workbook cannot be had any more; a connection that is lost may come back. */
  #end(error: unknown): void {
    if ((error as SessionFault).code === 'lost') return
    this.#set({ ended: error instanceof Error ? error.message : String(error) })
  }

  #set(part: Partial<BookState>): void {
    this.#state = { ...this.#state, ...part }
    for (const notify of [...this.#listeners]) notify()
  }
}

/** Columns named in what is said of a step. */
const MOST_NAMED = 3

/** What is said of columns that a step has brought to another unit, besides those whose unit it sets. */
function inOtherUnit({ units: all }: AppliedChange, operations: readonly Operation[]): string {
  const isSet = (table: string, column: string): boolean =>
    operations.some((one) => one.op === 'change-column' && one.table === table && one.column === column)
  const units = all.filter(({ table, column }) => !isSet(table, column))
  if (units.length === 0) return ''
  const named = units
    .slice(0, MOST_NAMED)
    .map(({ column, before, after }) => `${column} ${before ?? 'none'} → ${after ?? 'none'}`)
  const more = units.length > MOST_NAMED ? ` and ${units.length - MOST_NAMED} more` : ''
  return `; in another unit: ${named.join(', ')}${more}`
}

/** Which steps stand, and which were taken back, each the last one last. */
export function turnedBy(steps: readonly HistoryStep[]): { readonly done: number[]; readonly undone: number[] } {
  const done: number[] = []
  const undone: number[] = []
  for (const { kind, revision, author } of steps) {
    if (author === null) continue
    if (kind === 'undo') {
      const back = done.pop()
      if (back !== undefined) undone.push(back)
    } else if (kind === 'redo') {
      const again = undone.pop()
      if (again !== undefined) done.push(again)
    } else {
      done.push(revision)
      undone.length = 0
    }
  }
  return { done, undone }
}

/** The columns that are shown, in order. */
export function shownColumns(table: TableFacts): ColumnFacts[] {
  return table.columns.filter(({ properties }) => properties.hidden !== true)
}
