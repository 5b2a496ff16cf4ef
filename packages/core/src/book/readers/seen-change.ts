import type { Engine } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import { withCause, withoutCause } from '../diagnostics/index.js'
import type { Model } from '../model/index.js'
import type { ChangeSet, ColumnCells, InsertedRows } from '../transaction/index.js'

/**
 * What a reader sees of a change: cells and findings of what is there for them. Operations are not told, since they name what
 * they touched, nor is what takes them back.
 *
 * @returns null for a change of which nothing is to be seen
 */
export function seenChange(seen: Model, engine: Engine, change: ChangeSet): ChangeSet | null {
  const isSeen = ({ table, column }: ColumnCells): boolean => ownerOf(seen, table, column) !== null
  const changed = change.changed.filter(isSeen)
  const isWithheld = ({ table, column }: ColumnCells): boolean => ownerOf(seen, table, column)?.isWithheld === true
  // That a column was evaluated and nothing came of it would tell of cells that are hidden.
  const recalculated = [
    ...change.recalculated.filter((cells) => isSeen(cells) && !isWithheld(cells)),
    ...changed.filter((cells) => isWithheld(cells) && change.recalculated.some((one) => isSame(one, cells))),
  ]
  const stale = change.stale.filter(isSeen)
  const inserted = change.inserted.map((rows) => seenRows(seen, rows))
  const findings = {
    // Where an error comes from is found again, among what is seen; of one that is gone it is nowhere.
    added: seenFindings(seen, change.findings.added).map((found) => withCause(seen, engine, found)),
    removed: seenFindings(seen, change.findings.removed),
  }
  // The unit of what is withheld is that of its formula.
  const units = change.units.filter(({ table, column }) => ownerOf(seen, table, column)?.isWithheld === false)
  const { removed } = change
  const isAnything = [recalculated, changed, stale, inserted, removed, units, findings.added, findings.removed].some(
    (list) => list.length > 0,
  )
  if (!isAnything) return null
  const order = inOrderOf(seen)
  for (const list of [recalculated, changed, stale, units, findings.added, findings.removed]) order(list)
  return { ...change, operations: [], inverse: [], recalculated, changed, stale, inserted, units, findings }
}

/** Where the columns stand among all that are seen, by table and name. */
const placesOfModel = new WeakMap<Model, ReadonlyMap<string, number>>()

/** Sorts what is said of columns as these stand: the order in which they were calculated depends on what is hidden. */
function inOrderOf(seen: Model): (list: { readonly table?: string; readonly column?: string }[]) => void {
  const key = ({ table, column }: { readonly table?: string; readonly column?: string }): string =>
    JSON.stringify([table, column])
  const known = placesOfModel.get(seen)
  const places =
    known ?? new Map(Array.from(seen.columns(), ({ table, column }, at) => [key({ table: table.name, column: column.name }), at]))
  if (known === undefined) placesOfModel.set(seen, places)
  const placeOf = (of: { readonly table?: string; readonly column?: string }): number => places.get(key(of)) ?? places.size
  return (list) => void list.sort((a, b) => placeOf(a) - placeOf(b))
}

function isSame(one: ColumnCells, other: ColumnCells): boolean {
  return one.table === other.table && one.column === other.column
}

/** New rows with the values of the columns that are seen. */
function seenRows(seen: Model, { table, rows, ids, calculated }: InsertedRows): InsertedRows {
  const values = (): ReturnType<InsertedRows['calculated']> =>
    new Map([...calculated()].filter(([column]) => seen.find(table)?.find(column) !== undefined))
  return Object.defineProperty({ table, rows, ids }, 'calculated', { value: values }) as unknown as InsertedRows
}

/** The findings that are of something seen, without where errors come from. */
export function seenFindings(seen: Model, findings: readonly Finding[]): Finding[] {
  const isSeen = (found: Finding): boolean =>
    (found.report === undefined || hasName(seen.reports, found.report)) &&
    (found.chart === undefined || hasName(seen.charts, found.chart)) &&
    (found.report !== undefined || found.chart !== undefined || isOfSeen(seen, found))
  return findings.filter(isSeen).map(withoutCause)
}

/**
 * What a refusal may tell of: what is seen, and what there is not, as far as the reader can tell. Names are found in what they
 * see, so that is all there is but for limits that a hidden column has come to.
 *
 * @param isStrict - for a call that was refused for warnings, of which some were traced to where errors come from
 */
export function toldRefusals(seen: Model, findings: readonly Finding[], isStrict: boolean): Finding[] {
  const told = findings.filter(({ code, table, column }) => {
    if (code.startsWith('unknown-') || column === undefined || table === undefined) return true
    return ownerOf(seen, table, column) !== null
  })
  if (!isStrict) return told
  inOrderOf(seen)(told)
  return told.map(withoutCause)
}

function hasName(views: ReadonlyMap<string, { readonly name: string }>, name: string): boolean {
  return [...views.values()].some((view) => view.name === name)
}

/** True for a finding of nothing in particular, and for one of a column of which all is seen. */
function isOfSeen(seen: Model, { table, column }: Finding): boolean {
  if (column === undefined) return table === undefined || seen.find(table) !== undefined
  const owner = table === undefined ? null : ownerOf(seen, table, column)
  return owner !== null && !owner.isWithheld
}

/** The column, tally, rule or named value that a change or finding means by its names. */
function ownerOf(seen: Model, table: string, column: string): { readonly isWithheld: boolean } | null {
  const owner = seen.find(table)
  const parts = owner === undefined ? [seen.values] : owner.parts
  for (const part of parts) {
    const found = part.name === table ? part.find(column) : undefined
    if (found !== undefined) return found
  }
  return null
}
