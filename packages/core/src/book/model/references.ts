import { type Checked, type CheckedFormula, type ColumnId, partsOf } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { Model } from './model.js'

/** All columns that decide what a formula gives, by any access path: named, keys of links followed, single values. */
export function columnsRead({ expression }: CheckedFormula, model: Model): Set<ColumnId> {
  const read = new Set<ColumnId>()
  const links = new Set<number>()
  const visit = (node: Checked): void => {
    if (node.kind === 'column' || node.kind === 'single') read.add(node.column)
    if (node.kind === 'call') for (const id of node.amountSources ?? []) read.add(id)
    if (node.kind === 'follow') for (const link of node.links) links.add(link)
    if (node.kind === 'over-rows') for (const link of node.rows.links) links.add(link)
    if (node.kind === 'call' && node.holidays !== undefined) {
      visit(node.holidays.read)
      if (node.holidays.where !== null) visit(node.holidays.where)
    }
    for (const part of partsOf(node)) visit(part)
  }
  visit(expression)
  for (const { link } of links.size === 0 ? [] : model.links())
    if (links.has(link.id)) for (const column of [...link.columns, ...link.keys]) read.add(column.id)
  return read
}

/** The tables whose rows a formula reads, by their folded names. */
export function tablesRead({ expression }: CheckedFormula): Set<string> {
  const read = new Set<string>()
  const visit = (node: Checked): void => {
    if (node.kind === 'over-rows') read.add(foldName(node.rows.table))
    if (node.kind === 'call' && node.holidays !== undefined) read.add(foldName(node.holidays.rows.table))
    for (const part of partsOf(node)) visit(part)
  }
  visit(expression)
  return read
}

/** The links that a formula follows, one way or the other. */
export function linksRead({ expression }: CheckedFormula): Set<number> {
  const links = new Set<number>()
  const visit = (node: Checked): void => {
    if (node.kind === 'follow') for (const link of node.links) links.add(link)
    if (node.kind === 'over-rows') for (const link of node.rows.links) links.add(link)
    for (const part of partsOf(node)) visit(part)
  }
  visit(expression)
  return links
}
