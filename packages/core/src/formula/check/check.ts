import {
  type Finding,
  type FindingCode,
  type FindingParameters,
  type Fix,
  finding,
  hasErrors,
  nearestName,
} from '../../findings/index.js'
import { FUNCTIONS, type FunctionRecord, functionNamed } from '../../functions/index.js'
import { foldName, printName, type Scalar } from '../../values/index.js'
import type { NamePart, Parsed, Syntax } from '../syntax/index.js'
import { blankFix, blankTest, type WrittenCondition } from './blank-watch.js'
import {
  type Checked,
  type CheckedBranch,
  type CheckedFormula,
  type CheckedLink,
  MOST_WATCHES,
  type Operator,
  type Reference,
  type Watch,
} from './checked.js'
import { arithmeticTyping, comparedType, comparisonOperator } from './operators.js'
import type { Scope, ScopeColumn } from './scope.js'
import { commonType, type ExpressionType, expressionType, isOpen, typeWords } from './types.js'

/** Nearest names are sought for so many findings of a formula; the rest go without. */
const MOST_SUGGESTIONS = 20

/**
 * Resolves names, infers types and chooses operators (docs/language, "Operators" and "Values"). Never throws; what is wrong
 * is a finding and has the type `unknown`, so that one mistake is reported once.
 */
export function checkFormula(parsed: Parsed, scope: Scope): CheckedFormula {
  return new Checker(parsed, scope).run()
}

class Checker {
  readonly #text: string
  readonly #tree: Syntax
  readonly #scope: Scope
  readonly #findings: Finding[]
  readonly #watches: Watch[] = []
  readonly #references: Reference[] = []
  /** For each watched `else`, the conditions before it and the choice it closes. */
  readonly #falls: Map<number, { conditions: readonly WrittenCondition[]; choice: Syntax }> = new Map()
  /** Named steps in sight, innermost last; a step without a name holds the value that a comparison reads twice. */
  readonly #steps: { folded: string; name: string; step: number; value: Checked }[] = []
  #stepCount = 0
  #suggestions = 0

  constructor(parsed: Parsed, scope: Scope) {
    this.#text = parsed.text
    this.#tree = parsed.tree
    this.#scope = scope
    this.#findings = [...parsed.findings]
  }

  run(): CheckedFormula {
    const expression = this.#check(this.#tree)
    const findings = this.#findings.sort((a, b) => (a.from ?? 0) - (b.from ?? 0))
    return { expression, findings, watches: this.#watches, references: this.#references, stepCount: this.#stepCount }
  }

  #report(
    code: FindingCode,
    parameters: FindingParameters,
    place: { from: number; to: number },
    fixes: readonly Fix[] = [],
  ): void {
    this.#findings.push(finding(code, parameters, { from: place.from, to: place.to, fixes }))
  }

