import { type Finding, type FindingCode, type FindingParameters, type Fix, finding, nearestName } from '../../findings/index.js'
import type { Unit } from '../../units/index.js'
import { foldName } from '../../values/index.js'
import { LONGEST_FORMULA, type Parsed, type Syntax } from '../syntax/index.js'
import type { WrittenCondition } from './blank-watch.js'
import { type Checked, type CheckedLink, MOST_WATCHES, type Reference, type RowsRead, type Watch } from './checked.js'
import type { ColumnId } from './ids.js'
import { writtenName } from './inner-names.js'
import { columnRead, factsOf, singleRead } from './nodes.js'
import type { OwnFunction, Scope, ScopeColumn, ScopeValue } from './scope.js'
import { type ExpressionType, isOpen, typeWords } from './types.js'
import type { UnitReading } from './units/unit-reading.js'
import { WrittenText } from './written-text.js'

/** Nearest names are sought for so many findings of a formula; the rest go without. */
const MOST_SUGGESTIONS = 20

/** Deepest nesting of a formula as it is written out; what is not of own functions is never nested so deep. */
const DEEPEST = 2_000

interface Span {
  readonly from: number
  readonly to: number
}

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
  /** The formula as it is written out. */
  readonly written: WrittenText
  /** What own functions are given, by the names that stand for it there. */
  readonly #given: Map<string, Syntax> = new Map()
  readonly functions: { name: string; from: number; to: number }[] = []
  #callCount = 0
  #depth = 0
  /** True once what is said depends on what own functions are given, and not on how they are written. */
  isWithinCalls = false
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
    this.written = new WrittenText(parsed.text)
    this.#levels = [{ scope, rows: null, firstStep: 0 }]
    this.findings = [...parsed.findings]
    this.check = (node) => {
      if (this.#depth >= DEEPEST) return this.#tooDeep(node)
      this.#depth++
      const checked = check(this, node)
      this.#depth--
      return checked
    }
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
      if (this.scope.column(name) === undefined) return null
      return this.scope.function === undefined ? `Table ${this.scope.table}` : 'The function'
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
    return this.#steps.slice(this.#level.firstStep).flatMap(({ name }) => (name === writtenName(name) ? [name] : []))
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
    const at = this.written.placeOf(place)
    const isInCall = at !== place
    const said = isInCall && !this.isWithinCalls ? this.#saidOfCall(code, parameters, at) : finding(code, parameters)
    if (said === null) return
    // What an own function is given is looked at in several places, and what is wrong with it said once.
    const isSame = (one: Finding): boolean => one.message === said.message && one.from === at.from && one.to === at.to
    if (this.written.isLonger && this.findings.some(isSame)) return
    this.findings.push({ ...said, from: at.from, to: at.to, fixes: isInCall ? [] : this.written.possible(fixes) })
  }

  /** Of what does not go together inside of an own function the call is to be told; how it is written was told of it. */
  #saidOfCall(code: FindingCode, parameters: FindingParameters, call: Span): Finding | null {
    const inside = finding(code, { ...parameters, hint: '' })
    if (inside.severity !== 'error') return null
    return finding('not-for-function', { name: this.source(call), reason: inside.message })
  }

  /** Notes that a column is named. */
  refer(column: ColumnId, { from, to }: Span): void {
    const isKnown = this.written.isLonger && this.references.some((one) => one.from === from)
    if (isKnown || !this.written.isOwn({ from })) return
    this.references.push({ column, from, to })
  }

  /** Notes that an own function is called. */
  callOwn(name: string, node: Syntax & { kind: 'call' }): void {
    const { from, to } = node.name
    if (this.written.isOwn({ from }) && !this.functions.some((one) => one.from === from)) this.functions.push({ name, from, to })
  }

  /** A number that no other call of an own function has. */
  nextCall(): number {
    return this.#callCount++
  }

  /** Says what a name that stands for an argument is given. */
  give(name: string, arg: Syntax): void {
    this.#given.set(name, arg)
  }

  /** What an own function was given by a name, for rows at which no step holds it. */
  givenBy(name: string): Syntax | undefined {
    return this.#given.get(name)
  }

  /** Writes the formula of an own function out; gives how far its places are moved by that, or null where it is too long. */
  writeOut(own: OwnFunction, node: Syntax & { kind: 'call' }): number | null {
    return this.lengthen(own.body.text.length, node) ? this.written.writeOut(own, node) : null
  }

  /** Adds to the length of the formula as it is written out; false after saying that it is too long. */
  lengthen(by: number, node: Syntax): boolean {
    if (this.written.lengthen(by)) return true
    if (this.isNews('too long')) this.report('calls-too-long', { limit: LONGEST_FORMULA }, this.written.placeOf(node))
    return false
  }

  #tooDeep(node: Syntax): Checked {
    if (this.isNews('too deep')) this.report('calls-too-deep', {}, this.written.placeOf(node))
    return this.unknown(node)
  }

  /** The text in which all parts have their places. */
  get text(): string {
    return this.written.text
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
    const { from, to } = node
    return {
      ...factsOf(checked),
      kind: 'let',
      step,
      name: name === '' ? null : writtenName(name),
      bound,
      body: checked,
      from,
      to,
    }
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
    const place = this.written.placeOf(watch)
    // What an own function is given may stand in it several times, and is one place to watch.
    const known = this.watches.findIndex(
      ({ code, subject, from, to }) => code === watch.code && subject === watch.subject && from === place.from && to === place.to,
    )
    if (known >= 0) return { watch: known }
    if (this.watches.length >= MOST_WATCHES) return {}
    const fixes = place === watch ? this.written.possible(watch.fixes) : []
    this.watches.push({ ...watch, from: place.from, to: place.to, fixes })
    return { watch: this.watches.length - 1 }
  }
}
