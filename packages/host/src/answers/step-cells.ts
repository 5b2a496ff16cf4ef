import type { SessionValue, StepCell } from '@mellow-abacus/session'
import type { Operation } from 'mellow-abacus'

/** Cells of a step that are told of. */
const MOST_TOLD = 12
/** Cells above which a step is a block: nobody looks for what each of them was. */
const MOST_WRITTEN = 1_000

/**
 * The first cells that a step wrote, with what they held before and after.
 *
 * @param operations - as they may be told
 * @param inverse - gives what takes the step back; asked for only where cells were written one by one
 */
export function cellsOfStep(operations: readonly Operation[], inverse: () => readonly Operation[]): StepCell[] {
  const written = writtenIn(operations)
  if (written.size === 0 || written.size > MOST_WRITTEN) return []
  const before = writtenIn(inverse())
  return [...written].slice(0, MOST_TOLD).flatMap(([key, cell]): StepCell[] => {
    const former = before.get(key)
    return former === undefined ? [] : [{ ...cell.at, before: former.value, after: cell.value }]
  })
}

interface Written {
  readonly at: Pick<StepCell, 'table' | 'column' | 'row'>
  readonly value: SessionValue
}

/** What operations leave in the cells that they write, by the place of each. */
function writtenIn(operations: readonly Operation[]): ReadonlyMap<string, Written> {
  const cells = new Map<string, Written>()
  for (const operation of operations) {
    if (operation.op !== 'set-cells') continue
    const { table } = operation
    for (const { row, column, value } of operation.cells)
      cells.set(JSON.stringify([table, row, column]), { at: { table, column, row }, value: value as SessionValue })
  }
  return cells
}
