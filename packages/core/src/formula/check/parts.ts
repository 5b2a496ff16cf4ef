import type { Checked } from './checked.js'
import type { ColumnId } from './ids.js'

/** The same expression over other parts. */
export function mapParts(node: Checked, map: (part: Checked) => Checked): Checked {
  switch (node.kind) {
    case 'let':
      return { ...node, bound: map(node.bound), body: map(node.body) }
    case 'apply':
    case 'call':
      return { ...node, args: node.args.map(map) }
    case 'chain':
      return { ...node, first: map(node.first), rest: node.rest.map((link) => ({ ...link, operand: map(link.operand) })) }
    case 'choose': {
      const branches = node.branches.map(({ condition, value }) => ({ condition: map(condition), value: map(value) }))
      return { ...node, branches, otherwise: node.otherwise === null ? null : map(node.otherwise) }
    }
    case 'coalesce':
      return { ...node, operands: node.operands.map(map) }
    case 'if-error':
      return { ...node, value: map(node.value), otherwise: map(node.otherwise) }
    case 'follow':
      return { ...node, read: map(node.read) }
    case 'outer':
      return { ...node, inner: map(node.inner) }
    case 'over-rows':
      return {
        ...node,
        args: node.args.map(map),
        where: node.where === null ? null : map(node.where),
        by: node.by.map(map),
        order: node.order.map((one) => ({ ...one, key: map(one.key) })),
      }
    default:
      return node
  }
}

/** The expressions that an expression is made of; without copying any, since every check of a formula walks it. */
export function partsOf(node: Checked): readonly Checked[] {
  switch (node.kind) {
    case 'let':
      return [node.bound, node.body]
    case 'apply':
    case 'call':
      return node.args
    case 'chain':
      return [node.first, ...node.rest.map((link) => link.operand)]
    case 'choose': {
      const parts = node.branches.flatMap(({ condition, value }) => [condition, value])
      return node.otherwise === null ? parts : [...parts, node.otherwise]
    }
    case 'coalesce':
      return node.operands
    case 'if-error':
      return [node.value, node.otherwise]
    case 'follow':
      return [node.read]
    case 'outer':
      return [node.inner]
    case 'over-rows':
      return [...node.args, ...(node.where === null ? [] : [node.where]), ...node.by, ...node.order.map(({ key }) => key)]
    default:
      return []
  }
}

/** Columns of the rows that an aggregate reads; what is read at its own row, or elsewhere, is none of these rows. */
export function columnsOfRowsRead(read: Checked & { kind: 'over-rows' }): ColumnId[] {
  const found: ColumnId[] = []
  const visit = (node: Checked): void => {
    if (node.kind === 'column') found.push(node.column)
    if (node.kind === 'outer' || node.kind === 'follow' || node.kind === 'over-rows') return
    for (const part of partsOf(node)) visit(part)
  }
  for (const part of partsOf(read)) visit(part)
  return found
}

/** Named steps and values that are read twice, written out: what an expression means does not change by it. */
export function withoutSteps(node: Checked, bound: ReadonlyMap<number, Checked> = new Map()): Checked {
  if (node.kind === 'step') return bound.get(node.step) ?? node
  if (node.kind !== 'let') return mapParts(node, (part) => withoutSteps(part, bound))
  return withoutSteps(node.body, new Map([...bound, [node.step, withoutSteps(node.bound, bound)]]))
}

/** True when a test holds for an expression or any part of it. */
export function somePart(node: Checked, test: (node: Checked) => boolean): boolean {
  return test(node) || partsOf(node).some((part) => somePart(part, test))
}

/** A text that is the same for expressions that mean the same: places and watches left out. */
export function identityOf(node: unknown): string {
  return JSON.stringify(node, (key, value: unknown) => {
    if (key === 'from' || key === 'to' || key === 'watch' || key === 'name' || key === 'mayBeBlank' || key === 'mayFail')
      return undefined
    if (key === 'record') return (value as { name: string }).name
    return typeof value === 'bigint' ? `${value}n` : value
  })
}
