import { type Selection, type Vector, wholeBlock } from '../../columns/index.js'
import { type Finding, finding } from '../../findings/index.js'
import { type FunctionRecord, functionNamed } from '../../functions/index.js'
import {
  faultOfStatus,
  isFaultStatus,
  type Scalar,
  Status,
  type StorageKind,
  storageKindOf,
  type ValueType,
} from '../../values/index.js'
import {
  type Checked,
  type CheckedFormula,
  type CheckedLink,
  type CheckedRows,
  type ColumnId,
  type ExpressionType,
  identityOf,
  mapParts,
  type Operator,
  placeInFormula,
  type Watch,
} from '../check/index.js'
import { chooseNode, coalesceNode, ifErrorNode } from './choices.js'
import { dictionaryNode, TextSources } from './dictionary-node.js'
import { constantOf, type Frame } from './frame.js'
import { ARITHMETIC_KERNELS, eachNumber, SIGN_KERNELS } from './kernels/arithmetic.js'
import { type Comparison, compareVectors } from './kernels/compare.js'
import { isBlankKernel, isErrorKernel, logicKernel, notKernel } from './kernels/logic.js'
import { fillSelected } from './kernels/move.js'
import { linkMarker, markBeyondTurn, markNegative } from './marks.js'
import type { PlanNode } from './node.js'

/** A branch of a choice, numbered as it is compiled, with the place of its condition. */
interface PlanBranch {
  /** True for the last branch, which has no condition. */
  readonly isOtherwise: boolean
  readonly from: number
  readonly to: number
}

/** A formula ready to run, block by block. */
export interface Plan {
  readonly root: PlanNode
  /** Type of the column it makes; text where every row is blank. */
  readonly type: Exclude<ValueType, 'integer'>
  readonly sources: readonly ColumnId[]
  /** Parts that other rows decide: links followed, single values, functions of several rows. */
  readonly reads: readonly Checked[]
  readonly holidays: readonly CheckedRows[]
  readonly branches: readonly PlanBranch[]
  /** True when a result depends on the clock or the seed. */
  readonly movesWithClock: boolean
  /** What folding constants found. */
  readonly findings: readonly Finding[]
}

/** What is compiled of a checked formula. */
type Compiled = Pick<CheckedFormula, 'expression' | 'watches'> & Partial<Pick<CheckedFormula, 'calls'>>

/** Compiles a checked formula without error findings; constant parts are computed here, once. */
export function compilePlan(formula: Compiled, frame: Frame): Plan {
  const { expression, calls = [] } = formula
  const type = expression.type === 'blank' || expression.type === 'unknown' ? 'text' : expression.type
  const compiler = new Compiler(frame, formula.watches)
  const root = compiler.compile(expression, storageKindOf(type))
  const { branches, findings, reads, holidays, movesWithClock } = compiler
  // What is wrong in the formula of an own function is said of the call.
  const said = findings.map((one) => ({ ...one, ...placeInFormula(calls, { from: one.from ?? 0, to: one.to ?? 0 }) }))
  const read = { sources: [...compiler.sources], reads: [...reads.values()], holidays }
  return { root, type, ...read, branches, movesWithClock, findings: said }
}

class Compiler {
  readonly sources: Set<ColumnId> = new Set()
  readonly branches: PlanBranch[] = []
  readonly findings: Finding[] = []
  /** What is read from other rows, by identity. */
  readonly reads: Map<string, Checked> = new Map()
  readonly holidays: CheckedRows[] = []
  /** What the named steps in sight stand for, for the reads that name them. */
  readonly #bound: Map<number, Checked> = new Map()
  readonly #texts: TextSources = new TextSources()
  /** True while a part is compiled that is computed for each different text. */
  #isListed = false
  readonly #frame: Frame
  readonly #watches: readonly Watch[]
  /** Calls so far that depend on more than their arguments. */
  #clockCalls = 0

  get movesWithClock(): boolean {
    return this.#clockCalls > 0
  }

  constructor(frame: Frame, watches: readonly Watch[]) {
    this.#frame = frame
    this.#watches = watches
  }

