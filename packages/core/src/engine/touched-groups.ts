import type { NestedGroups } from './groups/index.js'
import type { LoweredPlan } from './lowered-plans/index.js'
import type { EngineNode, NodeId, PropagationPass } from './propagation/index.js'
import { slotsOf, type TableStore } from './storage/index.js'

/** A formula of aggregates over the groups of a level. */
export interface FollowedFormula {
  readonly level: number
  readonly lowered: LoweredPlan
}

/** What edits have touched of the groups of a view since it was last asked. */
export interface Touched {
  /** True where anything may be another. */
  readonly isAll: boolean
  /** By level, the groups that have gained or lost rows, or whose formulas may give something else. */
  readonly groups: readonly ReadonlySet<number>[]
  /** True where one of the columns that were named besides has changed. */
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
  readonly #others: readonly NodeId[]
  readonly #store: TableStore
  #isAll = false
  #isOther = false
  #hasRows = false
  #groups: Set<number>[]

  /** @param others - columns that count besides the groups */
  constructor(id: NodeId, levels: readonly NestedGroups[], formulas: readonly FollowedFormula[], others: readonly NodeId[]) {
    this.id = id
    this.#levels = levels
    this.#formulas = formulas
    this.#others = others
    this.#store = (levels[0] as NestedGroups).store
    this.#groups = levels.map(() => new Set())
    this.sources = [
      ...levels.map((level) => level.id),
      ...formulas.flatMap(({ lowered }) => lowered.sources),
      ...others,
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
    if (this.#others.some((id) => pass.changedIn(id) !== undefined)) this.#isOther = true
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

  /** What it follows is yet to be computed, so nobody knows what comes of it. */
  postpone(): void {
    this.#isAll = true
  }

  flush(): void {
    this.#isAll = true
  }
}
