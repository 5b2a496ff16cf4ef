import type { Engine, LinkWatch } from '../../engine/index.js'
import { counted, type Finding, type Fix, finding } from '../../findings/index.js'
import { foldName, printName } from '../../values/index.js'
import type { LinkModel, TableModel } from '../model/index.js'
import { cellText, isSample } from '../model/index.js'

/** Keys that are compared for likeness, on every edit and when everything is checked; and cells that one fix writes. */
const MOST_COMPARED = { edit: 2000, check: 1_000_000 }
const MOST_FIXED = 1000

/**
 * What is wrong with the keys of a link: how many rows lead nowhere, or to more than one row.
 *
 * @param isThorough - whether many keys may be compared for likeness, which takes longer than an edit should
 */
export function linkFindings(engine: Engine, table: TableModel, link: LinkModel, isThorough: boolean): Finding[] {
  const watch = engine.linkWatch(link.id)
  const found: Finding[] = []
  const name = `${printName(table.name)}.${printName(link.name)}`
  const to = printName(link.to.name)
  const alike =
    watch.unmatchedKeys === 0 ? null : lookAlikes(watch, table, link, isThorough ? MOST_COMPARED.check : MOST_COMPARED.edit)
  if (alike !== null && alike.rows > 0) {
    const parameters = { rows: counted(alike.rows, 'row'), link: name, sample: alike.sample }
    found.push(finding('look-alike-keys', parameters, { rows: alike.rows, fixes: alike.fixes }))
  }
  const rows = watch.unmatchedRows - (alike?.rows ?? 0)
  // A sample lacks most keys, and says nothing of those that there are.
  if (rows > 0 && !isSample(link.to.properties.source, link.to.store.rows.rowCount)) {
    const keys = samples(watch.unmatched(), watch.unmatchedKeys, (group) => textOf(table, link.columns, watch.source, group))
    found.push(finding('unmatched-keys', { rows: counted(rows, 'row'), link: name, to, keys }, { rows }))
  }
  if (watch.repeatedKeys > 0) {
    const [group] = watch.repeated()
    const sample = group === undefined ? '' : textOf(link.to, link.keys, watch.target, group)
    const keys = counted(watch.repeatedKeys, 'key')
    found.push(finding('repeated-keys', { keys, to, link: name, sample }, { rows: watch.repeatedRows }))
  }
  return found
}

/** The first few keys, and how many more there are. */
function samples(groups: Iterable<number>, count: number, text: (group: number) => string): string {
  const shown: string[] = []
  for (const group of groups) {
    if (shown.length === 3) break
    shown.push(text(group))
  }
  const more = count - shown.length
  return more > 0
    ? `${shown.join(', ')} or ${more} more`
    : shown.length < 2
      ? shown.join('')
      : `${shown.slice(0, -1).join(', ')} or ${shown.at(-1)}`
}

/** The key of a group as it stands in one of its rows. */
function textOf(table: TableModel, columns: LinkModel['columns'], groups: LinkWatch['source'], group: number): string {
  const slot = groups.members.firstOf(group)
  return columns.map(({ id }) => JSON.stringify(cellText(table.store.column(id), slot))).join(' + ')
}

interface LookAlikes {
  readonly rows: number
  readonly sample: string
  readonly fixes: readonly Fix[]
}

/** Keys that lead nowhere but differ only in capitals, form or outer spaces from one that there is. */
function lookAlikes(watch: LinkWatch, table: TableModel, link: LinkModel, most: number): LookAlikes | null {
  const isText = [...link.columns, ...link.keys].every(({ type }) => type === 'text')
  if (!isText || watch.unmatchedKeys > most) return null
  const keysOf = (of: TableModel, columns: LinkModel['columns'], slot: number): string[] =>
    columns.map(({ id }) => cellText(of.store.column(id), slot))
  const plain = (keys: readonly string[]): string => JSON.stringify(keys.map((key) => foldName(key.trim())))
  const known = new Map<string, string[]>()
  let looked = 0
  for (const group of watch.target.members.groups()) {
    if (++looked > most) return null
    const keys = keysOf(link.to, link.keys, watch.target.members.firstOf(group))
    known.set(plain(keys), keys)
  }
  let rows = 0
  let sample = ''
  const cells: { row: number; column: string; value: string }[] = []
  for (const group of watch.unmatched()) {
    const own = keysOf(table, link.columns, watch.source.members.firstOf(group))
    const meant = known.get(plain(own))
    if (meant === undefined) continue
    rows += watch.source.members.sizeOf(group)
    if (sample === '')
      sample = `${own.map((one) => JSON.stringify(one)).join(' + ')} looks like ${meant.map((one) => JSON.stringify(one)).join(' + ')}`
    for (const slot of watch.source.members.of(group))
      for (const [index, column] of link.columns.entries())
        cells.push({ row: table.store.rows.idOf(slot), column: column.name, value: meant[index] as string })
  }
  const canFix = cells.length > 0 && cells.length <= MOST_FIXED && link.columns.every(({ formula }) => formula === null)
  const fixes = canFix
    ? [
        {
          title: `Write ${counted(rows, 'key')} as ${printName(link.to.name)} has them`,
          operations: [{ op: 'set-cells', table: table.name, cells }],
        },
      ]
    : []
  return { rows, sample, fixes }
}
