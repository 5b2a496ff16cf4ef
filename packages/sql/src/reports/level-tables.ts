import {
  type Checked,
  type ColumnId,
  type DefinedColumn,
  type DefinedKey,
  type DefinedReport,
  type DefinedTable,
  type DefinedView,
  type LinkId,
  mapParts,
  NEIGHBOURS,
} from 'mellow-abacus/model'
import { NoForm } from '../dialects/index.js'
import { blankOf, FACTS, inExpressions, NEVER, overRows, readColumn, unlessError } from '../formulas/index.js'

/** The lines of one level of a report as a table of a model, whose rows are groups. */
export interface LevelTable {
  /** 0 for the whole. */
  readonly level: number
  readonly table: DefinedTable
  /** The numbers of groups: of the whole, of the outermost groups, and so on to its own. */
  readonly groups: readonly ColumnId[]
  /** Its keys, the outermost first. */
  readonly keys: readonly ColumnId[]
  /** Where a line and those around it stand among the groups beside them; from level 1. */
  readonly places: readonly ColumnId[]
  /** What its own key is put in order by instead of itself; null where that is itself. */
  readonly sorted: ColumnId | null
  /** The columns of the view by the ids that they have in it. */
  readonly columns: ReadonlyMap<ColumnId, ColumnId>
}

/** What the names of a formula of lines are at one level. */
interface LevelNames {
  readonly ids: ReadonlyMap<ColumnId, ColumnId>
  readonly rowCount: ColumnId
  readonly groups: readonly ColumnId[]
  readonly places: readonly ColumnId[]
  readonly toParent: LinkId | null
}

/**
 * The levels of a report as tables, the whole first: keys are columns, tallies are aggregates over the rows of a group, the line
 * around another is the row that a link leads to, and the line before is the one before it in the order of the groups.
 *
 * @param next - a number that nothing else of the model has
 * @throws NoForm for a tally that cannot be had of groups
 */
export function levelTables(report: DefinedReport, view: DefinedView, next: () => number): LevelTable[] {
  const writer = new LevelWriter(report, view, next)
  return Array.from({ length: view.keys.length + 1 }, (_, level) => writer.table(level))
}

class LevelWriter {
  readonly #report: DefinedReport
  readonly #view: DefinedView
  readonly #next: () => number
  /** The names of the levels so far. */
  readonly #names: LevelNames[] = []

  constructor(report: DefinedReport, view: DefinedView, next: () => number) {
    this.#report = report
    this.#view = view
    this.#next = next
  }

