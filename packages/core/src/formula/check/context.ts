import { type Finding, type FindingCode, type FindingParameters, type Fix, finding, nearestName } from '../../findings/index.js'
import type { Unit } from '../../units/index.js'
import { foldName } from '../../values/index.js'
import type { Parsed, Syntax } from '../syntax/index.js'
import type { WrittenCondition } from './blank-watch.js'
import { type Checked, type CheckedLink, MOST_WATCHES, type Reference, type RowsRead, type Watch } from './checked.js'
import { columnRead, factsOf, singleRead } from './nodes.js'
import type { ColumnId, Scope, ScopeColumn, ScopeValue } from './scope.js'
import { type ExpressionType, isOpen, typeWords } from './types.js'
import type { UnitReading } from './units/unit-reading.js'

/** Nearest names are sought for so many findings of a formula; the rest go without. */
const MOST_SUGGESTIONS = 20

/** A named step in sight; one without a name holds the value that a comparison reads twice. */
export interface StepInSight {
  readonly folded: string
  readonly name: string
  readonly step: number
  readonly value: Checked
}

/** Whose names hold: those of the formula's row, or of the rows that a function of several rows reads. */
interface Level {
  readonly scope: Scope
  /** Null for the row of the formula itself. */
  readonly rows: RowsRead | null
  /** Steps before this one belong to rows further out. */
  readonly firstStep: number
}

/** What the checks of one formula share: its text, the names it may use, and what was found so far. */
export class CheckContext {
  readonly text: string
  readonly findings: Finding[]
  readonly watches: Watch[] = []
  readonly references: Reference[] = []
  readonly tables: { table: string; from: number; to: number }[] = []
  /** Steps of all levels, innermost last. */
  readonly #steps: StepInSight[] = []
  /** For each watched `else`, the conditions before it and the choice it closes. */
  readonly falls: Map<number, { conditions: readonly WrittenCondition[]; choice: Syntax }> = new Map()
  /** Checks a part of the formula. */
  readonly check: (node: Syntax) => Checked
  /** Levels of rows, innermost last. */
  #levels: readonly Level[]
  #stepCount = 0
  #suggestions = 0
  /** How many parts around the one being checked catch its errors. */
  #caught = 0
  readonly #said: Set<string> = new Set()
  /** What is known of units: of columns by their ids, of steps by what they hold, of parts once they are read. */
  readonly units: {
    readonly columns: Map<ColumnId, Unit>
    readonly steps: Map<number, Checked>
    readonly known: Map<Checked, UnitReading>
    /** True where something was read that is hidden from some. */
    isPrivate: boolean
  } = { columns: new Map(), steps: new Map(), known: new Map(), isPrivate: false }
  /** True for a part that is compared with a text. */
  isBesideText = false

  constructor(parsed: Parsed, scope: Scope, check: (context: CheckContext, node: Syntax) => Checked) {
    this.text = parsed.text
    this.#levels = [{ scope, rows: null, firstStep: 0 }]
    this.findings = [...parsed.findings]
    this.check = (node) => check(this, node)
  }

