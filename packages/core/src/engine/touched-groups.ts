import type { NestedGroups } from './groups/index.js'
import type { LoweredPlan } from './lowered-plans/index.js'
import type { EngineNode, NodeId, PropagationPass } from './propagation/index.js'
import { slotsOf, type TableStore } from './storage/index.js'

/** A formula of aggregates over the groups of a level. */
export interface FollowedFormula {
  readonly level: number
  readonly lowered: LoweredPlan
}

/** What counts besides the groups: columns, and formulas over the rows. */
export interface Besides {
  readonly columns: readonly NodeId[]
  readonly formulas: readonly LoweredPlan[]
}

/** What edits have touched of the groups of a view since it was last asked. */
export interface Touched {
  /** True where anything may be another. */
  readonly isAll: boolean
  /** By level, the groups that have gained or lost rows, or whose formulas may give something else. */
  readonly groups: readonly ReadonlySet<number>[]
  /** True where something that was named besides has changed. */
  readonly others: boolean
  /** True where rows of the table have come, gone or moved. */
  readonly rows: boolean
}

/** Notes which groups of a view edits touch. It keeps nothing else, and is as new as what it follows. */
export class TouchedGroups implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly isStale = false
  readonly isDeferrable = false
  readonly isStateless = true
  readonly #levels: readonly NestedGroups[]
  readonly #formulas: readonly FollowedFormula[]
  readonly #others: Besides
  readonly #store: TableStore
  #isAll = false
  #isOther = false
  #hasRows = false
  #groups: Set<number>[]

  constructor(id: NodeId, levels: readonly NestedGroups[], formulas: readonly FollowedFormula[], others: Besides) {
    this.id = id
    this.#levels = levels
    this.#formulas = formulas
    this.#others = others
    this.#store = (levels[0] as NestedGroups).store
    this.#groups = levels.map(() => new Set())
    this.sources = [
      ...levels.map((level) => level.id),
      ...formulas.flatMap(({ lowered }) => lowered.sources),
      ...others.columns,
      ...others.formulas.flatMap(({ sources }) => sources),
      this.#store.rowsNode,
    ]
  }

  /** What was touched since this was last asked. */
  take(): Touched {
    const touched = { isAll: this.#isAll, groups: this.#groups, others: this.#isOther, rows: this.#hasRows }
    this.#isAll = false
    this.#isOther = false
    this.#hasRows = false
    this.#groups = this.#levels.map(() => new Set())
    return touched
  }

  update(pass: PropagationPass): void {
    if (pass.fresh.has(this.id)) return
    const { inserted, removed, everyRow, reordered } = pass.rowsOf(this.#store)
    if (inserted.size > 0 || removed.size > 0 || everyRow || reordered) this.#hasRows = true
    if (this.#hasOtherIn(pass)) this.#isOther = true
    for (const [level, groups] of this.#levels.entries()) {
      if (groups.rebuiltIn(pass)) this.#isAll = true
      for (const group of groups.groupsMovedIn(pass)) this.#groups[level]?.add(group)
    }
    for (const { level, lowered } of this.#formulas) {
      const parts = lowered.touched(pass)
      if (parts === null) this.#isAll = true
      for (const part of parts ?? []) for (const group of slotsOf(part)) this.#groups[level]?.add(group)
    }
  }

  #hasOtherIn(pass: PropagationPass): boolean {
    const { columns, formulas } = this.#others
    const isOther = (id: NodeId): boolean => pass.changedIn(id) !== undefined
    // Each is asked, since some of what they read notes what it said last.
    const parts = formulas.map((lowered) => lowered.touched(pass))
    const areTouched = parts.some((one) => one === null || one.some(({ size }) => size > 0))
    return areTouched || columns.some(isOther) || formulas.some(({ plan }) => plan.sources.some(isOther))
  }

  /** What it follows is yet to be computed, so nobody knows what comes of it. */
  postpone(): void {
    this.#isAll = true
  }

  flush(): void {
    this.#isAll = true
  }
}
