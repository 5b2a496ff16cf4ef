import type { Fix } from '../../findings/index.js'
import { LONGEST_FORMULA, type Syntax } from '../syntax/index.js'
import type { OwnCall } from './checked.js'
import type { OwnFunction } from './scope.js'

interface Span {
  readonly from: number
  readonly to: number
}

/**
 * A formula as it is written out: its text, and behind it the formulas of the own functions that it calls, one for each call. So
 * every part that is checked has a place in one text, and what is said of a place behind the formula is said of the call.
 */
export class WrittenText {
  /** All of it. */
  text: string
  /** The calls of own functions, also those inside such functions. */
  readonly calls: OwnCall[] = []
  /** Where the formula itself ends. */
  readonly #end: number
  /** Where what is written out begins, and the part of the formula itself that calls it. */
  readonly #parts: { readonly from: number; readonly call: Span }[] = []
  #length: number

  constructor(text: string) {
    this.text = text
    this.#end = text.length
    this.#length = text.length
  }

  /** True where something is written out, so that what is given may be looked at in several places. */
  get isLonger(): boolean {
    return this.#parts.length > 0
  }

  /** True for a place in the formula itself. */
  isOwn({ from }: Pick<Span, 'from'>): boolean {
    return from <= this.#end
  }

  /** The place in the formula itself: of what an own function says, and of what lies between what it is given, the call of it. */
  placeOf(place: Span): Span {
    if (!this.isOwn(place)) return this.#parts.findLast(({ from }) => from <= place.from)?.call ?? place
    const holds = (span: Span): boolean => span.from <= place.from && place.to <= span.to
    const isBetween = (call: OwnCall): boolean =>
      holds(call) && (call.from < place.from || place.to < call.to) && !call.given.some(holds)
    const call = this.calls.find(isBetween)
    return call === undefined ? place : { from: call.from, to: call.to }
  }

  /** The fixes that edit the formula itself, and nothing that an own function says. */
  possible(fixes: readonly Fix[]): readonly Fix[] {
    return fixes.filter(({ edits = [] }) => edits.every((edit) => this.isOwn(edit)))
  }

  /** Counts what is written out; false where that is more than a formula may have. */
  lengthen(by: number): boolean {
    this.#length += by
    return this.#length <= LONGEST_FORMULA
  }

  /** Puts the formula of an own function behind the text, and gives how far its places are moved by that. */
  writeOut(own: OwnFunction, node: Syntax & { kind: 'call' }): number {
    const call = this.placeOf({ from: node.from, to: node.to })
    const from = this.text.length + 1
    const given = own.parameters.map(({ name }, index) => {
      const arg = node.args[index] as Syntax
      return { parameter: name, from: arg.from, to: arg.to }
    })
    this.text += `\n${own.body.text}`
    this.#parts.push({ from, call })
    this.calls.push({ name: own.name, from: node.from, to: node.to, body: { from, to: this.text.length }, given })
    return from
  }
}