  /**
   * Compiles an expression; `kind` is what an expression of no type of its own (blank) is stored as. What one column of texts
   * decides is computed once for each of its different texts.
   */
  compile(node: Checked, kind: StorageKind = 'number'): PlanNode {
    const column = this.#isListed ? null : this.#texts.columnOf(node)
    if (column === null) return this.#compileOne(node, kind)
    this.#isListed = true
    const listed = dictionaryNode(this.#compileOne(node, kind), column)
    this.#isListed = false
    return listed
  }

  #compileOne(node: Checked, kind: StorageKind): PlanNode {
    const own = node.type === 'blank' || node.type === 'unknown' ? kind : storageKindOf(node.type)
    switch (node.kind) {
      case 'constant':
        return constantNode(own, node.value, node.value === null ? Status.blank : Status.value)
      case 'column':
        this.sources.add(node.column)
        if (node.type === 'blank') return statusNode(own, node.column)
        return { kind: own, constant: false, isPlain: own !== 'text', run: (frame) => frame.column(node.column) }
      case 'step':
        // A value of no type is stored as its reader wants it, and there may be several.
        if (node.type === 'blank') return this.#compileOne(this.#withoutSteps(node), kind)
        return { kind: own, constant: false, isPlain: own !== 'text', run: (frame) => frame.steps[node.step] as Vector }
      case 'let':
        return this.#let(node, own)
      case 'apply':
        return this.#apply(node)
      case 'chain':
        return this.#chain(node, own)
      case 'call':
        return this.#call(node, own)
      case 'choose': {
        const branches = node.branches.map(({ condition, value }) => {
          const branch = this.branches.push({ isOtherwise: false, from: condition.from, to: condition.to }) - 1
          return { condition: this.compile(condition, 'boolean'), value: this.compile(value, own), branch }
        })
        const otherwise = node.otherwise === null ? null : this.compile(node.otherwise, own)
        const last =
          this.branches.push({ isOtherwise: true, from: node.otherwise?.from ?? node.to, to: node.otherwise?.to ?? node.to }) - 1
        return chooseNode(own, branches, otherwise, last, node.watch)
      }
      case 'coalesce':
        return coalesceNode(
          own,
          node.operands.map((operand) => this.compile(operand, own)),
        )
      case 'if-error':
        return ifErrorNode(own, this.#expectingErrors(node.value, own), this.compile(node.otherwise, own))
      case 'over-rows':
        if (node.record.form === 'aggregate' && node.record.isShare === true) return this.#share(node)
        return this.#read(node, own)
      case 'follow':
      case 'single':
      case 'outer':
        return this.#read(node, own)
    }
  }

  /** What other rows decide is read from the one who knows them; steps are written out, since they are this formula's own. */
  #read(node: Checked, kind: StorageKind): PlanNode {
    const written = this.#withoutSteps(node)
    const identity = identityOf(written)
    if (!this.reads.has(identity)) this.reads.set(identity, written)
    const index = [...this.reads.keys()].indexOf(identity)
    const run = (frame: Frame, selection: Selection): Vector => {
      const out = frame.lend(kind)
      frame.source.fill(index, out, selection)
      return out
    }
    return { kind, constant: false, run }
  }

  #withoutSteps(node: Checked): Checked {
    if (node.kind === 'step') {
      const bound = this.#bound.get(node.step)
      return bound === undefined ? node : this.#withoutSteps(bound)
    }
    return mapParts(node, (part) => this.#withoutSteps(part))
  }

  /** The value of the row itself per the total of the rows. */
  #share(node: Checked & { kind: 'over-rows' }): PlanNode {
    const total = { ...node, record: functionNamed('sum') as FunctionRecord }
    return binaryNode('per', this.compile(atOwnRow(node.args[0] as Checked)), this.#read(total, 'number'))
  }

