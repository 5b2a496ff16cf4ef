import { type EncodedTexts, makeVector, type Selection, type Vector, wholeBlock } from '../../columns/index.js'
import { FAULT_CODES, Status, type StorageKind } from '../../values/index.js'
import { type Checked, type ColumnId, partsOf } from '../check/index.js'
import type { Frame } from './frame.js'
import type { PlanNode } from './node.js'

/**
 * Which parts of a formula one column of texts decides alone. Their results are computed once for each different text of the
 * column, where these are fewer than the rows.
 */
export class TextSources {
  readonly #known: Map<Checked, Decided> = new Map()

  /** The column that decides an expression; null when none does so alone, or when there is nothing to compute. */
  columnOf(node: Checked): ColumnId | null {
    if (node.kind === 'column') return null
    const decided = this.#decidedBy(node)
    return typeof decided === 'object' ? decided.column : null
  }

  #decidedBy(node: Checked): Decided {
    const known = this.#known.get(node)
    if (known !== undefined) return known
    const decided = this.#look(node)
    this.#known.set(node, decided)
    return decided
  }

  #look(node: Checked): Decided {
    if (node.kind === 'constant') return 'constant'
    if (node.kind === 'column') return node.type === 'text' ? { column: node.column } : 'more'
    if (!PURE.has(node.kind) || dependsOnRow(node)) return 'more'
    let decided: Decided = 'constant'
    for (const part of partsOf(node)) {
      const by = this.#decidedBy(part)
      if (by === 'more') return by
      if (by === 'constant') continue
      if (typeof decided === 'object' && decided.column !== by.column) return 'more'
      decided = by
    }
    return decided
  }
}

/** One column, nothing at all, or more than a column of texts. */
type Decided = { readonly column: ColumnId } | 'constant' | 'more'

const PURE: ReadonlySet<Checked['kind']> = new Set(['apply', 'chain', 'call', 'choose', 'coalesce', 'if-error'])

/** True for what the clock, the row or a calendar has a say in, and for places whose rows are watched. */
function dependsOnRow(node: Checked): boolean {
  if (node.kind === 'call') return node.record.movesWithClock === true || node.holidays !== undefined || node.watch !== undefined
  if (node.kind === 'chain') return node.rest.some((link) => link.watch !== undefined)
  return node.kind === 'choose' && node.watch !== undefined
}

/**
 * Computes an expression for each text of a column that the rows hold, blank and each error among them, and gives every row
 * the result of its text.
 */
export function dictionaryNode(inner: PlanNode, column: ColumnId): PlanNode {
  const run = (frame: Frame, selection: Selection): Vector => {
    // Someone who asks which rows take a branch wants to hear it of rows.
    const encoded = frame.probe === null ? frame.source.encoded(column) : null
    if (encoded === null) return inner.run(frame, selection)
    const results = frame.resultsOf(inner)
    const fresh = results.unknownOf(encoded, selection)
    if (fresh.length > 0) results.take(fresh, inner, column, encoded, frame)
    const out = frame.lend(inner.kind)
    results.spread(encoded, selection, out)
    return out
  }
  return { ...inner, constant: false, run }
}

/** Status bytes come first, so that what is no value has a place of its own before the texts. */
const STATUSES: number = Status.firstFault + FAULT_CODES.length

/** What an expression gives for each text of a column, as far as it was asked for; it lives as long as one evaluation. */
export class TextResults {
  #results: Vector
  #isKnown: Uint8Array = new Uint8Array(STATUSES)

  constructor(kind: StorageKind) {
    this.#results = makeVector(kind, STATUSES)
  }

  /** Places of what the selected rows hold and nobody has computed yet; from now on they count as known. */
  unknownOf({ codes, status, texts }: EncodedTexts, selection: Selection): number[] {
    this.#reserve(STATUSES + texts.length)
    const known = this.#isKnown
    const fresh: number[] = []
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const of = status[row] as number
      const place = of === Status.value ? STATUSES + (codes[row] as number) : of
      if (known[place] === 1) continue
      known[place] = 1
      fresh.push(place)
    }
    return fresh
  }

  #reserve(places: number): void {
    const former = this.#isKnown.length
    if (places <= former) return
    const length = Math.max(places, former * 2)
    const known = new Uint8Array(length)
    known.set(this.#isKnown)
    const results = makeVector(this.#results.kind, length)
    results.status.set(this.#results.status)
    if (results.kind === 'text') for (let at = 0; at < former; at++) results.values[at] = this.#results.values[at] as string
    else results.values.set(this.#results.values as never)
    this.#isKnown = known
    this.#results = results
  }

  /** Computes an expression for places as if they were rows. */
  take(places: readonly number[], inner: PlanNode, column: ColumnId, { texts }: EncodedTexts, frame: Frame): void {
    const instead = frame.lend('text')
    places.forEach((place, row) => {
      instead.status[row] = place < STATUSES ? place : Status.value
      instead.values[row] = place < STATUSES ? '' : (texts[place - STATUSES] as string)
    })
    // Whoever has read a column gives it back, which this one must outlive: the next part of the expression reads it too.
    frame.pin(instead)
    const result = frame.inPlaceOf(column, instead, () => inner.run(frame, wholeBlock(places.length)))
    const { status, values } = this.#results
    places.forEach((place, row) => {
      status[place] = result.status[row] as number
      values[place] = result.values[row] as never
    })
    if (result !== instead) frame.giveBack(result)
    frame.unpin(instead, instead)
    frame.giveBack(instead)
  }

  /** Writes the result of its text into each selected row. */
  spread({ codes, status }: EncodedTexts, selection: Selection, out: Vector): void {
    const from = this.#results
    for (let k = 0; k < selection.count; k++) {
      const row = selection.rows === null ? k : (selection.rows[k] as number)
      const of = status[row] as number
      const place = of === Status.value ? STATUSES + (codes[row] as number) : of
      out.status[row] = from.status[place] as number
      out.values[row] = from.values[place] as never
    }
  }
}
