import type { Finding, GroupedView } from 'mellow-abacus'
import { findingsJson, findingText, placeOf, tellNotHeld } from '../../output/index.js'
import { type Io, makePaint } from '../../shell/index.js'

/**
 * Says what there is to say of groups that were written: what the format could not hold, and findings of them, each with the
 * formula that it points into.
 */
export function tellOfGroups(
  notHeld: readonly Finding[],
  findings: readonly Finding[],
  { columns = [], tallies = [], lines = [] }: Pick<GroupedView, 'columns' | 'tallies' | 'lines'>,
  args: { readonly findings?: 'json' },
  io: Io,
): void {
  if (args.findings === 'json') {
    const all = [...notHeld, ...findings]
    if (all.length > 0) io.err(findingsJson(all))
    return
  }
  tellNotHeld(notHeld, args, io)
  const formulas = new Map([...columns, ...tallies, ...lines].map(({ name, formula }) => [name, formula]))
  const paint = makePaint(io.colours)
  for (const one of findings) {
    const place = one.report === undefined ? (one.column ?? 'groups') : placeOf(one, 'groups')
    io.err(findingText(one, place, formulas.get(one.column ?? ''), paint))
  }
}
