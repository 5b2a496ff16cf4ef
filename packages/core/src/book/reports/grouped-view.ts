import type { Finding } from '../../findings/index.js'
import type { QueryResult } from '../queries/index.js'
import type { ViewParameter } from '../schemas/index.js'

/** One line of a grouped view. */
export interface ViewLine {
  readonly kind: 'whole' | 'group' | 'others' | 'row'
  /** 0 for the whole, 1 for the outermost groups, one more for each level inside; rows stand one below the innermost. */
  readonly level: number
  /** How many rows are under it. */
  readonly rowCount: number
  /** Of the line for all groups that are not shown: how many they are. */
  readonly groupCount: number | null
  /** Of a row: its id, and its number, from 1. */
  readonly row: number | null
  readonly rowNumber: number | null
}

/** The lines of a grouped view: a group stands before its parts, the whole last. */
export interface GroupedResult extends QueryResult {
  /** Of each row of the result, what it stands for. */
  readonly lines: readonly ViewLine[]
  /** Names of the columns of the keys, the outermost first. */
  readonly levels: readonly string[]
  /** Names of the columns that are none of the view: `level` and `others`, where they are. */
  readonly ownColumns: readonly string[]
  readonly isFlat: boolean
  /** True where rows are lines that stand folded under their group. */
  readonly isFolded: boolean
  /** The table it is of, and the condition of its rows. */
  readonly table: string
  readonly where: string | null
  /** The parameters of the view with the values it was made with. */
  readonly parameters: readonly ViewParameter[]
  /** Rows of the table, and those of them that the condition keeps. */
  readonly rowCount: number
  readonly keptCount: number
  /** What there is to say of it: hints of its formulas, totals over different rows, groups that look alike. To be asked before the workbook changes. */
  findings(): Finding[]
}
