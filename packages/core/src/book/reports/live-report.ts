import type { Engine, GroupedRows, Touched } from '../../engine/index.js'
import { Refusal } from '../../findings/index.js'
import type { CheckedFormula, ColumnId, Plan } from '../../formula/index.js'
import { ChangeFeed, type Subscription } from '../calls/index.js'
import { keptView, type Model, orderKeyOf, type ShownValue, showCell } from '../model/index.js'
import { columnGiven } from '../queries/index.js'
import { type ChangeSet, changesDefinitions, isSamePlan } from '../transaction/index.js'
import { type KnownView, knownView } from './check-view.js'
import type { GroupNode } from './group-tree.js'
import type { GroupedResult } from './grouped-view.js'
import { hasOthers, type LaidOut, laidOut, resultOf, rowsOf } from './make-view.js'
import { type ParameterValues, withParameters } from './report-parameters.js'
import { isWithRows, type Line } from './view-lines.js'
import { levelsOf, type ViewParts } from './view-parts.js'

/** A group of a report that a change has touched. */
export interface ChangedGroup {
  /** Its keys, the outermost first; none for the whole. */
  readonly keys: readonly ShownValue[]
}

/** What a change of the workbook has done to a report. */
export interface ReportChange {
  /** Groups of which rows, or what the tallies are made from, have changed, the whole among them; null where any may have. */
  readonly groups: readonly ChangedGroup[] | null
  /** Columns of lines, which may be others on every line. */
  readonly columns: readonly string[]
}

/** A report that follows every edit, until it is ended: by calling it, or by `using`. */
export interface ReportView extends Subscription {
  readonly name: string
  /** Its lines as they are now; to be read before the workbook changes again. Without lines once the report is gone. */
  readonly current: GroupedResult
  /** True when the report was removed, or asks for a parameter that it was not given. */
  readonly isGone: boolean
  /** Calls a listener after each change that has touched the report, until the subscription returned is ended. */
  subscribe(listener: (change: ReportChange) => void): Subscription
}

/** What a report needs of the workbook. */
export interface ReportSource {
  readonly model: Model
  readonly engine: Engine
  readonly feed: ChangeFeed
}

/**
 * Opens a report.
 *
 * @param given - values of its parameters by name
 * @throws Refusal for a report or parameter that there is not, and for a parameter without a value
 */
export function openReport(source: ReportSource, name: string, given: ParameterValues): ReportView {
  const report = new LiveReport(source, name, given)
  return Object.defineProperties(() => report.end(), {
    [Symbol.dispose]: { value: () => report.end() },
    name: { get: () => report.name },
    current: { get: () => report.current },
    isGone: { get: () => report.isGone },
    subscribe: { value: (listener: (change: ReportChange) => void) => report.subscribe(listener) },
  }) as unknown as ReportView
}

/** What a report that is gone shows. */
const NO_LINES: GroupedResult = {
  columns: [],
  matched: 0,
  slots: new Int32Array(),
  ids: () => [],
  rows: () => [],
  lines: [],
  levels: [],
  ownColumns: [],
  isFlat: false,
  isFolded: false,
  table: '',
  where: null,
  parameters: [],
  rowCount: 0,
  keptCount: 0,
  findings: () => [],
}

/** A view kept open: its groups and aggregates follow edits, its lines are laid out when someone reads them. */
class LiveReport {
  readonly name: string
  readonly #source: ReportSource
  readonly #given: ParameterValues
  readonly #feed: ChangeFeed<ReportChange>
  readonly #ended: Subscription
  #parts: ViewParts | null = null
  #laid: LaidOut | null = null
  /** The lines of groups that were last read, by level and group: so a group that is gone since can be named. */
  #read: ReadonlyMap<number, { readonly place: number; readonly node: GroupNode }>[] = []
  /** By level, the groups whose lines are yet to be brought up to date. */
  #open: Set<number>[] = []

  constructor(source: ReportSource, name: string, given: ParameterValues) {
    this.name = keptView(source.model.reports, 'report', name).name
    this.#source = source
    this.#feed = new ChangeFeed(source.feed.onListenerError)
    this.#given = given
    this.#begin(this.#known())
    this.#ended = source.feed.add((change) => this.#follow(change))
  }

  get isGone(): boolean {
    return this.#parts === null
  }

