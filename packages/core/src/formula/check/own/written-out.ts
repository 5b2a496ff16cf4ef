import { foldName } from '../../../values/index.js'
import type { Clause, NamePart, Syntax } from '../../syntax/index.js'

/** What a formula of an own function becomes where it is called. */
export interface WritingOut {
  /** How far its places are moved. */
  readonly shift: number
  /** What stands for a parameter: what it is given, or the name of a step that holds it. */
  argument(folded: string): Syntax | string | undefined
  /** The name of a step of its own, which no name of the caller can mean. */
  step(name: string): string
}

interface Span {
  readonly from: number
  readonly to: number
}

type NameNode = Syntax & { readonly kind: 'name' }

/**
 * The formula of an own function as if it were written where it is called. Names of its own are given such as no one can write,
 * so that a name in an argument means what it means for the caller; the other names are named values of the book.
 */
export function writtenOut(tree: Syntax, writing: WritingOut): Syntax {
  const { shift } = writing
  const moved = <Place extends Span>(place: Place): Place => ({ ...place, from: place.from + shift, to: place.to + shift })
  const write = (node: Syntax, steps: ReadonlySet<string>): Syntax => {
    const within = (part: Syntax): Syntax => write(part, steps)
    switch (node.kind) {
      case 'name':
        return writtenName(moved(node), steps, writing)
      case 'literal':
      case 'tag':
      case 'missing':
        return moved(node)
      case 'group':
        return { ...moved(node), inner: within(node.inner) }
      case 'unary':
        return { ...moved(node), operand: within(node.operand) }
      case 'chain':
        return {
          ...moved(node),
          first: within(node.first),
          rest: node.rest.map((link) => ({ ...moved(link), operand: within(link.operand) })),
        }
      case 'power':
        return { ...moved(node), base: within(node.base), exponent: within(node.exponent) }
      case 'compare':
        return { ...moved(node), left: within(node.left), right: within(node.right) }
      case 'between':
        return { ...moved(node), value: within(node.value), low: within(node.low), high: within(node.high) }
      case 'in':
        return { ...moved(node), value: within(node.value), members: node.members.map(within) }
      case 'is':
        return { ...moved(node), value: within(node.value) }
      case 'call':
        return {
          ...moved(node),
          name: moved(node.name),
          args: node.args.map(within),
          clauses: node.clauses.map((clause) => writtenClause(moved(clause), within)),
        }
      case 'rated':
        return { ...moved(node), value: within(node.value), amount: within(node.amount) }
      case 'case':
        return {
          ...moved(node),
          subject: node.subject === null ? null : within(node.subject),
          branches: node.branches.map((one) => ({
            ...moved(one),
            condition: within(one.condition),
            value: within(one.value),
          })),
          otherwise: node.otherwise === null ? null : within(node.otherwise),
          elseFrom: node.elseFrom === null ? null : node.elseFrom + shift,
        }
      case 'let': {
        const name = { ...moved(node.name), name: writing.step(node.name.name) }
        const inside = new Set([...steps, foldName(node.name.name)])
        return { ...moved(node), name, bound: within(node.bound), body: write(node.body, inside) }
      }
    }
  }
  return write(tree, new Set())
}

function writtenClause(clause: Clause, within: (part: Syntax) => Syntax): Clause {
  switch (clause.kind) {
    case 'where':
      return { ...clause, condition: within(clause.condition) }
    case 'by':
      return { ...clause, keys: clause.keys.map(within) }
    case 'order by':
      return { ...clause, keys: clause.keys.map(({ key, descending }) => ({ key: within(key), descending })) }
    default:
      return clause
  }
}

function writtenName(node: NameNode, steps: ReadonlySet<string>, { argument, step }: WritingOut): Syntax {
  const [head, second] = node.parts
  const isThis = second !== undefined && !head.quoted && foldName(head.name) === 'this'
  const last = isThis ? second : head
  const folded = foldName(last.name)
  const called = (name: string): Syntax => {
    const part: NamePart = { ...last, name, quoted: true }
    return { ...node, parts: isThis ? [head, part] : [part] }
  }
  if (steps.has(folded)) return called(step(last.name))
  const given = argument(folded)
  if (typeof given === 'string') return called(given)
  if (given !== undefined) return isThis && given.kind === 'name' ? atOuterRow(given, head) : given
  // It is a named value, whatever the table of the caller has of that name.
  return second === undefined ? { ...node, parts: [{ ...head, name: 'book', quoted: false }, head] } : node
}

/** A name that is given, at the row that the rows are read for. */
function atOuterRow(given: NameNode, head: NamePart): Syntax {
  const [first, second] = given.parts
  const isOuter = second !== undefined && !first.quoted && ['this', 'book'].includes(foldName(first.name))
  return isOuter ? given : { ...given, parts: [head, ...given.parts] }
}
