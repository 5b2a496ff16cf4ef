import { refusal } from '../../findings/index.js'
import {
  type BookScope,
  type CheckedFormula,
  checkOwnFunction,
  type ExpressionType,
  type FunctionFacts,
  namesIn,
  type OwnFunction,
  type OwnParameter,
  type Parsed,
  parseFormula,
  readParameters,
  visitCalls,
  type WrittenParameter,
} from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { SetFunction } from '../schemas/index.js'

/** A function that is defined in the workbook. What is found out about it is found out when it is first asked for. */
export class FunctionModel implements OwnFunction {
  readonly kind = 'function'
  readonly name: string
  readonly body: Parsed
  readonly note: string | null
  /** The parameters as they are written. */
  readonly written: readonly string[]
  /** The functions that it calls, by their folded names, with where they stand. */
  readonly calls: readonly { readonly name: string; readonly from: number; readonly to: number }[]
  /** All names in its formula, folded: of parameters, steps and named values. */
  readonly names: ReadonlySet<string>
  readonly #parameters: readonly WrittenParameter[]
  readonly #scope: () => BookScope
  #facts: FunctionFacts | null = null
  /** True while it is being found out, which a function that calls itself would never be. */
  #isAsked = false

  /**
   * @param scope - gives the names that belong to no table
   * @throws Refusal for a name or parameters that cannot be
   */
  constructor({ name, parameters, formula, note }: Omit<SetFunction, 'op'>, scope: () => BookScope) {
    const read = readParameters(name, parameters)
    if (typeof read === 'string') throw refusal('bad-operation', { place: `set-function, ${name}`, reason: read })
    this.name = name.normalize('NFC')
    this.written = parameters
    this.#parameters = read
    this.body = parseFormula(formula)
    this.note = note ?? null
    this.names = namesIn(this.body.tree, foldName)
    this.calls = visitCalls(this.body.tree, foldName)
    this.#scope = scope
  }

  /** The operation that makes it as it is. */
  get operation(): SetFunction {
    const { name, written, body, note } = this
    return { op: 'set-function', name, parameters: written, formula: body.text, ...(note !== null && { note }) }
  }

  /** What is found out about it from its formula; null while that is being found out. */
  get facts(): FunctionFacts | null {
    if (this.#facts === null && !this.#isAsked) {
      this.#isAsked = true
      try {
        this.#facts = checkOwnFunction({ name: this.name, parameters: this.#parameters, body: this.body }, this.#scope())
      } finally {
        this.#isAsked = false
      }
    }
    return this.#facts
  }

  /** The first parameter that its formula does not name. */
  get unused(): string | undefined {
    return this.#parameters.find(({ name }) => !this.names.has(foldName(name)))?.name
  }

  /** Forgets what was found out, after something that it goes by has changed. */
  forget(): void {
    this.#facts = null
  }

  get parameters(): readonly OwnParameter[] {
    return this.facts?.parameters ?? this.#parameters.map(({ name }) => ({ name, types: [], isReadAtRow: true }))
  }

  get result(): ExpressionType {
    return this.facts?.result ?? 'blank'
  }

  get isSound(): boolean {
    return this.facts?.findings.length === 0
  }

  /** What checking its formula gave. */
  get checked(): CheckedFormula | null {
    return this.facts?.checked ?? null
  }
}