  /** Compiles a part whose errors are caught, so that a lasting one is not worth saying. */
  #expectingErrors(node: Checked, kind: StorageKind): PlanNode {
    const said = this.findings.length
    const compiled = this.compile(node, kind)
    this.findings.length = said
    return compiled
  }

  #let(node: Checked & { kind: 'let' }, kind: StorageKind): PlanNode {
    this.#bound.set(node.step, node.bound)
    const bound = this.compile(node.bound)
    const body = this.compile(node.body, kind)
    const run = (frame: Frame, selection: Selection): Vector => {
      const value = bound.run(frame, selection)
      frame.pin(value)
      frame.steps[node.step] = value
      const result = body.run(frame, selection)
      frame.unpin(value, result)
      return result
    }
    return { kind, constant: false, run }
  }

  #apply(node: Checked & { kind: 'apply' }): PlanNode {
    const wanted = operandKind(node.operator, node.args)
    const compile = (arg: Checked): PlanNode =>
      node.operator === 'is-error' ? this.#expectingErrors(arg, wanted) : this.compile(arg, wanted)
    const [left, right] = node.args.map(compile) as [PlanNode, PlanNode | undefined]
    const made = right === undefined ? unaryNode(node.operator, left) : binaryNode(node.operator, left, right)
    return this.#fold(made, [left, ...(right === undefined ? [] : [right])], node)
  }

  #chain(node: Checked & { kind: 'chain' }, kind: StorageKind): PlanNode {
    const isLogic = node.type === 'boolean'
    let folded = this.compile(node.first, isLogic ? 'boolean' : 'number')
    const links: { link: CheckedLink; operand: PlanNode }[] = []
    for (const link of node.rest) {
      const operand = this.compile(link.operand, isLogic ? 'boolean' : 'number')
      if (links.length === 0 && folded.constant && operand.constant) {
        folded = this.#fold(binaryNode(link.operator, folded, operand), [folded, operand], link)
      } else links.push({ link, operand })
    }
    if (links.length === 0) return folded
    const steps = links.map(({ link, operand }) => ({
      operand,
      combine: combiner(link.operator),
      kind: storageKindOf(link.type === 'boolean' ? 'boolean' : 'number'),
      watch: link.watch,
      mark: linkMarker(link.watch === undefined ? undefined : this.#watches[link.watch]?.code, 1 << (link.watch ?? 0)),
    }))
    const run = (frame: Frame, selection: Selection): Vector => {
      let value = folded.run(frame, selection)
      for (const step of steps) {
        const operand = step.operand.run(frame, selection)
        const out = frame.lend(step.kind)
        step.combine(value, operand, out, selection)
        if (step.watch !== undefined && frame.marks !== null) step.mark(value, operand, out, frame.marks, selection)
        frame.giveBack(value)
        frame.giveBack(operand)
        value = out
      }
      return value
    }
    const isPlain = folded.isPlain === true && links.every(({ operand }) => operand.isPlain === true)
    const marksRows =
      [folded, ...links.map(({ operand }) => operand)].some((part) => part.marksRows === true) ||
      steps.some((step) => step.watch !== undefined)
    return { kind, constant: false, isPlain, marksRows, run }
  }

  #call(node: Checked & { kind: 'call' }, kind: StorageKind): PlanNode {
    const { record } = node
    const kernel = record.kernel
    if (kernel === undefined) throw new TypeError(`${record.name} is not computed by a kernel`)
    const args = node.args.map((arg, index) => {
      const parameter = record.parameters[Math.min(index, record.parameters.length - 1)]?.types[0] as string
      const isShared = parameter === 'T' || parameter === 'ordered'
      const wanted = isShared ? kind : parameter === 'any' ? 'number' : storageKindOf(parameter as ValueType)
      return this.compile(arg, wanted)
    })
    const types = node.args.map((arg) => (arg.type === 'blank' || arg.type === 'unknown' ? 'number' : arg.type))
    const { blanksAsZero, amounts, watch } = node
    const list = node.holidays === undefined ? null : this.holidays.push(node.holidays) - 1
    const ordinal = record.movesWithClock === true ? this.#clockCalls++ : 0
    const operator = record.operator?.(types) ?? null
    const run = (frame: Frame, selection: Selection): Vector => {
      const vectors = args.map((arg) => arg.run(frame, selection))
      const out = frame.lend(kind)
      const { source } = frame
      const place = { column: source.target, ordinal, rowIdOf: (row: number) => source.rowIdOf(row) }
      if (operator === null) {
        const { surroundings } = source
        const holidays = list === null ? {} : { holidays: source.holidays(list) }
        kernel({ args: vectors, types, out, selection, surroundings, place, blanksAsZero, amounts, ...holidays })
      } else {
        const [left, right] = (operator.swapped ? [...vectors].reverse() : vectors) as [Vector, Vector]
        combiner(operator.name)(left, right, out, selection)
      }
      if (watch !== undefined && frame.marks !== null) this.#markCall(watch, vectors[0] as Vector, out, frame.marks, selection)
      for (const vector of vectors) frame.giveBack(vector)
      return out
    }
    const made = { kind, constant: false, run }
    return record.movesWithClock === true || list !== null ? made : this.#fold(made, args, node)
  }

  #markCall(watch: number, first: Vector, out: Vector, marks: Uint8Array, selection: Selection): void {
    const bit = 1 << watch
    if (this.#watches[watch]?.code === 'negative-interval') markNegative(out, marks, bit, selection)
    else markBeyondTurn(first, marks, bit, selection)
  }

  /** Computes a node whose parts are all constant; a lasting error there is worth saying. */
  #fold(node: PlanNode, parts: readonly PlanNode[], at: { from: number; to: number }): PlanNode {
    if (parts.some((part) => !part.constant)) return node
    const frame = this.#frame
    const vector = node.run(frame, wholeBlock(1))
    const status = vector.status[0] as number
    const stored = vector.values[0] as number | string
    frame.giveBack(vector)
    if (isFaultStatus(status) && !parts.some((part) => isFailing(part, frame))) {
      this.findings.push(finding('always-fails', { fault: faultOfStatus(status) }, { from: at.from, to: at.to }))
    }
    return constantNode(node.kind, status === Status.value ? (node.kind === 'boolean' ? stored === 1 : stored) : null, status)
  }
}

