import { BLOCK_SHIFT, type Cell } from '../../columns/index.js'
import { cellAt, type Engine, GroupedRows, LineSheet, rowsByBlock } from '../../engine/index.js'
import { refusal } from '../../findings/index.js'
import type { ColumnId, Plan } from '../../formula/index.js'
import { printName } from '../../values/index.js'
import type { Model, RowsTable } from '../model/index.js'
import { showCell } from '../model/index.js'
import { conditionOf, type QueryColumn, sortable, stateOf, withParameters } from '../queries/index.js'
import { readView } from './given-view.js'
import type { GroupedResult, GroupedView, ViewLine } from './grouped-view.js'
import { checkLine, NEIGHBOURS } from './line-columns.js'
import { compareCells, compareGroups, type GroupNode, hasValue } from './line-tree.js'
import { columnNamed, refuseOtherThanCondition, type ViewColumn, type ViewColumns, viewColumns } from './view-columns.js'

/** Columns of the result that are none of the view's. */
const LEVEL = -1 as ColumnId
const OTHERS = -2 as ColumnId
const HAVING = -3 as ColumnId

/** A line while the view is made. */
interface Line extends ViewLine {
  /** The group it is; of a row the group it is in, of the others the group they are in. */
  readonly node: GroupNode
  /** The slots of its rows, where it is no group of its own. */
  readonly slots: Int32Array | null
  /** Places of lines around it in the list; -1 for none. */
  parent: number
  previous: number
  next: number
}

/**
 * Makes a grouped view.
 *
 * @throws Refusal for unknown names and fields, formulas with mistakes, and conditions that are not true or false
 */
export function makeView(model: Model, engine: Engine, given: GroupedView): GroupedResult {
  const view = readView(given)
  const table = model.table(view.table)
  const where =
    view.where === undefined ? null : conditionOf(model, table, withParameters(view.where, view.parameters ?? [])).expression
  const columns = viewColumns(model, engine, table, view)
  const rows = new GroupedRows(engine, table.store, where, columns.keys)
  try {
    return new ViewMaking(model, engine, table, view, columns, rows).result()
  } finally {
    rows.end()
  }
}

class ViewMaking {
  readonly #model: Model
  readonly #engine: Engine
  readonly #table: RowsTable
  readonly #view: GroupedView
  readonly #columns: ViewColumns
  readonly #rows: GroupedRows
  /** The level of the innermost groups. */
  readonly #innermost: number

  constructor(model: Model, engine: Engine, table: RowsTable, view: GroupedView, columns: ViewColumns, rows: GroupedRows) {
    this.#model = model
    this.#engine = engine
    this.#table = table
    this.#view = view
    this.#columns = columns
    this.#rows = rows
    this.#innermost = columns.keys.length
  }