  #source(node: { from: number; to: number }): string {
    return this.#text.slice(node.from, node.to)
  }

  #unknown(node: Syntax): Checked {
    return { kind: 'constant', value: null, type: 'unknown', mayBeBlank: false, mayFail: false, from: node.from, to: node.to }
  }

  #check(node: Syntax): Checked {
    switch (node.kind) {
      case 'literal':
        return constant(node.value, node.type, node)
      case 'name':
        return this.#name(node.parts, node)
      case 'tag':
        this.#report('not-here', { found: `#${node.name}`, reason: 'a tag of columns is not a value.' }, node)
        return this.#unknown(node)
      case 'group':
        return this.#check(node.inner)
      case 'unary':
        return this.#unary(node)
      case 'chain':
        return this.#chain(node)
      case 'power':
        return this.#power(node)
      case 'compare':
        return this.#compare(comparisonOperator(node.operator), this.#check(node.left), this.#check(node.right), node)
      case 'between':
        return this.#between(node)
      case 'in':
        return this.#in(node)
      case 'is': {
        const value = this.#check(node.value)
        const test = apply(node.what === 'blank' ? 'is-blank' : 'is-error', [value], 'boolean', node, { mayBeBlank: false })
        // `is blank` asks about blanks only: an error passes through. `is error` never fails.
        const asked = { ...test, mayFail: node.what === 'blank' && value.mayFail }
        return node.negated ? apply('not', [asked], 'boolean', node) : asked
      }
      case 'call':
        return this.#call(node)
      case 'case':
        return this.#case(node)
      case 'let':
        return this.#let(node)
      case 'missing':
        return this.#unknown(node)
    }
  }

  // Names

  #name(parts: readonly [NamePart, ...NamePart[]], node: Syntax): Checked {
    if (parts.length > 1) {
      const own = this.#scope.column((parts.at(-1) as NamePart).name)
      const hint = own === undefined ? '' : ` This table's own column is ${printName(own.name)}.`
      const fixes =
        own === undefined
          ? []
          : [{ title: `Use ${printName(own.name)}`, edits: [{ from: node.from, to: node.to, insert: printName(own.name) }] }]
      this.#report('unexpected-qualifier', { name: this.#source(node), hint }, node, fixes)
      return this.#unknown(node)
    }
    const part = parts[0]
    const folded = foldName(part.name)
    const step = folded === '' ? undefined : this.#steps.findLast((one) => one.folded === folded)
    if (step !== undefined) return { ...factsOf(step.value), kind: 'step', step: step.step, from: node.from, to: node.to }
    const column = this.#scope.column(part.name)
    if (column === undefined) return this.#unknownName(part, node)
    this.#references.push({ column: column.id, from: part.from, to: part.to })
    return columnRead(column, node)
  }

  #unknownName(part: NamePart, node: Syntax): Checked {
    const tables = this.#scope.tablesWithColumn(part.name)
    const fixes: Fix[] = []
    let hint = ''
    if (tables.length > 0) hint = ` Table ${tables.map(printName).join(' and ')} has one: was the formula meant for that table?`
    else {
      const near = this.#nearest(part.name, [...this.#scope.columnNames(), ...this.#steps.map((step) => step.name)])
      if (near !== undefined) {
        hint = ` Nearest name: ${printName(near)}.`
        fixes.push({ title: `Use ${printName(near)}`, edits: [{ from: part.from, to: part.to, insert: printName(near) }] })
      } else if (functionNamed(part.name) !== undefined) hint = ` ${part.name} is a function; call it with parentheses.`
    }
    this.#report('unknown-name', { place: `Table ${this.#scope.table}`, name: printName(part.name), hint }, part, fixes)
    return this.#unknown(node)
  }

  #nearest(name: string, candidates: Iterable<string>): string | undefined {
    if (this.#suggestions++ >= MOST_SUGGESTIONS) return undefined
    return nearestName(name, candidates)
  }

  #let(node: Syntax & { kind: 'let' }): Checked {
    const bound = this.#check(node.bound)
    return this.#withStep(node.name.name, bound, node, () => this.#check(node.body))
  }

  /**
   * Makes `bound` a step that `body` can read. Every step of a formula has a number of its own: the operands of `in` and
   * `between` are checked outside the step that holds their value, but run inside it.
   */
  #withStep(name: string, bound: Checked, node: Syntax, body: (read: Checked) => Checked): Checked {
    const step = this.#stepCount++
    this.#steps.push({ folded: foldName(name), name, step, value: bound })
    const checked = body({ ...factsOf(bound), kind: 'step', step, from: bound.from, to: bound.to })
    this.#steps.pop()
    return { ...factsOf(checked), kind: 'let', step, bound, body: checked, from: node.from, to: node.to }
  }

  // Types

  #mismatch(place: string, expected: string, received: Checked, wanted?: ExpressionType): void {
    const fixes: Fix[] = []
    let hint = ''
    const wrap = wanted === 'number' && received.type === 'text' ? 'number' : wanted === 'text' ? 'text' : null
    if (wrap !== null) {
      const insert = `${wrap}(${this.#source(received)})`
      hint = ` Write ${insert.length > 60 ? `${wrap}(…)` : insert}.`
      fixes.push({ title: `Convert with ${wrap}`, edits: [{ from: received.from, to: received.to, insert }] })
    } else if (received.type === 'boolean' && wanted === 'number') hint = ' Write if(…, 1, 0).'
    this.#report('type-mismatch', { place, expected, received: typeWords(received.type), hint }, received, fixes)
  }

  /** True when a value has the wanted type; otherwise reports. */
  #expect(value: Checked, wanted: ExpressionType, place: string): boolean {
    if (value.type === wanted || isOpen(value.type)) return true
    this.#mismatch(place, typeWords(wanted), value, wanted)
    return false
  }

  #unary(node: Syntax & { kind: 'unary' }): Checked {
    const operand = this.#check(node.operand)
    const wanted = node.operator === 'not' ? 'boolean' : 'number'
    if (!this.#expect(operand, wanted, `"${node.operator}"`)) return this.#unknown(node)
    if (node.operator === '+') return operand
    return apply(node.operator === 'not' ? 'not' : 'negate', [operand], wanted, node)
  }

  #power(node: Syntax & { kind: 'power' }): Checked {
    const base = this.#check(node.base)
    const exponent = this.#check(node.exponent)
    const fits = [this.#expect(base, 'number', '"^"'), this.#expect(exponent, 'number', '"^"')]
    return fits.includes(false) ? this.#unknown(node) : apply('power', [base, exponent], 'number', node, { mayFail: true })
  }

  #chain(node: Syntax & { kind: 'chain' }): Checked {
    switch (node.level) {
      case 'or':
      case 'and':
        return this.#logic(node.level, node)
      case 'default':
        return this.#default(node)
      case 'join':
        return call(
          functionNamed('concat') as FunctionRecord,
          [node.first, ...node.rest.map((link) => link.operand)].map((one) => this.#check(one)),
          'text',
          node,
        )
      case 'sum':
      case 'product':
        return this.#arithmetic(node)
    }
  }

  #logic(operator: 'and' | 'or', node: Syntax & { kind: 'chain' }): Checked {
    const first = this.#check(node.first)
    let fits = this.#expect(first, 'boolean', `"${operator}"`)
    let before: Checked = first
    const rest: CheckedLink[] = []
    for (const link of node.rest) {
      const operand = this.#check(link.operand)
      fits = this.#expect(operand, 'boolean', `"${operator}"`) && fits
      before = { ...before, mayBeBlank: before.mayBeBlank || operand.mayBeBlank, mayFail: before.mayFail || operand.mayFail }
      rest.push({
        operator,
        operand,
        type: 'boolean',
        mayBeBlank: before.mayBeBlank,
        mayFail: before.mayFail,
        from: node.from,
        to: operand.to,
      })
    }
    if (!fits) return this.#unknown(node)
    return {
      kind: 'chain',
      first,
      rest,
      type: 'boolean',
      mayBeBlank: before.mayBeBlank,
      mayFail: before.mayFail,
      from: node.from,
      to: node.to,
    }
  }

  #default(node: Syntax & { kind: 'chain' }): Checked {
    const parts = [node.first, ...node.rest.map((link) => link.operand)]
    for (const part of parts.slice(1)) {
      if (part.kind !== 'chain') continue
      const left = this.#text.slice(node.from, parts[parts.indexOf(part) - 1]?.to)
      const right = this.#source(part)
      const leading = this.#source(part.first)
      const tail = this.#text.slice(part.first.to, part.to)
      this.#report('unclear-precedence', { left, right }, part, [
        { title: `Read as ${left} ?? (${right})`, edits: [{ from: part.from, to: part.to, insert: `(${right})` }] },
        {
          title: `Read as (${left} ?? ${leading})${tail}`,
          edits: [{ from: node.from, to: part.to, insert: `(${left} ?? ${leading})${tail}` }],
        },
      ])
    }
    return this.#coalesce(
      parts.map((part) => this.#check(part)),
      node,
      '"??"',
    )
  }

  #arithmetic(node: Syntax & { kind: 'chain' }): Checked {
    let first = this.#check(node.first)
    let rest: CheckedLink[] = []
    let fits = first.type !== 'unknown'
    const left = (): Checked => {
      const last = rest.at(-1)
      return last === undefined ? first : { ...factsOf(last), kind: 'chain', first, rest, from: node.from, to: last.to }
    }
    for (const link of node.rest) {
      const operand = this.#check(link.operand)
      const value = left()
      const typing = arithmeticTyping(link.operator, fits ? value.type : 'unknown', operand.type)
      if (typing === null) this.#arithmeticMismatch(link.operator, value, operand)
      if (typing === null || typing.type === 'unknown') {
        fits = false
        continue
      }
      if (typing.toTime === true && value.type === 'date') {
        first = toTime(value)
        rest = []
      }
      rest.push(
        this.#arithmeticLink(typing.operator, typing.type, value, typing.toTime === true ? toTime(operand) : operand, link, node),
      )
    }
    return fits ? left() : this.#unknown(node)
  }

  #arithmeticLink(
    operator: Operator,
    type: ExpressionType,
    left: Checked,
    operand: Checked,
    link: { from: number; to: number },
    node: Syntax,
  ): CheckedLink {
    const divisor = operand.kind === 'constant' ? operand.value : undefined
    const facts = {
      type,
      mayBeBlank: left.mayBeBlank || operand.mayBeBlank || (operator === 'per' && (divisor === undefined || divisor === 0)),
      mayFail: true,
      from: node.from,
      to: operand.to,
    }
    if (operator !== 'divide' || divisor !== undefined) return { ...facts, operator, operand }
    const subject = this.#source(operand)
    const fixes = [
      {
        title: 'Divide with per, which gives blank there',
        edits: [{ from: link.from, to: link.to, insert: this.#spaced('per', link) }],
      },
    ]
    return {
      ...facts,
      operator,
      operand,
      ...this.#watch({ code: 'division-by-zero', subject, from: operand.from, to: operand.to, fixes }),
    }
  }

  /** A word that replaces a sign, with spaces where its neighbours would run into it. */
  #spaced(word: string, at: { from: number; to: number }): string {
    const before = /\s/.test(this.#text[at.from - 1] ?? ' ') ? '' : ' '
    const after = /\s/.test(this.#text[at.to] ?? ' ') ? '' : ' '
    return before + word + after
  }

  #arithmeticMismatch(operator: string, left: Checked, right: Checked): void {
    const place = `"${operator}"`
    const leftFits = left.type === 'number' || isOpen(left.type) || (left.type !== 'text' && left.type !== 'boolean')
    if (!leftFits) this.#mismatch(place, operator === '+' || operator === '-' ? 'number or date' : 'number', left, 'number')
    if (right.type === 'text' || right.type === 'boolean') this.#mismatch(place, 'number', right, 'number')
    else if (leftFits)
      this.#report(
        'type-mismatch',
        { place, expected: 'types that go together', received: `${typeWords(left.type)} and ${typeWords(right.type)}` },
        { from: left.from, to: right.to },
      )
  }

  #watch(watch: Watch): { watch?: number } {
    if (this.#watches.length >= MOST_WATCHES) return {}
    this.#watches.push(watch)
    return { watch: this.#watches.length - 1 }
  }

  // Conditions

  #compare(operator: Operator, left: Checked, right: Checked, node: { from: number; to: number }): Checked {
    const type = comparedType(operator, left.type, right.type)
    if (type === null) {
      const sign = `"${signOf(operator)}"`
      if (left.type === right.type)
        this.#report('type-mismatch', { place: sign, expected: 'values with an order', received: typeWords(left.type) }, node)
      else {
        const toConvert = left.type === 'text' && right.type === 'number' ? left : right
        const other = toConvert === left ? right : left
        this.#mismatch(`${sign} beside ${typeWords(other.type)}`, typeWords(other.type), toConvert, other.type)
      }
      return { ...this.#unknown({ kind: 'missing', ...node }) }
    }
    const blankSide = [left, right].find((side) => side.kind === 'constant' && side.type === 'blank')
    if (blankSide !== undefined && operator !== 'member') {
      const other = blankSide === left ? right : left
      const fixes =
        operator === 'equal' || operator === 'unequal'
          ? [
              {
                title: 'Ask "is blank"',
                edits: [
                  {
                    from: node.from,
                    to: node.to,
                    insert: `${this.#source(other)} is ${operator === 'unequal' ? 'not ' : ''}blank`,
                  },
                ],
              },
            ]
          : []
      this.#report('compared-with-blank', {}, node, fixes)
    }
    const sides = type === 'datetime' ? [toTime(left), toTime(right)] : [left, right]
    return apply(operator, sides, 'boolean', node, operator === 'member' ? { mayBeBlank: left.mayBeBlank } : {})
  }

  #between(node: Syntax & { kind: 'between' }): Checked {
    const value = this.#check(node.value)
    const [low, high] = [this.#check(node.low), this.#check(node.high)]
    const test = this.#withStep('', value, node, (read) => {
      const atLeast = this.#compare('greater-equal', read, low, node)
      const atMost = this.#compare('less-equal', read, high, node)
      if (atLeast.type === 'unknown' || atMost.type === 'unknown') return this.#unknown(node)
      return both('and', [atLeast, atMost], node)
    })
    return node.negated && test.type !== 'unknown' ? apply('not', [test], 'boolean', node) : test
  }

  #in(node: Syntax & { kind: 'in' }): Checked {
    const value = this.#check(node.value)
    const members = node.members.map((member) => this.#check(member))
    const test = this.#withStep('', value, node, (read) => {
      const tests = members.map((member) => this.#compare('member', read, member, member))
      if (tests.length === 0) return this.#compare('member', read, constant(null, 'blank', node), node)
      if (tests.some((one) => one.type === 'unknown')) return this.#unknown(node)
      return both('or', tests as [Checked, ...Checked[]], node)
    })
    return node.negated && test.type !== 'unknown' ? apply('not', [test], 'boolean', node) : test
  }

  #case(node: Syntax & { kind: 'case' }): Checked {
    if (node.subject === null) {
      const conditions = node.branches.map(({ condition }) => ({ syntax: condition, checked: this.#condition(condition) }))
      const values = node.branches.map(({ value }) => this.#check(value))
      const otherwise = node.otherwise === null ? null : this.#check(node.otherwise)
      return this.#choose(conditions, values, otherwise, node)
    }
    const subject = this.#check(node.subject)
    return this.#withStep('', subject, node, (read) => {
      const conditions = node.branches.map(({ condition }) => {
        const when = this.#check(condition)
        return { syntax: node.subject as Syntax, checked: this.#compare('equal', read, when, condition) }
      })
      const values = node.branches.map(({ value }) => this.#check(value))
      const otherwise = node.otherwise === null ? null : this.#check(node.otherwise)
      return this.#choose(conditions, values, otherwise, node)
    })
  }

  #condition(node: Syntax): Checked {
    const checked = this.#check(node)
    return this.#expect(checked, 'boolean', 'A condition') ? checked : this.#unknown(node)
  }

  #choose(
    conditions: readonly WrittenCondition[],
    values: readonly Checked[],
    otherwise: Checked | null,
    owner: Syntax,
  ): Checked {
    const all = otherwise === null ? values : [...values, otherwise]
    const type = this.#agree(all)
    const brought = (value: Checked): Checked => (type === 'datetime' ? toTime(value) : value)
    const branches: CheckedBranch[] = conditions.map(({ checked }, index) => ({
      condition: checked,
      value: brought(values[index] as Checked),
    }))
    const facts = {
      type,
      mayBeBlank: otherwise === null || all.some((value) => value.mayBeBlank),
      mayFail: all.some((value) => value.mayFail) || conditions.some(({ checked }) => checked.mayFail),
      from: owner.from,
      to: owner.to,
    }
    if (otherwise === null) return { ...facts, kind: 'choose', branches, otherwise }
    const isBlank = otherwise.kind === 'constant' && otherwise.value === null
    if (isBlank || !conditions.some(({ checked }) => checked.mayBeBlank))
      return { ...facts, kind: 'choose', branches, otherwise: brought(otherwise) }
    const watch = this.#fallWatch(conditions, owner, otherwise)
    // An `else` that is itself a choice goes on testing: only rows that fall through its own `else` too are watched.
    if (otherwise.kind === 'choose' && otherwise.type === type) {
      return {
        ...facts,
        kind: 'choose',
        branches: [...branches, ...otherwise.branches],
        otherwise: otherwise.otherwise,
        ...watch,
      }
    }
    return { ...facts, kind: 'choose', branches, otherwise: brought(otherwise), ...watch }
  }

  #fallWatch(conditions: readonly WrittenCondition[], owner: Syntax, otherwise: Checked): { watch?: number } {
    const inner = otherwise.kind === 'choose' ? otherwise : null
    const isBlank =
      inner !== null && (inner.otherwise === null || (inner.otherwise.kind === 'constant' && inner.otherwise.value === null))
    if (isBlank) return {}
    const known = inner?.watch === undefined ? undefined : this.#falls.get(inner.watch)
    const all = known === undefined ? conditions : [...conditions, ...known.conditions]
    const choice = known?.choice ?? (inner === null ? owner : (innerChoice(owner) ?? owner))
    const { subject, test } = blankTest(this.#text, all)
    const fix = blankFix(this.#text, choice, test)
    const place = all.find(({ checked }) => checked.mayBeBlank)?.syntax ?? owner
    const watch: Watch = {
      code: 'blank-falls-through',
      subject,
      from: place.from,
      to: place.to,
      fixes: fix === null ? [] : [fix],
    }
    if (inner?.watch !== undefined) {
      this.#watches[inner.watch] = watch
      this.#falls.set(inner.watch, { conditions: all, choice })
      return { watch: inner.watch }
    }
    const made = this.#watch(watch)
    if (made.watch !== undefined) this.#falls.set(made.watch, { conditions: all, choice })
    return made
  }

  /** The type all branches share, reporting the first that differs. */
  #agree(values: readonly Checked[]): ExpressionType {
    let type: ExpressionType = 'blank'
    for (const value of values) {
      const common = commonType(type, value.type)
      if (common === null) {
        this.#report('branch-types', { received: typeWords(value.type), expected: typeWords(type) }, value)
        return 'unknown'
      }
      type = common
    }
    return type
  }

  #coalesce(operands: readonly Checked[], node: Syntax, place: string): Checked {
    let type: ExpressionType = 'blank'
    for (const operand of operands) {
      const common = commonType(type, operand.type)
      if (common === null) {
        this.#mismatch(place, typeWords(type), operand, type)
        return this.#unknown(node)
      }
      type = common
    }
    return {
      kind: 'coalesce',
      operands: type === 'datetime' ? operands.map(toTime) : operands,
      type,
      mayBeBlank: operands.every((operand) => operand.mayBeBlank),
      mayFail: operands.some((operand) => operand.mayFail),
      from: node.from,
      to: node.to,
    }
  }

  // Calls

  #call(node: Syntax & { kind: 'call' }): Checked {
    const record = functionNamed(node.name.name)
    if (record === undefined) {
      const near = this.#nearest(
        node.name.name,
        FUNCTIONS.map((one) => one.name),
      )
      const hint = near === undefined ? '' : ` Nearest name: ${near}.`
      const fixes =
        near === undefined ? [] : [{ title: `Use ${near}`, edits: [{ from: node.name.from, to: node.name.to, insert: near }] }]
      this.#report('unknown-function', { name: node.name.name, hint }, node.name, fixes)
      for (const arg of node.args) this.#check(arg)
      return this.#unknown(node)
    }
    if (!this.#countsMatch(record, node)) {
      for (const arg of node.args) this.#check(arg)
      return this.#unknown(node)
    }
    if (record.form === 'if') {
      const [condition, then, otherwise] = node.args as [Syntax, Syntax, Syntax]
      return this.#choose(
        [{ syntax: condition, checked: this.#condition(condition) }],
        [this.#check(then)],
        this.#check(otherwise),
        node,
      )
    }
    const args = node.args.map((arg) => this.#check(arg))
    if (record.form === 'coalesce') return this.#coalesce(args, node, record.name)
    const typed = this.#typeArguments(record, args)
    if (typed === null) return this.#unknown(node)
    if (record.form === 'if_error') {
      const [value, otherwise] = typed.args as [Checked, Checked]
      const facts = { type: typed.type, mayBeBlank: value.mayBeBlank || otherwise.mayBeBlank, mayFail: otherwise.mayFail }
      return { kind: 'if-error', value, otherwise, ...facts, from: node.from, to: node.to }
    }
    return call(record, typed.args, typed.type, node)
  }

  #countsMatch(record: FunctionRecord, node: Syntax & { kind: 'call' }): boolean {
    const { parameters } = record
    const least = parameters.filter((one) => !one.optional).length
    const most = parameters.some((one) => one.repeats) ? Number.POSITIVE_INFINITY : parameters.length
    const received = node.args.length
    if (received >= least && received <= most) return true
    const counted = (count: number): string => `${count} ${count === 1 ? 'argument' : 'arguments'}`
    const expected =
      most === least
        ? counted(least)
        : most === Number.POSITIVE_INFINITY
          ? `at least ${counted(least)}`
          : `${least} to ${counted(most)}`
    this.#report(
      'argument-count',
      { name: record.name, expected, received: received === 0 ? 'none' : received, form: record.name + record.signature },
      node,
    )
    return false
  }

  #typeArguments(record: FunctionRecord, args: readonly Checked[]): { args: Checked[]; type: ExpressionType } | null {
    let shared: ExpressionType = 'blank'
    let fits = true
    args.forEach((arg, index) => {
      const parameter = record.parameters[Math.min(index, record.parameters.length - 1)] as FunctionRecord['parameters'][number]
      const place = `${record.name}, argument ${index + 1} (${parameter.name}),`
      if (parameter.types.includes('T')) {
        const common = commonType(shared, arg.type)
        if (common === null) this.#mismatch(place, typeWords(shared), arg, shared)
        fits = fits && common !== null
        shared = common ?? shared
      } else if (!isOpen(arg.type) && !parameter.types.includes('any') && !parameter.types.includes(arg.type)) {
        const wanted = parameter.types[0] as ExpressionType
        this.#mismatch(place, parameter.types.map((type) => typeWords(type as ExpressionType)).join(' or '), arg, wanted)
        fits = false
      }
    })
    if (!fits) return null
    const brought = args.map((arg, index) =>
      shared === 'datetime' && record.parameters[index]?.types.includes('T') ? toTime(arg) : arg,
    )
    const first = brought[0]
    if (record.result === 'T') return { args: brought, type: shared }
    if (record.result === 'same') return { args: brought, type: first === undefined || isOpen(first.type) ? 'date' : first.type }
    return { args: brought, type: record.result as ExpressionType }
  }
}