  get current(): GroupedResult {
    const parts = this.#parts
    if (parts === null) return NO_LINES
    if (this.#laid === null) this.#layOut(parts)
    else this.#patch(parts, this.#laid)
    const result = resultOf(parts, this.#laid as LaidOut)
    return { ...result, findings: () => result.findings().map((one) => ({ ...one, report: this.name })) }
  }

  subscribe(listener: (change: ReportChange) => void): Subscription {
    return this.#feed.add(listener)
  }

  end(): void {
    this.#ended()
    this.#close()
  }

  /** The view as the report says it now, with its names found. */
  #known(): KnownView {
    const { model, engine } = this.#source
    return knownView(model, engine, withParameters(keptView(model.reports, 'report', this.name), this.#given))
  }

  #begin(known: KnownView): void {
    const rows = rowsOf(known)
    this.#parts = { ...known, rows }
    const { all, keys, across } = known.columns
    const { model } = known.names
    const lines = all.flatMap(({ line }) => (line === undefined ? [] : [line.plan]))
    const tallies = all.flatMap(({ ofRows }) => ofRows ?? [])
    rows.follow({
      tallies,
      overRows: hasOthers(known) || known.view.tallyDetails === true ? tallies : [],
      rows: isWithRows(known.view) ? all.flatMap(({ ofRow }) => ofRow ?? []) : [],
      others: [
        ...[...lines, known.arrangement.having].flatMap((plan) => (plan === null ? [] : singlesOf(plan))),
        ...[...keys, ...(across === null ? [] : [across.expression])].flatMap((expression) => {
          const given = columnGiven(model, expression)
          const key = given === undefined ? undefined : orderKeyOf(given.table, given.column)
          return given === undefined || key === undefined ? [] : [given.column.id, key.id]
        }),
      ],
    })
  }

  #close(): void {
    this.#parts?.rows.end()
    this.#parts = null
    this.#laid = null
  }

  #follow(change: ChangeSet): void {
    const isAnew = changesDefinitions(change.operations) && this.#reopen(change)
    if (isAnew) return this.#feed.tell({ groups: null, columns: this.#lineNames() })
    const parts = this.#parts
    const touched = parts?.rows.takeTouched() ?? null
    if (parts === null || touched === null) return
    const { isAll, others, rows, groups } = touched
    if (!isAll && !others && !rows && groups.every(({ size }) => size === 0)) return
    const named = isAll ? null : groups.flatMap((ofLevel, level) => [...ofLevel].flatMap((group) => this.#named(level, group)))
    this.#note(parts, touched)
    this.#feed.tell({ groups: named, columns: this.#lineNames() })
  }

  /** Makes it anew where a change of definitions means another view; true if it did. */
  #reopen({ operations }: ChangeSet): boolean {
    const former = this.#parts
    let known: KnownView | null = null
    try {
      known = this.#known()
    } catch (error) {
      // The report is no more, or asks for what it was not given.
      if (!(error instanceof Refusal)) throw error
    }
    if (known === null && former === null) return false
    const isOther = operations.some(({ op }) => op.endsWith('-link') || op.endsWith('-table'))
    if (known !== null && former !== null && !isOther && isSameView(known, former)) return false
    this.#close()
    if (known !== null) this.#begin(known)
    return true
  }

  /** Notes what is to be done before the lines are read again. */
  #note(parts: ViewParts, { isAll, others, rows, groups }: Touched): void {
    // The number of a group that has gone may be another one's in the same pass, whose keys are not those of its line.
    const isKept = (level: number, group: number): boolean => {
      const line = this.#read[level]?.get(group)
      if (line === undefined || parts.rows.sizeOf(level, group) === 0) return false
      return isSameKeys({ keys: keysNow(parts.rows, level, group) }, { keys: keysOf(line.node, parts.rows) })
    }
    // Rows that come and go change the numbers of the others.
    const isMoved = others || (rows && isWithRows(parts.view))
    const canPatch =
      !isAll && !isMoved && isPlain(parts) && groups.every((all, level) => [...all].every((one) => isKept(level, one)))
    if (!canPatch) this.#laid = null
    else for (const [level, all] of groups.entries()) for (const group of all) this.#open[level]?.add(group)
  }

