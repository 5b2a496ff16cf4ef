import type { Term } from './term.js'

/** How a statement is laid out for an engine. */
export interface Layout {
  quote(name: string): string
  /** What keeps an inner select from being taken into the outer one; empty where that does not happen. */
  readonly fence: string
  /** How much work may be written out twice rather than be a column of an inner select. */
  readonly mostRepeated: number
}

/** The rows that a select begins with. */
export interface Beginning {
  /** What stands after `from`. */
  readonly from: string
  /** How a term is read from there; null for one that has to be made of others. */
  readonly read: (term: Term) => string | null
}

interface Plan {
  readonly targets: readonly Term[]
  /** The select, from the innermost on, in which a term can be calculated. */
  readonly stageOf: ReadonlyMap<Term, number>
  /** Terms that are a column of the select they are calculated in. */
  readonly bound: ReadonlySet<Term>
  readonly leaves: ReadonlySet<Term>
}

/**
 * Writes selects, one in the other, that calculate terms from rows: what is read more than once and costs something is a column
 * of an inner select, everything else is written where it is read.
 *
 * @returns the select, whose columns are called as the terms are
 */
export function selectOf(targets: readonly Term[], beginning: Beginning, layout: Layout): string {
  const plan = planOf(targets, beginning, layout)
  const last = Math.max(0, ...targets.map((term) => stageIn(plan, term)))
  const names = (term: Term): string => layout.quote(nameOf(term))
  let inner = ''
  for (let stage = 0; stage <= last; stage++) {
    const write = (term: Term): string => writeTerm(term, stage, plan, beginning, names)
    const columns = stage === last ? [...new Set(targets)] : neededAfter(stage, plan)
    const list = columns.map((term) => asColumn(write(term), names(term)))
    const from = stage === 0 ? beginning.from : `(\n${indented(inner)}\n) as q`
    inner = `select ${list.length === 0 ? 'true as one' : list.join(', ')}${from === '' ? '' : ` from ${from}`}`
    if (stage < last) inner += layout.fence
  }
  return inner
}

/** Text moved in by one step. */
export function indented(text: string): string {
  return text.replaceAll(/^/gm, '  ')
}

function asColumn(text: string, name: string): string {
  return text === name || text.endsWith(`.${name}`) ? text : `${text} as ${name}`
}

function nameOf(term: Term): string {
  if (term.rows === null) throw new TypeError(`${term.text} is of no rows`)
  return term.rows.nameOf(term)
}

function planOf(targets: readonly Term[], beginning: Beginning, layout: Layout): Plan {
  const order: Term[] = []
  const uses = new Map<Term, number>()
  const leaves = new Set<Term>()
  const use = (term: Term): void => {
    uses.set(term, (uses.get(term) ?? 0) + 1)
  }
  for (const target of new Set(targets)) use(target)
  walk(targets, (term) => {
    if (beginning.read(term) !== null) {
      leaves.add(term)
      return []
    }
    order.push(term)
    for (const input of term.inputs) use(input)
    return term.inputs
  })
  const wanted = new Set(targets)
  const cost = new Map<Term, number>()
  const bound = new Set<Term>()
  const stageOf = new Map<Term, number>()
  // Inputs first.
  for (const term of order.reverse()) {
    let own = term.weight
    let stage = 0
    for (const input of term.inputs) {
      own += bound.has(input) || leaves.has(input) ? 0.25 : (cost.get(input) as number)
      stage = Math.max(stage, leaves.has(input) ? 0 : (stageOf.get(input) as number) + (bound.has(input) ? 1 : 0))
    }
    cost.set(term, own)
    stageOf.set(term, stage)
    const isReadAgain = (uses.get(term) as number) > 1
    const isWindow = term.origin.kind === 'window'
    const isOnlyWanted = isWindow && wanted.has(term) && !isReadAgain
    if (!term.isColumn) continue
    if (term.inputs.length > 0 && ((isWindow && !isOnlyWanted) || (isReadAgain && own > layout.mostRepeated))) bound.add(term)
  }
  return { targets, stageOf, bound, leaves }
}

/** Visits terms so that each comes before its inputs; without recursion, since formulas may be nested deeply. */
function walk(from: readonly Term[], inputsOf: (term: Term) => readonly Term[]): void {
  // Terms are made after their inputs, so in one set of rows falling ids are such an order.
  const waiting = new Map<number, Term>()
  const ids: number[] = []
  const enter = (term: Term): void => {
    if (waiting.has(term.id)) return
    waiting.set(term.id, term)
    push(ids, term.id)
  }
  for (const term of from) enter(term)
  for (let id = pop(ids); id !== undefined; id = pop(ids)) for (const input of inputsOf(waiting.get(id) as Term)) enter(input)
}

function push(heap: number[], id: number): void {
  let at = heap.push(id) - 1
  while (at > 0) {
    const above = (at - 1) >> 1
    if ((heap[above] as number) >= id) break
    heap[at] = heap[above] as number
    at = above
  }
  heap[at] = id
}

function pop(heap: number[]): number | undefined {
  const top = heap[0]
  const last = heap.pop()
  if (top === undefined || last === undefined || heap.length === 0) return top
  let at = 0
  for (;;) {
    let below = 2 * at + 1
    if (below >= heap.length) break
    if (below + 1 < heap.length && (heap[below + 1] as number) > (heap[below] as number)) below++
    if ((heap[below] as number) <= last) break
    heap[at] = heap[below] as number
    at = below
  }
  heap[at] = last
  return top
}

function stageIn(plan: Plan, term: Term): number {
  return plan.leaves.has(term) ? 0 : (plan.stageOf.get(term) as number)
}

/** What selects after a stage read of it: columns that were calculated up to it, and what was there at the beginning. */
function neededAfter(stage: number, plan: Plan): Term[] {
  const needed = new Set<Term>()
  walk(plan.targets, (term) => {
    const isThere = plan.leaves.has(term) || (plan.bound.has(term) && (plan.stageOf.get(term) as number) <= stage)
    if (!isThere) return term.inputs
    needed.add(term)
    return []
  })
  return [...needed]
}

function writeTerm(term: Term, stage: number, plan: Plan, beginning: Beginning, names: (term: Term) => string): string {
  const write = (one: Term, isTop: boolean): string => {
    if (plan.leaves.has(one)) return stage === 0 ? (beginning.read(one) as string) : names(one)
    if (plan.bound.has(one) && (plan.stageOf.get(one) as number) < stage) return names(one)
    if (plan.bound.has(one) && !isTop && (plan.stageOf.get(one) as number) >= stage) throw new TypeError('read too early')
    let text = one.parts[0] as string
    for (const [index, input] of one.inputs.entries()) text += write(input, false) + (one.parts[index + 1] as string)
    return text
  }
  return write(term, true)
}
