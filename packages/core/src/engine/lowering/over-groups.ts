import type { Checked, LinkId, Plan } from '../../formula/index.js'
import { NestedGroups } from '../groups/index.js'
import { LoweredPlan } from '../lowered-plans/index.js'
import type { TableStore } from '../storage/index.js'
import { GroupInput, LineSizeInput, NeighbourInput, type Neighbours, SameInput } from './inputs/index.js'
import type { Lowering } from './lowering.js'

// Functions, not methods: a page without grouped views loads none of this.

/** A formula of aggregates, ready to be run over groups, with what it reads of them. */
export interface OverGroups {
  readonly lowered: LoweredPlan
  readonly inputs: readonly GroupInput[]
}

/** What formulas of lines read of other lines: those around each, and how many rows are under it. */
export interface LineReads {
  readonly neighbours: ReadonlyMap<LinkId, Neighbours>
  readonly sizes: Int32Array
}

/**
 * The rows of a table in groups inside groups: the whole first, then a level a key. With a key that goes across there are as many
 * levels again: the groups of each by that key too.
 *
 * @param where - the condition of the rows; null for all
 */
export function levelsOf(
  lowering: Lowering,
  store: TableStore,
  where: Checked | null,
  keys: readonly Checked[],
  across: Checked | null,
): readonly NestedGroups[] {
  const inside = (outer: NestedGroups | null, part: Checked | null): NestedGroups => {
    const column = part === null ? null : lowering.column(part, store)
    const key = `nested ${store.key} ${outer?.id ?? ''} ${column ?? ''}`
    return lowering.hold(key, (id) => new NestedGroups(id, store, outer, column))
  }
  const levels: NestedGroups[] = []
  for (const part of [where, ...keys]) levels.push(inside(levels.at(-1) ?? null, part))
  return across === null ? levels : [...levels, ...levels.map((level) => inside(level, across))]
}

/**
 * Gives a formula of aggregates over the rows of a table, such as a tally, what it reads of groups of them: row n of what it
 * gives is for group n.
 */
export function lowerOverGroups(lowering: Lowering, plan: Plan, groups: NestedGroups): OverGroups {
  const { frames, surroundings, singles, table } = lowering.context
  const ofGroups: GroupInput[] = []
  const inputs = plan.reads.map((read) => {
    const isOfRows = read.kind === 'over-rows' && read.rows.which === 'own' && table(read.rows.table) === groups.store
    if (!isOfRows) return new SameInput(lowering.input(read, singles))
    const input = new GroupInput(lowering.resultsOf(read, groups.store, groups, read.where), groups)
    ofGroups.push(input)
    return input
  })
  const lists = plan.holidays.map((list) => lowering.holidays(list))
  return { lowered: new LoweredPlan(plan, { inputs, lists, outers: [] }, frames, surroundings), inputs: ofGroups }
}

/** Gives a formula of the lines of a view what it reads: along its neighbours the same columns of other lines. */
export function lowerOverLines(lowering: Lowering, plan: Plan, store: TableStore, { neighbours, sizes }: LineReads): LoweredPlan {
  const { frames, surroundings, singles } = lowering.context
  const inputs = plan.reads.map((read) => {
    if (read.kind === 'over-rows') return new LineSizeInput(sizes)
    if (read.kind !== 'follow' || read.read.kind !== 'column') return new SameInput(lowering.input(read, singles))
    const steps = read.links.map((link) => neighbours.get(link) as Neighbours)
    return new NeighbourInput(store, steps, read.read.column)
  })
  return new LoweredPlan(plan, { inputs, lists: [], outers: [] }, frames, surroundings)
}
