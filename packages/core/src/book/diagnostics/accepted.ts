import type { Engine } from '../../engine/index.js'
import { type Finding, refusal } from '../../findings/index.js'
import { Status, statusOfFault } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { type Acceptance, acceptanceKey, cellText, columnsRead } from '../model/index.js'
import type { AcceptFinding } from '../schemas/index.js'
import { findingsOfColumn } from './column-findings.js'
import { withCause } from './error-findings.js'

/** The acceptance that holds for a finding of a column now; undefined when there is none, or its rows have changed. */
function acceptanceOf(
  model: Model,
  engine: Engine,
  owner: TableModel,
  column: ColumnModel,
  found: Finding,
): Acceptance | undefined {
  if (model.acceptances.size === 0) return undefined
  const known = model.acceptances.get(acceptanceKey(placeOf(column, found)))
  return known !== undefined && known.rows === contentOf(model, engine, owner, column, found) ? known : undefined
}

/** What a finding of a column is known by. */
function placeOf(column: ColumnModel, { code, from, to }: Finding): Pick<Acceptance, 'id' | 'code' | 'from' | 'to'> {
  return { id: column.id, code, from: from ?? null, to: to ?? null }
}

/**
 * What the rows behind a finding hold, as a short text: their number, and a hash of their ids, of their cells in the column
 * and in what its formula reads of the same table. Where the rows are not known one by one, what the finding says.
 */
function contentOf(model: Model, engine: Engine, owner: TableModel, column: ColumnModel, found: Finding): string {
  const isAbout = testOf(engine, owner, column, found)
  if (isAbout === null) return `${found.rows ?? ''} ${found.message}`
  const { store } = owner
  const sources = column.formula?.checked == null ? [] : [...columnsRead(column.formula.checked, model)]
  const columns = [column.id, ...sources].map((id) => store.column(id)).filter((one) => one !== undefined)
  const hash = new Hash()
  let rows = 0
  for (let slot = 0; slot < store.rows.slotCount; slot++) {
    if (!store.rows.isLive(slot) || !isAbout(slot)) continue
    rows++
    hash.add(String(store.rows.idOf(slot)))
    for (const one of columns) hash.add(cellText(one, slot))
  }
  return `${rows} ${hash.text}`
}

const MISFIT: number = statusOfFault('misfit')

/** Tells the rows that a finding is about, by slot; null where they are not known one by one. */
function testOf(
  engine: Engine,
  owner: TableModel,
  column: ColumnModel,
  { code, from, to }: Finding,
): ((slot: number) => boolean) | null {
  const storage = owner.store.column(column.id)
  if (storage === undefined) return null
  if (code === 'rule-broken') return (slot) => storage.statusAt(slot) === Status.value
  if (code === 'rule-undecided') return (slot) => storage.statusAt(slot) > Status.blank
  if (code === 'misfits' || code === 'fractions') return (slot) => storage.statusAt(slot) === MISFIT
  if (code === 'calculated-errors') return (slot) => storage.statusAt(slot) > Status.blank
  const computed = engine.computed(column.id)
  const watch = computed?.formula.watches.findIndex((one) => one.code === code && one.from === from && one.to === to) ?? -1
  if (computed === undefined || watch < 0) return null
  return (slot) => computed.marks.isMarked(slot, watch)
}

/** FNV-1a of 32 bits, twice with different beginnings (Fowler, Noll, Vo; draft-eastlake-fnv). */
class Hash {
  #one = 0x811c9dc5
  #other = 0x01234567

  add(text: string): void {
    for (let at = 0; at <= text.length; at++) {
      const unit = at === text.length ? 0x1f : text.charCodeAt(at)
      this.#one = Math.imul(this.#one ^ unit, 0x01000193)
      this.#other = Math.imul(this.#other ^ unit, 0x01000193)
    }
  }

  get text(): string {
    return [this.#one, this.#other].map((half) => (half >>> 0).toString(16).padStart(8, '0')).join('')
  }
}

/** The findings of a column that no one has accepted, and those accepted with why. */
function sortAccepted(
  model: Model,
  engine: Engine,
  { table, column }: { readonly table: TableModel; readonly column: ColumnModel },
  findings: readonly Finding[],
): { open: Finding[]; accepted: AcceptedFinding[] } {
  const open: Finding[] = []
  const accepted: AcceptedFinding[] = []
  for (const finding of findings) {
    const acceptance = acceptanceOf(model, engine, table, column, finding)
    if (acceptance === undefined) open.push(finding)
    else accepted.push({ finding, acceptance })
  }
  return { open, accepted }
}

/** A finding that was accepted, with why. */
export interface AcceptedFinding {
  readonly finding: Finding
  readonly acceptance: Acceptance
}

/** The findings of a column that no one has accepted. */
export function openFindings(model: Model, engine: Engine, table: TableModel, column: ColumnModel): Finding[] {
  return sortAccepted(model, engine, { table, column }, findingsOfColumn(model, engine, { table, column })).open
}

/** All findings of a workbook as it is: those no one has accepted, and the accepted ones. */
export function findingsOfBook(model: Model, engine: Engine): { open: Finding[]; accepted: AcceptedFinding[] } {
  const open: Finding[] = []
  const accepted: AcceptedFinding[] = []
  for (const owned of model.columns()) {
    const sorted = sortAccepted(model, engine, owned, findingsOfColumn(model, engine, owned, true))
    for (const one of sorted.open) open.push(withCause(model, engine, one))
    for (const one of sorted.accepted) accepted.push(one)
  }
  return { open, accepted }
}

/**
 * The operation that accepts a finding as it stands now.
 *
 * @throws Refusal for a finding that is not there
 */
export function acceptingOperation(model: Model, engine: Engine, wanted: Finding, because: string): AcceptFinding {
  for (const { table, column } of model.columns()) {
    if (table.name !== wanted.table || column.name !== wanted.column) continue
    for (const found of findingsOfColumn(model, engine, { table, column }, true)) {
      if (found.code !== wanted.code || found.from !== wanted.from || found.to !== wanted.to) continue
      return { op: 'accept-finding', ...placeOf(column, found), because, rows: contentOf(model, engine, table, column, found) }
    }
  }
  throw refusal('bad-operation', {
    place: 'accept-finding',
    reason: `there is no finding ${wanted.code} of ${wanted.column} now.`,
  })
}
