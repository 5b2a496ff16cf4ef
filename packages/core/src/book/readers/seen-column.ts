import type { ColumnId } from '../../formula/index.js'
import type { ValueType } from '../../values/index.js'
import { type ColumnFormula, ColumnModel, type ColumnProperties, type PausedFormula } from '../model/index.js'

/**
 * A column as those have it from whom something is hidden: its values, what may be said of it, and its formula unless that is
 * withheld. What becomes of the column becomes of this one.
 */
export class SeenColumn extends ColumnModel {
  /** The column as it is. */
  readonly whole: ColumnModel
  override readonly isWithheld: boolean
  override readonly withheldSources: readonly ColumnId[]

  /** @param sources - where its formula is withheld, since it reads what is hidden: the columns of the row that it names besides */
  constructor(whole: ColumnModel, properties: ColumnProperties, sources: readonly ColumnId[] | null) {
    super({ id: whole.id, name: whole.name, original: whole.original ?? undefined, properties })
    this.whole = whole
    this.isWithheld = sources !== null
    this.withheldSources = sources ?? []
  }

  override get type(): ValueType | null {
    return this.whole.type
  }

  override get declared(): boolean {
    return this.whole.declared
  }

  override get isCalculated(): boolean {
    return this.whole.isCalculated
  }

  override get formula(): ColumnFormula | null {
    return this.isWithheld ? null : this.whole.formula
  }

  override get paused(): PausedFormula | null {
    const { paused } = this.whole
    return paused === null || !this.isWithheld ? paused : { ...paused, formula: { text: '', checked: null } }
  }

  override retype(type: ValueType | null, declared?: boolean): void {
    this.whole.retype(type, declared)
  }
}
