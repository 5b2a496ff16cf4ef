import type { CheckedFormula, ColumnId } from '../../formula/index.js'
import { foldName } from '../../values/index.js'
import type { GroupedView, SetReport, ViewFormula, ViewLevel } from '../schemas/index.js'
import type { RenamedColumn } from './chart-model.js'
import type { ColumnFormula, ColumnModel } from './column-model.js'
import { renamingEdits, rewriteFormula } from './rewrite-formula.js'
import type { RowsTable } from './table-model.js'

/** What checking a view gives: its formulas by where they stand, and its columns by their numbers in it. */
export interface CheckedView {
  readonly formulas: ReadonlyMap<string, CheckedFormula>
  readonly keyIds: readonly ColumnId[]
  readonly tallyIds: readonly ColumnId[]
}

/** A grouped view that is kept. Its formulas follow renaming, and so do the names that it takes from columns. */
export class ReportModel {
  readonly kind = 'report'
  readonly name: string
  readonly table: RowsTable
  /** What it is made from but for the texts of its formulas, which are kept beside. */
  #view: GroupedView
  readonly #formulas: Map<string, ColumnFormula> = new Map()
  #ids: Pick<CheckedView, 'keyIds' | 'tallyIds'> | null = null

  constructor(name: string, table: RowsTable, view: GroupedView) {
    this.name = name.normalize('NFC')
    this.table = table
    this.#view = view
    eachFormula(view, (text, place) => {
      this.#formulas.set(place, { text, checked: null })
      return text
    })
  }

  /** The view as it is now. */
  get view(): GroupedView {
    return { ...eachFormula(this.#view, (text, place) => this.#formulas.get(place)?.text ?? text), table: this.table.name }
  }

  /** The operation that makes it as it is. */
  get operation(): SetReport {
    return { op: 'set-report', name: this.name, report: this.view }
  }

  /** Its formulas. The columns of the view have ids in them that no column of a table has. */
  get formulas(): readonly ColumnFormula[] {
    return [...this.#formulas.values()]
  }

  /** Takes what checking the view gave. */
  takeChecked({ formulas, ...ids }: CheckedView): void {
    this.#ids = ids
    for (const [place, formula] of this.#formulas) formula.checked = formulas.get(place) ?? null
  }

  /** Follows a column that was renamed, and says which columns of the view have other names by it. */
  renameColumn(column: ColumnModel, former: string): RenamedColumn[] {
    const renamed: RenamedColumn[] = []
    const keysBefore = this.#levelNames((source) => (source === column ? former : source.name))
    for (const formula of this.#formulas.values()) rewriteFormula(formula, renamingEdits(formula, column.id, column.name))
    for (const [at, name] of this.#levelNames((source) => source.name).entries())
      renamed.push(...this.#follow(this.#ids?.keyIds[at], keysBefore[at] as string, name, (view) => view))
    // A tally that bears the name of a column goes on bearing it.
    for (const [at, { name }] of (this.#view.tallies ?? []).entries()) {
      if (column.id !== this.table.find(column.name)?.id || foldName(name) !== foldName(former)) continue
      const tallies = (this.#view.tallies ?? []).map((one, index) => (index === at ? { ...one, name: column.name } : one))
      renamed.push(...this.#follow(this.#ids?.tallyIds[at], name, column.name, (view) => ({ ...view, tallies })))
    }
    return renamed
  }

  /** What the column of each key is called, where a key that is a column is called as that. */
  #levelNames(nameOf: (source: ColumnModel) => string): string[] {
    return (this.#view.levels ?? []).map(({ name }, at) => {
      const { text, checked } = this.#formulas.get(`levels ${at}`) as ColumnFormula
      const source = checked?.expression.kind === 'column' ? this.table.withId(checked.expression.column) : undefined
      return name ?? (source === undefined ? text.trim() : nameOf(source))
    })
  }

  /** Lets the formulas of lines and the orders follow a column of the view that has another name. */
  #follow(id: ColumnId | undefined, former: string, name: string, renamed: (view: GroupedView) => GroupedView): RenamedColumn[] {
    if (former === name || id === undefined) return []
    for (const [place, formula] of this.#formulas)
      if (place === 'having' || place.startsWith('lines ')) rewriteFormula(formula, renamingEdits(formula, id, name))
    const now = (one: string): string => (foldName(one) === foldName(former) ? name : one)
    const named = <Part extends { readonly level?: string; readonly by: string }>(part: Part): Part => {
      return { ...part, by: now(part.by), ...(part.level !== undefined && { level: now(part.level) }) }
    }
    const { order, top, shown, ...view } = renamed(this.#view)
    this.#view = {
      ...view,
      ...(order !== undefined && { order: order.map(named) }),
      ...(top !== undefined && { top: top.map(named) }),
      ...(shown !== undefined && { shown: shown.map(now) }),
    }
    return [{ report: this.name, former, name }]
  }
}

/** The view with each of its formulas put through a function, which is told where it stands. */
function eachFormula(view: GroupedView, of: (text: string, place: string) => string): GroupedView {
  const key = (level: ViewLevel, place: string): ViewLevel => ({ ...level, key: of(level.key, place) })
  const formulas = (list: readonly ViewFormula[], kind: string): ViewFormula[] =>
    list.map((one, at) => ({ ...one, formula: of(one.formula, `${kind} ${at}`) }))
  const { where, levels, across, columns, tallies, lines, having } = view
  return {
    ...view,
    ...(where !== undefined && { where: of(where, 'where') }),
    ...(levels !== undefined && { levels: levels.map((level, at) => key(level, `levels ${at}`)) }),
    ...(across !== undefined && { across: key(across, 'across') }),
    ...(columns !== undefined && { columns: formulas(columns, 'columns') }),
    ...(tallies !== undefined && { tallies: formulas(tallies, 'tallies') }),
    ...(lines !== undefined && { lines: formulas(lines, 'lines') }),
    ...(having !== undefined && { having: of(having, 'having') }),
  }
}
