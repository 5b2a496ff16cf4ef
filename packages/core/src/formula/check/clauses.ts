import type { FunctionRecord } from '../../functions/index.js'
import type { Clause, ClauseKind, Syntax } from '../syntax/index.js'
import type { CheckContext } from './context.js'

type CallNode = Syntax & { kind: 'call' }

/** The first clause of a kind, if the call has one. */
export function clauseOf<Kind extends ClauseKind>(node: CallNode, kind: Kind): (Clause & { kind: Kind }) | undefined {
  return node.clauses.find((clause): clause is Clause & { kind: Kind } => clause.kind === kind)
}

/** Says which clauses a function does not take, and which stand twice; false when there are any. */
export function clausesFit(context: CheckContext, record: FunctionRecord, node: CallNode): boolean {
  const allowed = record.clauses ?? []
  const takesRows = record.parameters.some((parameter) => parameter.types.includes('rows'))
  const seen = new Set<ClauseKind>()
  let fits = true
  for (const clause of node.clauses) {
    const isHolidays = takesRows && clause.kind === 'where' && node.args.some((arg) => arg.kind === 'name' && arg.every)
    const fixes = [{ title: `Leave ${clause.kind} out`, edits: [removal(context, clause)] }]
    if (!allowed.includes(clause.kind) && !isHolidays) {
      const taken = allowed.length === 0 ? 'none' : allowed.join(', ')
      context.report('misplaced-clause', { clause: clause.kind, reason: `${record.name} takes ${taken}.` }, clause, fixes)
      fits = false
    } else if (
      seen.has(clause.kind) ||
      (clause.kind === 'below' && seen.has('via')) ||
      (clause.kind === 'via' && seen.has('below'))
    ) {
      context.report('misplaced-clause', { clause: clause.kind, reason: 'each clause may stand once.' }, clause, fixes)
      fits = false
    }
    seen.add(clause.kind)
  }
  return fits
}

/** Takes a clause out, with the comma or space before it. */
function removal(context: CheckContext, clause: Clause): { from: number; to: number; insert: string } {
  const before = /(?:,\s*|\s+)$/.exec(context.text.slice(0, clause.from))
  return { from: clause.from - (before?.[0].length ?? 0), to: clause.to, insert: '' }
}
