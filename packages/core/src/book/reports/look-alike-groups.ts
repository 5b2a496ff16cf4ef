import { counted, type Finding, type Fix, finding } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { GroupNode } from './group-tree.js'
import { slotsOfView } from './slots-of-view.js'
import type { ViewColumn } from './view-columns.js'
import type { ViewParts } from './view-parts.js'

/** Groups that are compared, and cells that one fix writes. */
const MOST_COMPARED = 100_000
const MOST_FIXED = 1000

/** Groups beside one another whose keys differ only in capitals, form or spaces, by level. */
export function lookAlikeGroups(parts: ViewParts, whole: GroupNode): Finding[] {
  const pairs = parts.columns.keyColumns.map((): [GroupNode, GroupNode][] => [])
  let compared = 0
  const visit = (outer: GroupNode): void => {
    const known = new Map<string, GroupNode>()
    for (const node of [...outer.inner, ...outer.others]) {
      if (++compared > MOST_COMPARED) return
      visit(node)
      if (typeof node.key !== 'string') continue
      const plain = foldName(node.key.trim().replace(/\s+/g, ' '))
      const like = known.get(plain)
      // Of several that look alike each is compared with the commonest so far.
      const [rare, common] = like === undefined || like.size < node.size ? [like, node] : [node, like]
      known.set(plain, common)
      if (rare !== undefined) pairs[node.level - 1]?.push([rare, common])
    }
  }
  visit(whole)
  return parts.columns.keyColumns.flatMap((column, at) => {
    const [first, ...others] = pairs[at] ?? []
    if (first === undefined) return []
    const [rare, common] = first
    const more = others.length === 0 ? '' : ` So ${others.length === 1 ? 'does' : 'do'} ${counted(others.length, 'other pair')}.`
    const parameters = { one: quoted(rare), other: quoted(common), name: printName(column.name), more }
    const rows = (pairs[at] ?? []).reduce((sum, [one]) => sum + one.size, 0)
    return [
      finding('look-alike-groups', parameters, { column: column.name, rows, fixes: fixesOf(parts, column, pairs[at] ?? []) }),
    ]
  })
}

const quoted = ({ key }: GroupNode): string => JSON.stringify(key)

/** Writes the rarer of each pair as the other one, where the key is a column that was typed or read. */
function fixesOf(parts: ViewParts, { source }: ViewColumn, pairs: readonly [GroupNode, GroupNode][]): Fix[] {
  const { table } = parts.names
  if (source === undefined || source.formula !== null || pairs.reduce((sum, [{ size }]) => sum + size, 0) > MOST_FIXED) return []
  // What became rare beside a commoner one is written as that one too.
  const written = new Map<GroupNode['key'], string>()
  for (const [rare, common] of pairs.toReversed()) written.set(rare.key, written.get(common.key) ?? (common.key as string))
  const storage = table.store.column(source.id)
  const cells = Array.from(slotsOfView(parts)).flatMap((slot) => {
    const value = written.get(storage?.read(slot) ?? null)
    return value === undefined ? [] : [{ row: table.store.rows.idOf(slot), column: source.name, value }]
  })
  return [
    {
      title: `Write ${counted(cells.length, 'cell')} like the others`,
      operations: [{ op: 'set-cells', table: table.name, cells }],
    },
  ]
}
