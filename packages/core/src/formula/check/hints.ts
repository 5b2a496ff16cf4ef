import { foldName, printName } from '../../values/index.js'
import type { Syntax } from '../syntax/index.js'
import type { Checked } from './checked.js'
import type { CheckContext } from './context.js'
import { partsOf, somePart } from './parts.js'
import type { Scope } from './scope.js'

/** Two columns joined with nothing between them: their values run into each other. */
export function hintMissingSeparator(context: CheckContext, operands: readonly Syntax[]): void {
  for (const [index, right] of operands.entries()) {
    const left = operands[index - 1]
    if (left === undefined || left.kind !== 'name' || right.kind !== 'name') continue
    const insert = ` & ' '`
    const between = context.text.slice(left.to, right.from)
    const edits = [{ from: left.to, to: left.to, insert: between.includes('&') ? insert : `, ' '` }]
    const parameters = { left: context.source(left), right: context.source(right) }
    context.report('no-separator', parameters, { from: left.from, to: right.to }, [{ title: 'Put a space between them', edits }])
  }
}

/** A value divided by itself, or by a sum across one column: a share of the whole was meant. */
export function hintShareOfItself(context: CheckContext, left: Syntax, right: Syntax, link: { from: number; to: number }): void {
  const name = singleName(left)
  const total = right.kind === 'call' && right.args.length === 1 && foldName(right.name.name) === 'sum_of' ? right.args[0] : right
  if (name === null || total === undefined || singleName(total) !== name) return
  const insert = `share(${context.source(left)})`
  const edits = [{ from: left.from, to: right.to, insert }]
  context.report(
    'share-of-itself',
    { name: context.source(left), near: insert },
    { from: left.from, to: Math.max(right.to, link.to) },
    [{ title: `Use ${insert}`, edits }],
  )
}

function singleName(node: Syntax): string | null {
  if (node.kind === 'group') return singleName(node.inner)
  return node.kind === 'name' && node.parts.length === 1 && !node.every ? foldName(node.parts[0].name) : null
}

/** A total over a column that divides adds up ratios; the ratio of the totals is what is usually meant. */
export function hintTotalOfRatio(
  context: CheckContext,
  scope: Scope,
  arg: Syntax | undefined,
  node: Syntax & { kind: 'call' },
  isOwn: boolean,
): void {
  if (arg?.kind !== 'name') return
  const column = scope.column((arg.parts.at(-1) as { name: string }).name)
  const ratio = column?.ratio?.() ?? null
  if (column === undefined || ratio === null) return
  const { top, bottom } = ratio
  const near = `sum(${top}) per sum(${bottom})`
  const isPlain = isOwn && node.clauses.length === 0 && arg.parts.length === 1
  const fixes = isPlain ? [{ title: `Use ${near}`, edits: [{ from: node.from, to: node.to, insert: near }] }] : []
  context.report('total-of-ratio', { name: printName(column.name), near }, node, fixes)
}

/** A formula whose result cannot differ from row to row is a tally, kept once and not once a row. */
export function hintSameOnEveryRow(context: CheckContext, expression: Checked): void {
  if (!readsRows(expression) || variesByRow(expression)) return
  context.report('same-on-every-row', {}, expression)
}

function readsRows(node: Checked): boolean {
  return somePart(node, (one) => one.kind === 'over-rows')
}

/** True when what an expression gives can differ from row to row. */
export function variesByRow(node: Checked): boolean {
  if (node.type === 'unknown' || node.kind === 'column' || node.kind === 'follow' || node.kind === 'outer') return true
  if (node.kind === 'call' && node.record.name.startsWith('random')) return true
  if (node.kind !== 'over-rows') return partsOf(node).some(variesByRow)
  const { record, rows, by } = node
  if (record.form === 'ordered' || record.name === 'share' || by.length > 0) return true
  return (
    rows.which === 'linked' ||
    rows.which === 'below' ||
    partsOf(node).some((part) => somePart(part, (one) => one.kind === 'outer'))
  )
}