  #layOut(parts: ViewParts): void {
    this.#laid = laidOut(parts)
    const read = levelsOf(parts).map(() => new Map<number, { place: number; node: GroupNode }>())
    for (const [place, { kind, node }] of this.#laid.lines.entries())
      if (kind === 'group' || kind === 'whole') read[node.level]?.set(node.group, { place, node })
    this.#read = read
    this.#open = read.map(() => new Set())
  }

  /** Brings the lines of touched groups up to date, and the columns of lines with them. */
  #patch({ rows, columns }: ViewParts, { lines, sheet }: LaidOut): void {
    if (this.#open.every(({ size }) => size === 0)) return
    for (const [level, open] of this.#open.entries()) {
      const groups = Int32Array.from(open)
      const places = Array.from(groups, (group) => this.#read[level]?.get(group)?.place as number)
      for (const [index, place] of places.entries()) {
        const rowCount = rows.sizeOf(level, groups[index] as number)
        lines[place] = { ...(lines[place] as Line), rowCount }
        sheet.setSize(place, rowCount)
      }
      for (const { id, ofRows } of columns.all) {
        if (ofRows === undefined) continue
        for (const [index, cell] of rows.cells(ofRows, level, groups).entries())
          sheet.column(id).write(places[index] as number, cell)
      }
      open.clear()
    }
    for (const { id, line } of columns.all) if (line !== undefined) sheet.calculate(id, line.plan, line.isRunning)
  }

  /** What a touched group is called: by its keys when the lines were last read, and by those it has now. */
  #named(level: number, group: number): ChangedGroup[] {
    const { rows } = this.#parts as ViewParts
    const before = this.#read[level]?.get(group)?.node
    const names: ChangedGroup[] = []
    if (before !== undefined) names.push({ keys: keysOf(before, rows) })
    if (rows.sizeOf(level, group) > 0 || level === 0) {
      const now = { keys: keysNow(rows, level, group) }
      if (before === undefined || !isSameKeys(now, names[0] as ChangedGroup)) names.push(now)
    }
    return names
  }

  #lineNames(): string[] {
    return (this.#parts?.columns.all ?? []).flatMap(({ name, line }) => (line === undefined ? [] : [name]))
  }
}

/** True for views of which a line can be brought up to date alone. */
function isPlain(parts: ViewParts): boolean {
  const isByKeys = parts.arrangement.orders.every(({ by }) => by.level !== undefined)
  return isByKeys && !hasOthers(parts) && parts.columns.across === null && !isWithRows(parts.view)
}

/** Named values that a formula reads. */
function singlesOf(plan: Plan): ColumnId[] {
  return plan.reads.flatMap((read) => (read.kind === 'single' ? [read.column] : []))
}

type ComparedView = Pick<KnownView, 'names' | 'view' | 'columns'>

/** True for views of the same lines: the same view, whose formulas mean the same. */
function isSameView(one: ComparedView, other: ComparedView): boolean {
  const [formulas, former] = [one.names.formulas, other.names.formulas]
  const isSame = ([place, checked]: [string, CheckedFormula]): boolean => {
    const before = former.get(place)
    return before !== undefined && isSamePlan(checked, before)
  }
  const looks = ({ columns }: ComparedView): string =>
    JSON.stringify([...columns.keyColumns, ...columns.all].map(({ name, properties }) => [name, properties]))
  return JSON.stringify(one.view) === JSON.stringify(other.view) && looks(one) === looks(other) && [...formulas].every(isSame)
}

/** The keys of a group that was laid out, the outermost first. */
function keysOf(node: GroupNode, rows: GroupedRows): ShownValue[] {
  const keys: ShownValue[] = []
  for (let at: GroupNode | null = node; at !== null && at.level > 0; at = at.outer)
    keys.unshift(showCell(at.key, rows.typeOf(at.level)))
  return keys
}

/** The keys of a group as it is now. */
function keysNow(rows: GroupedRows, level: number, group: number): ShownValue[] {
  const keys: ShownValue[] = []
  for (let [at, of] = [level, group]; at > 0; [at, of] = [at - 1, rows.outerOf(at, of)])
    keys.unshift(showCell(rows.keyOf(at, of), rows.typeOf(at)))
  return keys
}

function isSameKeys(one: ChangedGroup, other: ChangedGroup): boolean {
  return one.keys.every((key, at) => JSON.stringify(key) === JSON.stringify(other.keys[at]))
}
