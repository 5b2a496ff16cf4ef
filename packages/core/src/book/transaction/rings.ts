import { isLagOf } from '../../engine/index.js'
import { type Checked, type CheckedOrderKey, type ColumnId, identityOf, partsOf, somePart } from '../../formula/index.js'

/** A ring of columns that may be: every way round goes through a `lag`. */
export interface RingLayout {
  /** The columns in the order in which they are computed for one row. */
  readonly order: readonly ColumnId[]
  readonly by: readonly Checked[]
  readonly orderBy: readonly CheckedOrderKey[]
  /** What each reads of the others in the same row. */
  readonly sameRow: ReadonlyMap<ColumnId, ReadonlySet<ColumnId>>
}

/**
 * Says whether columns may read each other: all ways round pass a `lag` with a constant number of rows from 1 on, and those
 * share one order and grouping. Null for any other ring.
 */
export function ringLayout(expressions: ReadonlyMap<ColumnId, Checked>): RingLayout | null {
  const ids = new Set(expressions.keys())
  const sameRow = new Map<ColumnId, Set<ColumnId>>()
  let lag: (Checked & { kind: 'over-rows' }) | null = null
  let isRing = true
  for (const [id, expression] of expressions) {
    const reads = new Set<ColumnId>()
    const visit = (node: Checked): void => {
      if (node.kind === 'column') {
        if (ids.has(node.column)) reads.add(node.column)
        return
      }
      if (node.kind === 'over-rows') {
        if (!readsAny(node, ids)) return
        if (!isLagOf(node, ids) || !isPlainLag(node, ids)) isRing = false
        else if (lag === null) lag = node
        else if (orderIdentity(lag) !== orderIdentity(node)) isRing = false
        return
      }
      if (node.kind === 'follow' && readsAny(node, ids)) isRing = false
      for (const part of partsOf(node)) visit(part)
    }
    visit(expression)
    sameRow.set(id, reads)
  }
  const order = inOrder(sameRow)
  if (!isRing || lag === null || order === null) return null
  const { by, order: orderBy } = lag as Checked & { kind: 'over-rows' }
  return { order, by, orderBy, sameRow }
}

function readsAny(node: Checked, ids: ReadonlySet<ColumnId>): boolean {
  return somePart(node, (part) => part.kind === 'column' && ids.has(part.column))
}

/** A `lag` by a constant, whose order and groups do not come from the ring, of a value of one row. */
function isPlainLag({ args, by, order }: Checked & { kind: 'over-rows' }, ids: ReadonlySet<ColumnId>): boolean {
  const [value, count] = args
  const isConstant =
    count === undefined || (count.kind === 'constant' && Number.isInteger(count.value) && (count.value as number) >= 1)
  const ofRing = [...by, ...order.map(({ key }) => key)].some((key) => readsAny(key, ids))
  const isNested = somePart(
    value as Checked,
    (part) => (part.kind === 'over-rows' || part.kind === 'follow') && readsAny(part, ids),
  )
  return isConstant && !ofRing && !isNested
}

const orderIdentity = ({ by, order }: Checked & { kind: 'over-rows' }): string => identityOf({ by, order })

/** Columns after all they read in the same row; null when that goes round. */
function inOrder(reads: ReadonlyMap<ColumnId, ReadonlySet<ColumnId>>): ColumnId[] | null {
  const done: ColumnId[] = []
  const left = new Set(reads.keys())
  while (left.size > 0) {
    const next = [...left].find((id) => [...(reads.get(id) ?? [])].every((source) => done.includes(source)))
    if (next === undefined) return null
    left.delete(next)
    done.push(next)
  }
  return done
}