  result(): GroupedResult {
    const { limit, flat, top = [], having } = this.#view
    const whole = this.#tree()
    this.#arrange(whole)
    const groupCount = whole.inner.length
    if (limit !== undefined) whole.inner = whole.inner.slice(0, limit)
    const lines = this.#linesOf(whole)
    const sheet = this.#layOut(lines, this.#columns.all)
    sheet.put(
      LEVEL,
      'integer',
      lines.map(({ level }) => level),
    )
    const hasOthers = top.length > 0 || having !== undefined
    if (hasOthers)
      sheet.put(
        OTHERS,
        'integer',
        lines.map((line) => line.groupCount),
      )
    const slots = Int32Array.from(lines.keys()).filter((at) => flat !== true || lines[at]?.level === this.#innermost)
    const columns = [
      ...(flat === true ? [] : [this.#ownColumn('level', LEVEL, sheet)]),
      ...this.#columns.keyColumns.map((column) => this.#shown(column, sheet)),
      ...(hasOthers ? [this.#ownColumn('others', OTHERS, sheet)] : []),
      ...this.#columns.shown.map((column) => this.#shown(column, sheet)),
    ]
    return {
      columns,
      matched: slots.length + groupCount - whole.inner.length,
      slots,
      ids: () => Array.from(slots, (line) => line + 1),
      rows: () =>
        Array.from(slots, (line) => columns.map(({ storage }) => showCell(storage?.read(line) ?? null, storage?.type ?? 'text'))),
      lines: Array.from(slots, (at) => {
        const { kind, level, rowCount, groupCount: count, row, rowNumber } = lines[at] as Line
        return { kind, level, rowCount, groupCount: count, row, rowNumber }
      }),
      levels: this.#columns.keyColumns.map(({ name }) => name),
      ownColumns: [...(flat === true ? [] : ['level']), ...(hasOthers ? ['others'] : [])],
      isFlat: flat === true,
      rowCount: this.#table.store.rows.rowCount,
      keptCount: whole.size,
    }
  }

  /** All groups, the whole with those inside it. */
  #tree(): GroupNode {
    const make = (level: number, group: number, outer: GroupNode | null, sortKey: (slot: number) => Cell): GroupNode => {
      const key = this.#rows.keyOf(level, group)
      const row = this.#rows.rowOf(level, group)
      const size = this.#rows.sizeOf(level, group)
      return { level, group, key, sortKey: row < 0 ? null : sortKey(row), size, outer, inner: [], others: [] }
    }
    const whole = make(0, 0, null, () => null)
    let around = new Map([[0, whole]])
    for (const [index, { source }] of this.#columns.keyColumns.entries()) {
      const level = index + 1
      const order = source === undefined ? undefined : sortable(this.#engine, this.#table, source)
      const found = new Map<number, GroupNode>()
      for (const group of this.#rows.groupsOf(level)) {
        const outer = around.get(this.#rows.outerOf(level, group)) as GroupNode
        const node = make(level, group, outer, (slot) => order?.read(slot) ?? null)
        outer.inner.push(node)
        found.set(group, node)
      }
      around = found
    }
    return whole
  }

  /** Puts groups in order, and those that are not to be shown together. */
  #arrange(whole: GroupNode): void {
    const { order = [], top = [], having } = this.#view
    const orders = order.map(({ level, by, descending = false }) => ({
      level: this.#levelNamed(level),
      by: this.#sorting(by),
      descending,
    }))
    const tops = top.map(({ level, by, count, ascending = false }) => {
      return { level: this.#levelNamed(level), by: this.#sorting(by), descending: !ascending, count }
    })
    const values = orders.length + tops.length > 0 || having !== undefined ? this.#valuesOfGroups(whole) : null
    const visit = (outer: GroupNode): void => {
      const level = outer.level + 1
      const isKept = (node: GroupNode): boolean =>
        level !== this.#innermost || having === undefined || values?.(node, HAVING) === true
      const kept = outer.inner.filter(isKept)
      const last = tops.findLast((one) => one.level === level)
      const keys = last === undefined ? orders.filter((one) => one.level === level) : [last]
      kept.sort((a, b) => {
        const [one, other] = [hasValue(a), hasValue(b)]
        if (one && other)
          for (const { by, descending } of keys) {
            const compared =
              by.level === level
                ? compareCells(a.sortKey, b.sortKey, descending) || compareCells(a.key, b.key, descending)
                : compareCells(values?.(a, by.id) ?? null, values?.(b, by.id) ?? null, descending)
            if (compared !== 0) return compared
          }
        return compareGroups(a, b)
      })
      const shown = last === undefined ? kept : kept.filter(hasValue).slice(0, last.count)
      const isShown = new Set(shown)
      outer.others = outer.inner.filter((node) => !isShown.has(node))
      outer.inner = shown
      for (const node of shown) visit(node)
    }
    visit(whole)
  }

  /** What the columns have on each group, before any order of lines. */
  #valuesOfGroups(whole: GroupNode): (node: GroupNode, column: ColumnId) => Cell {
    const nodes: GroupNode[] = [whole]
    for (let at = 0; at < nodes.length; at++) nodes.push(...(nodes[at] as GroupNode).inner)
    const places = new Map(nodes.map((node, place) => [node, place]))
    const lines = nodes.map(
      (node): Line => ({ ...groupLine(node), parent: node.outer === null ? -1 : (places.get(node.outer) as number) }),
    )
    const sheet = this.#layOut(
      lines,
      this.#columns.all.filter(({ line }) => line?.minds !== true),
    )
    const { having } = this.#view
    if (having !== undefined) {
      const known = this.#columns.all.filter(({ line }) => line?.minds !== true)
      const checked = checkLine(this.#model, this.#table, { name: 'having', formula: having }, known)
      refuseOtherThanCondition(checked, this.#table.name, 'having')
      sheet.calculate(HAVING, this.#engine.compile(checked), false)
    }
    return (node, column) => sheet.column(column).read(places.get(node) as number)
  }

  /** The level that an option is for: that of a key, or the outermost. */
  #levelNamed(name: string | undefined): number {
    if (name === undefined) return 1
    return columnNamed(this.#columns.keyColumns, name, this.#view).level as number
  }

  /** A column that groups can be put in order by. */
  #sorting(name: string): ViewColumn {
    const column = columnNamed([...this.#columns.keyColumns, ...this.#columns.all], name, this.#view)
    if (column.line?.minds !== true) return column
    const reason = `${printName(column.name)} depends on the order of the lines, so they cannot be put in order by it.`
    throw refusal('bad-operation', { place: 'the view, field order', reason }, { table: this.#table.name, column: column.name })
  }

  /** The lines, a group before its parts, the whole last. */
  #linesOf(whole: GroupNode): Line[] {
    const lines: Line[] = []
    const { details = (this.#view.columns ?? []).length > 0 ? 'shown' : 'none' } = this.#view
    /** Puts a line in, behind the one before it. */
    const put = (line: Line, parent: number, previous: number): number => {
      const place = lines.push({ ...line, parent, previous }) - 1
      if (previous >= 0) (lines[previous] as Line).next = place
      return place
    }
    const visit = (outer: GroupNode, parent: number): void => {
      let previous = -1
      for (const node of outer.inner) {
        previous = put(groupLine(node), parent, previous)
        visit(node, previous)
      }
      if (outer.others.length > 0) put(this.#othersLine(outer), parent, previous)
      if (outer.level < this.#innermost || details === 'none') return
      previous = -1
      for (const slot of this.#rows.rowsOf(outer.level, outer.group)) previous = put(this.#rowLine(outer, slot), parent, previous)
    }
    visit(whole, -1)
    const last = put(groupLine(whole), -1, -1)
    for (const line of lines) if (line.parent < 0 && line !== lines[last]) line.parent = last
    return lines
  }

  #othersLine(outer: GroupNode): Line {
    const level = outer.level + 1
    const slots = outer.others.map(({ group }) => this.#rows.rowsOf(level, group))
    const rowCount = slots.reduce((sum, { length }) => sum + length, 0)
    const all = new Int32Array(rowCount)
    let at = 0
    for (const part of slots) {
      all.set(part, at)
      at += part.length
    }
    return { kind: 'others', level, rowCount, groupCount: outer.others.length, ...NO_ROW, node: outer, slots: all, ...ALONE }
  }

  #rowLine(node: GroupNode, slot: number): Line {
    const { rows } = this.#table.store
    const place = { row: rows.idOf(slot), rowNumber: rows.placeOf(slot) + 1 }
    return {
      kind: 'row',
      level: node.level + 1,
      rowCount: 1,
      groupCount: null,
      ...place,
      node,
      slots: Int32Array.of(slot),
      ...ALONE,
    }
  }

  /** The sheet with some columns of the view on it. */
  #layOut(lines: readonly Line[], columns: readonly ViewColumn[]): LineSheet {
    const whole = lines.findIndex(({ kind }) => kind === 'whole')
    const sheet = new LineSheet(this.#engine, {
      sizes: Int32Array.from(lines, ({ rowCount }) => rowCount),
      neighbours: new Map([
        [NEIGHBOURS.parent, Int32Array.from(lines, ({ parent }) => parent)],
        [NEIGHBOURS.whole, new Int32Array(lines.length).fill(whole)],
        [NEIGHBOURS.previous, Int32Array.from(lines, ({ previous }) => previous)],
        [NEIGHBOURS.next, Int32Array.from(lines, ({ next }) => next)],
      ]),
    })
    for (const { id, type, level = 0 } of this.#columns.keyColumns)
      sheet.put(
        id,
        type,
        lines.map(({ node }) => keyAt(node, level)),
      )
    for (const column of columns)
      if (column.line === undefined) sheet.put(column.id, column.type, this.#cellsOf(column, lines))
      else sheet.calculate(column.id, column.line.plan, column.line.isRunning)
    return sheet
  }

  /** The cells of a column that is not made from others. */
  #cellsOf({ ofRow, ofRows }: ViewColumn, lines: readonly Line[]): Cell[] {
    const cells: Cell[] = new Array(lines.length).fill(null)
    const places = (test: (line: Line) => boolean): number[] => [...lines.keys()].filter((at) => test(lines[at] as Line))
    const isRow = ({ kind }: Line): boolean => kind === 'row'
    if (ofRow !== undefined) {
      const found = this.#ofRows(ofRow, lines.filter(isRow))
      for (const at of places(isRow)) cells[at] = found.get((lines[at] as Line).slots?.[0] as number) ?? null
    }
    if (ofRows === undefined) return cells
    for (let level = 0; level <= this.#innermost; level++) {
      const at = places((line) => line.level === level && (line.kind === 'group' || line.kind === 'whole'))
      const groups = Int32Array.from(at, (place) => (lines[place] as Line).node.group)
      for (const [index, cell] of this.#rows.cells(ofRows, level, groups).entries()) cells[at[index] as number] = cell
    }
    const hasTally = (line: Line): boolean =>
      line.kind === 'others' || (isRow(line) && this.#view.tallyDetails === true && ofRow === undefined)
    for (const at of places(hasTally)) cells[at] = this.#rows.cellOver(ofRows, [...((lines[at] as Line).slots ?? [])])
    return cells
  }

  /** What a formula gives on the rows of some lines, by slot. */
  #ofRows(plan: Plan, lines: readonly Line[]): Map<number, Cell> {
    const cells = new Map<number, Cell>()
    const slots = lines.flatMap(({ slots: of }) => [...(of ?? [])])
    this.#engine.evaluate(
      this.#table.store,
      plan,
      (block, vector, { rows, count }) => {
        for (let k = 0; k < count; k++) {
          const row = rows === null ? k : (rows[k] as number)
          cells.set((block << BLOCK_SHIFT) + row, cellAt(vector, row))
        }
      },
      { rows: rowsByBlock(slots) },
    )
    return cells
  }

  #ownColumn(name: string, id: ColumnId, sheet: LineSheet): QueryColumn {
    return { name, type: 'integer', calculated: true, state: null, unit: null, properties: {}, storage: sheet.column(id) }
  }

  #shown({ id, name, type, properties, source }: ViewColumn, sheet: LineSheet): QueryColumn {
    return {
      name,
      type,
      calculated: source === undefined || source.formula !== null,
      state: source === undefined ? null : stateOf(this.#engine, source),
      unit: properties.unit ?? null,
      properties,
      storage: sheet.column(id),
    }
  }
}

/** Of a line that is no row. */
const NO_ROW = { row: null, rowNumber: null } as const

/** A line that no other stands around yet. */
const ALONE = { parent: -1, previous: -1, next: -1 } as const

function groupLine(node: GroupNode): Line {
  const kind = node.level === 0 ? 'whole' : 'group'
  return { kind, level: node.level, rowCount: node.size, groupCount: null, ...NO_ROW, node, slots: null, ...ALONE }
}

/** The key that a group has on a level; blank above its own. */
function keyAt(node: GroupNode, level: number): Cell {
  for (let at: GroupNode | null = node; at !== null; at = at.outer) if (at.level === level) return at.key
  return null
}
