import { BLOCK_ROWS, BLOCK_SHIFT, type Cell } from '../columns/index.js'
import type { Checked, Plan } from '../formula/index.js'
import type { ValueType } from '../values/index.js'
import type { Engine } from './engine.js'
import type { NestedGroups } from './groups/index.js'
import { type Lowering, levelsOf, lowerOverGroups, type OverGroups } from './lowering/index.js'
import type { NodeId } from './propagation/index.js'
import { cellAt, cellOf, rowsByBlock, TableStore } from './storage/index.js'
import { type Touched, TouchedGroups } from './touched-groups.js'

/** Each view that is followed has a node of its own. */
let nextFollower = 0

/**
 * The rows of a table in groups inside groups, with what formulas of aggregates give for each. Groups and aggregates are nodes
 * that follow every edit, until they are ended.
 */
export class GroupedRows {
  readonly #engine: Engine
  readonly #store: TableStore
  readonly #lowering: Lowering
  readonly #end: () => void
  /** The whole first, then a level a key; then the same divided by the key that goes across. */
  readonly #levels: readonly NestedGroups[]
  /** Stands for the groups as rows: row n is group n. */
  readonly #lines: TableStore = new TableStore()
  readonly #plans: Map<Plan, OverGroups[]> = new Map()
  #touched: TouchedGroups | null = null

  /**
   * @param where - the condition of the rows; null for all
   * @param keys - a key a level, the outermost first
   * @param across - a key that the groups of all levels are divided by besides; null for none
   */
  constructor(engine: Engine, store: TableStore, where: Checked | null, keys: readonly Checked[], across: Checked | null) {
    const { lowering, end } = engine.borrow()
    this.#engine = engine
    this.#store = store
    this.#lowering = lowering
    this.#end = end
    try {
      this.#levels = levelsOf(lowering, store, where, keys, across)
      engine.recalculation.computeFresh(this.#levels.map(({ id }) => id))
    } catch (error) {
      end()
      throw error
    }
  }

  /**
   * Notes from now on what edits touch.
   *
   * @param shown - formulas of aggregates that are shown for each group, those of them that are shown over other rows too,
   *   formulas that are shown for each row, and columns that count besides
   */
  follow(shown: {
    readonly tallies: readonly Plan[]
    readonly overRows: readonly Plan[]
    readonly rows: readonly Plan[]
    readonly others: readonly NodeId[]
  }): void {
    const formulas = shown.tallies.flatMap((plan) =>
      this.#levels.map((_, level) => ({ level, lowered: this.#over(plan, level).lowered })),
    )
    const overRows = shown.overRows.flatMap((plan) => this.#over(plan, 0).inputs.flatMap(({ rowSources }) => rowSources))
    const others = {
      columns: [...shown.others, ...overRows],
      formulas: shown.rows.map((plan) => this.#lowering.lower(plan, this.#store)),
    }
    this.#touched = this.#lowering.hold(
      `touched ${nextFollower++}`,
      (id) => new TouchedGroups(id, this.#levels, formulas, others),
    )
    this.#engine.recalculation.computeFresh([])
  }

  /** What edits have touched since this was last asked. */
  takeTouched(): Touched | null {
    return this.#touched?.take() ?? null
  }

  /** Ends it: what it needed is let go. */
  end(): void {
    this.#end()
  }

  /** The level whose groups are those of another by the key that goes across. */
  acrossOf(level: number): number {
    return this.#levels.length / 2 + level
  }

  /** The group of a row on a level. */
  groupOf(level: number, slot: number): number {
    return this.#level(level).groupOf(slot)
  }

  /** Numbers of the groups of a level that have rows; level 0 is the whole. */
  groupsOf(level: number): Int32Array {
    const { members } = this.#level(level)
    return Int32Array.from(members.groups())
  }

  /** How many rows a group has. */
  sizeOf(level: number, group: number): number {
    return this.#level(level).members.sizeOf(group)
  }

  /** The rows of a group, in row order. */
  rowsOf(level: number, group: number): Int32Array {
    const { rows } = this.#store
    const slots = Int32Array.from(this.#level(level).members.of(group))
    return slots.sort((a, b) => rows.placeOf(a) - rows.placeOf(b))
  }

  /** The group of the level around it that a group belongs to. */
  outerOf(level: number, group: number): number {
    const groups = this.#level(level)
    return groups.outer?.groupOf(groups.rowOf(group)) ?? 0
  }

  /** One of the rows of a group; -1 for an empty one. */
  rowOf(level: number, group: number): number {
    return this.#level(level).rowOf(group)
  }

  /** The key of a group on its level. */
  keyOf(level: number, group: number): Cell {
    const groups = this.#level(level)
    const [column] = groups.columns
    return column === undefined ? null : cellOf(this.#store.column(column), groups.rowOf(group))
  }

  /** The type of the keys of a level. */
  typeOf(level: number): ValueType {
    const [column] = this.#level(level).columns
    return (column === undefined ? undefined : this.#store.column(column)?.type) ?? 'text'
  }

  /** What a formula gives for groups of a level, in their order. */
  cells(plan: Plan, level: number, groups: Int32Array): Cell[] {
    const { lowered } = this.#over(plan, level)
    const found = new Map<number, Cell>()
    for (const [block, selection] of rowsByBlock(groups)) {
      lowered.run(this.#lines, block, selection, (vector) => {
        for (let k = 0; k < selection.count; k++) {
          const row = selection.rows === null ? k : (selection.rows[k] as number)
          found.set((block << BLOCK_SHIFT) + row, cellAt(vector, row))
        }
      })
    }
    return Array.from(groups, (group) => found.get(group) ?? null)
  }

  /** What a formula gives over some rows, whatever their groups. */
  cellOver(plan: Plan, slots: readonly number[]): Cell {
    const { lowered, inputs } = this.#over(plan, 0)
    for (const input of inputs) input.rows = slots
    let cell: Cell = null
    lowered.run(this.#lines, 0, { rows: Uint16Array.of(0), count: 1 }, (vector) => {
      cell = cellAt(vector, 0)
    })
    for (const input of inputs) input.rows = null
    return cell
  }

  #level(level: number): NestedGroups {
    return this.#levels[level] as NestedGroups
  }

  #over(plan: Plan, level: number): OverGroups {
    const known = this.#plans.get(plan) ?? []
    this.#plans.set(plan, known)
    let over = known[level]
    if (over === undefined) {
      over = lowerOverGroups(this.#lowering, plan, this.#level(level))
      known[level] = over
    }
    this.#engine.recalculation.computeFresh(over.lowered.sources)
    const missing = Math.max(BLOCK_ROWS, this.#level(level).size) - this.#lines.rows.slotCount
    if (missing > 0) this.#lines.rows.insert(missing)
    return over
  }
}