/** An expression over the rows read, for the row of the formula itself: there `this.x` is x. */
function atOwnRow(node: Checked): Checked {
  return node.kind === 'outer' ? node.inner : mapParts(node, atOwnRow)
}

function isFailing(node: PlanNode, frame: Frame): boolean {
  const vector = node.run(frame, wholeBlock(1))
  frame.giveBack(vector)
  return isFaultStatus(vector.status[0] as number)
}

function constantNode(kind: StorageKind, value: Scalar | null, status: number): PlanNode {
  const constant = constantOf(kind, value, status)
  return { kind, constant: true, isPlain: kind !== 'text', run: (frame, selection) => frame.constant(constant, selection) }
}

/** Reads a column that has no values, whatever it is stored as: blanks, and errors where it is calculated. */
function statusNode(kind: StorageKind, column: ColumnId): PlanNode {
  const run = (frame: Frame, selection: Selection): Vector => {
    const out = frame.lend(kind)
    const status = frame.source.statusOf(column)
    fillSelected(out, null, Status.blank, selection)
    for (let k = 0; status !== null && k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      out.status[row] = status[row] as number
    }
    return out
  }
  return { kind, constant: false, run }
}

/** What a blank operand of an operator is stored as: as the other operand is. */
function operandKind(operator: Operator, args: readonly Checked[]): StorageKind {
  if (operator === 'not') return 'boolean'
  const typed = args.find((arg) => arg.type !== 'blank' && arg.type !== 'unknown')?.type as
    | Exclude<ExpressionType, 'blank' | 'unknown'>
    | undefined
  return typed === undefined ? 'number' : storageKindOf(typed)
}

type Combine = (left: Vector, right: Vector, out: Vector, selection: Selection) => void

function combiner(operator: Operator): Combine {
  if (operator === 'and' || operator === 'or') {
    const deciding = operator === 'or' ? 1 : 0
    return (left, right, out, selection) => logicKernel(deciding, left as never, right as never, out as never, selection)
  }
  if (operator in ARITHMETIC_KERNELS) return ARITHMETIC_KERNELS[operator as keyof typeof ARITHMETIC_KERNELS] as Combine
  return (left, right, out, selection) => compareVectors(operator as Comparison, left, right, out as never, selection)
}

function binaryNode(operator: Operator, left: PlanNode, right: PlanNode): PlanNode {
  const combine = combiner(operator)
  const kind = operator in ARITHMETIC_KERNELS ? 'number' : 'boolean'
  const run = (frame: Frame, selection: Selection): Vector => {
    const a = left.run(frame, selection)
    const b = right.run(frame, selection)
    const out = frame.lend(kind)
    combine(a, b, out, selection)
    frame.giveBack(a)
    frame.giveBack(b)
    return out
  }
  return {
    kind,
    constant: false,
    isPlain: left.isPlain === true && right.isPlain === true,
    marksRows: left.marksRows === true || right.marksRows === true,
    run,
  }
}

function unaryNode(operator: Operator, operand: PlanNode): PlanNode {
  const kind = operator in SIGN_KERNELS ? 'number' : 'boolean'
  const kernel = unaryKernel(operator)
  const run = (frame: Frame, selection: Selection): Vector => {
    const value = operand.run(frame, selection)
    const out = frame.lend(kind)
    kernel(value, out, selection)
    frame.giveBack(value)
    return out
  }
  return { kind, constant: false, isPlain: operand.isPlain === true, marksRows: operand.marksRows === true, run }
}

function unaryKernel(operator: Operator): (value: Vector, out: Vector, selection: Selection) => void {
  switch (operator) {
    case 'not':
      return (value, out, selection) => notKernel(value as never, out as never, selection)
    case 'is-blank':
      return (value, out, selection) => isBlankKernel(value, out as never, selection)
    case 'is-error':
      return (value, out, selection) => isErrorKernel(value, out as never, selection)
    default: {
      const compute = SIGN_KERNELS[operator as keyof typeof SIGN_KERNELS]
      return (value, out, selection) => eachNumber(compute, value as never, out as never, selection)
    }
  }
}