function factsOf(value: { type: ExpressionType; mayBeBlank: boolean; mayFail: boolean }): {
  type: ExpressionType
  mayBeBlank: boolean
  mayFail: boolean
} {
  return { type: value.type, mayBeBlank: value.mayBeBlank, mayFail: value.mayFail }
}

function constant(value: Scalar | null, type: ExpressionType, at: { from: number; to: number }): Checked {
  return { kind: 'constant', value, type, mayBeBlank: value === null, mayFail: false, from: at.from, to: at.to }
}

function columnRead(column: ScopeColumn, at: Syntax): Checked {
  const { id, type, mayBeBlank, mayFail } = column
  return { kind: 'column', column: id, type: expressionType(type), mayBeBlank, mayFail, from: at.from, to: at.to }
}

function apply(
  operator: Operator,
  args: readonly Checked[],
  type: ExpressionType,
  at: { from: number; to: number },
  facts: { mayBeBlank?: boolean; mayFail?: boolean } = {},
): Checked {
  const mayBeBlank = facts.mayBeBlank ?? args.some((arg) => arg.mayBeBlank)
  const mayFail = facts.mayFail ?? args.some((arg) => arg.mayFail)
  return { kind: 'apply', operator, args, type, mayBeBlank, mayFail, from: at.from, to: at.to }
}