  table(level: number): LevelTable {
    const { keys, tallies, lines } = this.#view
    const groups = Array.from({ length: level + 1 }, () => this.#id())
    const places = Array.from({ length: level }, () => this.#id())
    const own = keys.slice(0, level).map((key): DefinedColumn => ({ ...key, id: this.#id(), expression: null }))
    const ids = new Map<ColumnId, ColumnId>()
    for (const [index, { id }] of own.entries()) ids.set((keys[index] as DefinedKey).id, id)
    for (const { id } of [...tallies, ...lines]) ids.set(id, this.#id())
    const toParent = level === 0 ? null : (this.#id() as number as LinkId)
    const rowCount = this.#id()
    this.#names.push({ ids, rowCount, groups, places, toParent })
    const idOf = (of: ColumnId): ColumnId => ids.get(of) as ColumnId
    const around = this.#names[level - 1]
    const sorted = level === 0 ? null : this.#sorted(keys[level - 1] as DefinedKey, own.at(-1) as DefinedColumn)
    const columns = [
      ...groups.map((id, at) => this.#plain(id, `group ${at}`, null)),
      ...own,
      this.#plain(rowCount, 'rows', this.#tally(this.#view.rowCount)),
      ...tallies.map((one) => ({ ...one, id: idOf(one.id), expression: this.#tally(one.expression as Checked) })),
      ...lines.map((one) => ({ ...one, id: idOf(one.id), expression: this.#line(one.expression as Checked, level) })),
      ...(sorted === null ? [] : [sorted]),
      ...places.map((id, at) => {
        const name = `place ${at + 1}`
        if (at === level - 1 || around === undefined || toParent === null) return this.#plain(id, name, null)
        return this.#plain(id, name, this.#follow(toParent, readColumn(around.places[at] as ColumnId, 'number')))
      }),
    ]
    const nameOf = (of: number): string => `${this.#report.name}!level ${of}`
    return {
      level,
      table: {
        name: nameOf(level),
        columns,
        links:
          toParent === null || around === undefined
            ? []
            : [
                {
                  id: toParent,
                  name: 'parent',
                  columns: [groups[level - 1] as ColumnId],
                  to: nameOf(level - 1),
                  keys: [around.groups[level - 1] as ColumnId],
                },
              ],
        tallies: [],
        rules: [],
        rings:
          level === 0
            ? []
            : lines.flatMap(({ id, isRunning }) =>
                isRunning ? [{ order: [idOf(id)], by: [this.#groupAround(level)], orderBy: [this.#inOrder(level)] }] : [],
              ),
        key: null,
        source: null,
      },
      groups,
      keys: own.map(({ id }) => id),
      places,
      sorted: sorted?.id ?? null,
      columns: ids,
    }
  }

  #id(): ColumnId {
    return this.#next() as ColumnId
  }

  #plain(id: ColumnId, name: string, expression: Checked | null): DefinedColumn {
    return { id, name, type: 'number', expression, formula: null }
  }

  #follow(link: LinkId, read: Checked): Checked {
    return { ...FACTS, kind: 'follow', type: read.type, links: [link], read }
  }

  /** The lowest of what the values equal to a key are put in order by. */
  #sorted({ sorted, expression }: DefinedKey, own: DefinedColumn): DefinedColumn | null {
    if (sorted === null || expression === null) return null
    const type = expression.type
    const here: Checked = { ...FACTS, kind: 'outer', type, inner: readColumn(own.id, type) }
    const where: Checked = {
      ...FACTS,
      kind: 'apply',
      type: 'boolean',
      operator: 'equal',
      args: [readColumn(sorted.column, type), here],
    }
    const by = readColumn(sorted.by, inExpressions(sorted.type))
    const known = unlessError(by, blankOf(by.type))
    const rows = { table: sorted.table, which: 'every', links: [] } as const
    return { ...this.#plain(this.#id(), 'sorted by', overRows('min', { rows, args: [known], where, type: by.type })) }
  }

  /** An aggregate over the rows of a group that the report is of. */
  #overGroup(node: Checked): Checked {
    const { where } = this.#view
    if (node.kind !== 'over-rows' || where === null) return node
    // An error of the condition takes a row out.
    const kept = unlessError(where, NEVER)
    if (node.where === null) return { ...node, where: kept }
    const branches = [{ condition: kept, value: node.where }]
    return { ...node, where: { ...FACTS, kind: 'choose', type: 'boolean', branches, otherwise: NEVER } }
  }

  /** A tally, whose aggregates of the table are over the rows of a group. */
  #tally(node: Checked): Checked {
    if (node.kind !== 'over-rows') return mapParts(node, (part) => this.#tally(part))
    const { rows } = node
    if (rows.which !== 'own' || rows.table !== this.#report.table) return node
    if (node.by.length > 0) throw new NoForm(`${node.record.name}() of groups inside of a group has no form`)
    return this.#overGroup(node)
  }

  /** A formula of lines, for those of one level. */
  #line(node: Checked, level: number): Checked {
    const names = this.#names[level] as LevelNames
    switch (node.kind) {
      case 'column': {
        const id = names.ids.get(node.column)
        return id === undefined ? blankOf(node.type) : { ...node, column: id }
      }
      case 'over-rows':
        return readColumn(names.rowCount, 'number')
      case 'follow':
        return this.#neighbour(node.links, node.read, level)
      default:
        return mapParts(node, (part) => this.#line(part, level))
    }
  }

  /** What a line around has. */
  #neighbour([link, ...rest]: readonly LinkId[], read: Checked, level: number): Checked {
    if (link === undefined) return this.#line(read, level)
    const { toParent } = this.#names[level] as LevelNames
    if (link === NEIGHBOURS.whole)
      return toParent === null
        ? this.#neighbour(rest, read, level)
        : this.#neighbour([NEIGHBOURS.parent, link, ...rest], read, level)
    if (toParent === null) return blankOf(read.type)
    if (link === NEIGHBOURS.parent) return this.#follow(toParent, this.#neighbour(rest, read, level - 1))
    const rows = { table: `${this.#report.name}!level ${level}`, which: 'own', links: [] } as const
    const isBefore = link === NEIGHBOURS.previous
    const args = [this.#neighbour(rest, read, level)]
    const order = [this.#inOrder(level)]
    const by = [this.#groupAround(level)]
    const found = overRows(isBefore ? 'lag' : 'lead', { rows, args, by, order, type: read.type })
    const { limit } = this.#view
    if (isBefore || limit === null || level !== 1) return found
    // No line comes after the last that is there.
    const most: Checked = { ...FACTS, kind: 'constant', type: 'number', value: limit }
    const place = (order[0] as { key: Checked }).key
    const condition: Checked = { ...FACTS, kind: 'apply', type: 'boolean', operator: 'less', args: [place, most] }
    return { ...FACTS, kind: 'choose', type: read.type, branches: [{ condition, value: found }], otherwise: null }
  }

  #groupAround(level: number): Checked {
    return readColumn((this.#names[level] as LevelNames).groups[level - 1] as ColumnId, 'number')
  }

  #inOrder(level: number): { readonly key: Checked; readonly descending: boolean } {
    return { key: readColumn((this.#names[level] as LevelNames).places[level - 1] as ColumnId, 'number'), descending: false }
  }
}
