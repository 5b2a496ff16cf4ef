import { type EncodedTexts, type Selection, type Vector, wholeBlock } from '../../columns/index.js'
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
    if (fresh.length > 0) computeTexts(fresh, encoded, frame, column, inner)
    const out = frame.lend(inner.kind)
    results.spread(encoded, selection, out)
    return out
  }
  return { ...inner, constant: false, run }
}

/** Computes an expression for places of a dictionary as if they were rows. */
function computeTexts(places: readonly number[], encoded: EncodedTexts, frame: Frame, column: ColumnId, inner: PlanNode): void {
  const results = frame.resultsOf(inner)
  const instead = frame.lend('text')
  results.putTexts(places, encoded, instead)
  // The one who has read a column gives it back, which this one must outlive: the next part of the expression reads it too.
  frame.pin(instead)
  const result = frame.inPlaceOf(column, instead, () => inner.run(frame, wholeBlock(places.length)))
  results.keep(places, result)
  if (result !== instead) frame.giveBack(result)
  frame.unpin(instead, instead)
  frame.giveBack(instead)
}