  get #level(): Level {
    return this.#levels.at(-1) as Level
  }

  /** The names that hold here. */
  get scope(): Scope {
    return this.#level.scope
  }

  /** True inside a function of several rows. */
  get isInRows(): boolean {
    return this.#level.rows !== null
  }

  /** True when the rows read here are those of a table. */
  readsTable(name: string): boolean {
    return this.isInRows && foldName(this.scope.table) === foldName(name)
  }

  /** Checks a part whose names belong to rows that are read. */
  inRows<Result>(scope: Scope, rows: RowsRead, check: () => Result): Result {
    const outer = this.#levels
    this.#levels = [...outer, { scope, rows, firstStep: this.#steps.length }]
    const result = check()
    this.#levels = outer
    return result
  }

  /** Checks a part at the row that the rows are read for; outside of such functions, at the row itself. */
  atOuterRow<Result>(check: () => Result): Result {
    const inner = this.#levels
    if (inner.length > 1) this.#levels = inner.slice(0, -1)
    const result = check()
    this.#levels = inner
    return result
  }

  /** Where a name that is unknown among the rows read is known further out: the words for it, or null. */
  outerNames(name: string): string | null {
    if (!this.isInRows) return null
    return this.atOuterRow(() => {
      if (this.stepNamed(name) !== undefined) return 'The formula'
      return this.scope.column(name) === undefined ? null : `Table ${this.scope.table}`
    })
  }

  /** The step of a name at this level, the innermost if there are several. */
  stepNamed(name: string): StepInSight | undefined {
    const folded = foldName(name)
    const { firstStep } = this.#level
    return folded === '' ? undefined : this.#steps.findLast((one, index) => index >= firstStep && one.folded === folded)
  }

  /** Names of the steps at this level. */
  stepNames(): string[] {
    return this.#steps.slice(this.#level.firstStep).map((step) => step.name)
  }

  /** The column that a value is read from, also where a step holds it; undefined for anything else. */
  columnBehind(value: Checked): ScopeColumn | undefined {
    if (value.kind === 'step') {
      const step = this.#steps.find((one) => one.step === value.step)
      return step === undefined ? undefined : this.columnBehind(step.value)
    }
    return value.kind === 'column' ? this.scope.column(this.source(value).replace(/^`(.*)`$/, '$1')) : undefined
  }

  /** Reads a column, and notes its unit. */
  readColumn(column: ScopeColumn, at: Syntax): Checked {
    this.#noteUnit(column)
    return columnRead(column, at)
  }

  /** Reads a named value or a tally, and notes its unit. */
  readSingle(single: ScopeValue, at: Syntax): Checked {
    this.#noteUnit(single)
    return singleRead(single, at)
  }

  #noteUnit({ id, unit, isHidden }: ScopeColumn | ScopeValue): void {
    if (unit !== undefined) this.units.columns.set(id, unit)
    if (isHidden === true) this.units.isPrivate = true
  }

  /** Says what is wrong, or worth saying, at a place. */
  report(
    code: FindingCode,
    parameters: FindingParameters,
    place: { from: number; to: number },
    fixes: readonly Fix[] = [],
  ): void {
    this.findings.push(finding(code, parameters, { from: place.from, to: place.to, fixes }))
  }

  /** The text of a place. */
  source(node: { from: number; to: number }): string {
    return this.text.slice(node.from, node.to)
  }

  /** What stands where a finding already says what is wrong. */
  unknown(node: Syntax): Checked {
    return { kind: 'constant', value: null, type: 'unknown', mayBeBlank: false, mayFail: false, from: node.from, to: node.to }
  }

  /** The nearest name, as long as suggestions are not used up. */
  nearest(name: string, candidates: () => Iterable<string>): string | undefined {
    if (this.#suggestions++ >= MOST_SUGGESTIONS) return undefined
    return nearestName(name, candidates())
  }

  /**
   * Makes `bound` a step that `body` can read. Every step of a formula has a number of its own: the operands of `in` and
   * `between` are checked outside the step that holds their value, but run inside it.
   */
  withStep(name: string, bound: Checked, node: Syntax, body: (read: Checked) => Checked): Checked {
    const step = this.#stepCount++
    this.units.steps.set(step, bound)
    this.#steps.push({ folded: foldName(name), name, step, value: bound })
    const checked = body({ ...factsOf(bound), kind: 'step', step, from: bound.from, to: bound.to })
    this.#steps.pop()
    return { ...factsOf(checked), kind: 'let', step, bound, body: checked, from: node.from, to: node.to }
  }

  /** Says that a value has the wrong type, with the conversion where there is one. */
  mismatch(place: string, expected: string, received: Checked | CheckedLink, wanted?: ExpressionType): void {
    const fixes: Fix[] = []
    let hint = ''
    const wrap = wanted === 'number' && received.type === 'text' ? 'number' : wanted === 'text' ? 'text' : null
    if (wrap !== null) {
      const insert = `${wrap}(${this.source(received)})`
      hint = ` Write ${insert.length > 60 ? `${wrap}(…)` : insert}.`
      fixes.push({ title: `Convert with ${wrap}`, edits: [{ from: received.from, to: received.to, insert }] })
      if ('kind' in received && received.kind === 'column' && wrap === 'number') fixes.push(this.#retype(received))
    } else if (received.type === 'boolean' && wanted === 'number') hint = ' Write if(…, 1, 0).'
    this.report('type-mismatch', { place, expected, received: typeWords(received.type), hint }, received, fixes)
  }

  /** The operation that makes a text column one of numbers. */
  #retype(received: Checked): Fix {
    const column = this.scope.column(this.source(received).replaceAll('`', ''))?.name ?? this.source(received)
    const operation = { op: 'change-column', table: this.scope.table, column, set: { type: 'number' } }
    return { title: `Make ${column} a number column`, operations: [operation] }
  }

  /** True when a value has the wanted type; otherwise reports. */
  expect(value: Checked, wanted: ExpressionType, place: string): boolean {
    if (value.type === wanted || isOpen(value.type)) return true
    this.mismatch(place, typeWords(wanted), value, wanted)
    return false
  }

  /** True for the first time that something is about to be said. */
  isNews(what: string): boolean {
    if (this.#said.has(what)) return false
    this.#said.add(what)
    return true
  }

  /** Checks a part that stands beside a text, so that a bare word may be meant as one. */
  besideText(check: () => Checked): Checked {
    const former = this.isBesideText
    this.isBesideText = true
    const checked = check()
    this.isBesideText = former
    return checked
  }

  /** Checks a part whose errors are caught: that it can fail is meant so. */
  whileCaught(check: () => Checked): Checked {
    this.#caught++
    const checked = check()
    this.#caught--
    return checked
  }

  /** Begins to watch a place, as long as there are not too many. */
  watch(watch: Watch): { watch?: number } {
    if (this.#caught > 0 && watch.code === 'division-by-zero') return {}
    if (this.watches.length >= MOST_WATCHES) return {}
    this.watches.push(watch)
    return { watch: this.watches.length - 1 }
  }
}