function call(record: FunctionRecord, args: readonly Checked[], type: ExpressionType, at: Syntax): Checked {
  return { kind: 'call', record, args, type, mayBeBlank: args.length > 0, mayFail: true, from: at.from, to: at.to }
}

/** Joins tests by `and` or `or`. */
function both(operator: 'and' | 'or', tests: readonly [Checked, ...Checked[]], at: Syntax): Checked {
  const [first, ...others] = tests
  const facts = {
    type: 'boolean' as const,
    mayBeBlank: tests.some((one) => one.mayBeBlank),
    mayFail: tests.some((one) => one.mayFail),
    from: at.from,
    to: at.to,
  }
  return { kind: 'chain', first, rest: others.map((operand) => ({ ...facts, operator, operand })), ...facts }
}

/** A date as the date-time of its midnight; anything else as it is. */
function toTime(value: Checked): Checked {
  return value.type === 'date' ? apply('day-to-time', [value], 'datetime', value) : value
}

/** The innermost choice that stands as the last branch of others. */
function innerChoice(node: Syntax): Syntax | null {
  if (node.kind === 'group') return innerChoice(node.inner)
  const last =
    node.kind === 'case'
      ? node.otherwise
      : node.kind === 'call' && node.name.name.toLowerCase() === 'if'
        ? (node.args[2] ?? null)
        : null
  if (last === null) return null
  return innerChoice(last) ?? node
}

function signOf(operator: Operator): string {
  const signs: Partial<Record<Operator, string>> = {
    equal: '=',
    unequal: '<>',
    less: '<',
    'less-equal': '<=',
    greater: '>',
    'greater-equal': '>=',
    member: 'in',
  }
  return signs[operator] ?? operator
}

/** True when a checked formula can be run. */
export function isRunnable(formula: CheckedFormula): boolean {
  return !hasErrors(formula.findings)
}
