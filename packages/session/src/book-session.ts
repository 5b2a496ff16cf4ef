import type {
  BookFunction,
  ChartDefinition,
  ColumnPreview,
  Completions,
  Derivation,
  Explanation,
  FilledTemplate,
  Finding,
  Fit,
  FitRequest,
  GroupedView,
  Hover,
  Operation,
  Query,
  Role,
  RowMoves,
  SignatureHelp,
  Suggestion,
  SuggestionRequest,
  TokenOfKind,
  Trace,
  TriedColumn,
  ValueType,
} from 'mellow-abacus'
import type { AppliedChange, Ending, SessionChange, SessionEvent } from './changes.js'
import type { Appearance, Someone } from './presence.js'
import type { Carried, SessionRow, SessionValue } from './values.js'
import type { LiveWindow, RowsToShow, WindowRequest } from './windows.js'

/** Who is at a session. */
export interface SessionReader {
  readonly role: Role
  readonly groups: readonly string[]
  readonly author: string | null
}

/** A column as a session tells of it. */
export interface ColumnFacts {
  readonly name: string
  /** Null while it has none. */
  readonly type: ValueType | null
  /** The unit that is declared, else the one that its formula gives; null where there is none. */
  readonly unit: string | null
  /** Null for a source column, and where it is withheld. */
  readonly formula: string | null
  /** True where the formula reads what the reader does not see. */
  readonly withheld: boolean
  readonly calculated: boolean
  readonly state: 'stale' | 'paused' | 'stamp' | null
  /** Unit, display, note and so on; columns by their names. */
  readonly properties: Readonly<Record<string, unknown>>
}

/** A table as a session tells of it. */
export interface TableFacts {
  readonly name: string
  readonly rows: number
  readonly label: string | null
  readonly key: readonly string[] | null
  readonly parent: string | null
  readonly columns: readonly ColumnFacts[]
  readonly links: readonly {
    readonly name: string
    readonly columns: readonly string[]
    readonly to: string
    readonly keys: readonly string[]
  }[]
  readonly tallies: readonly {
    readonly name: string
    readonly type: ValueType | null
    readonly formula: string | null
    readonly value: SessionValue
  }[]
  readonly rules: readonly {
    readonly name: string
    readonly condition: string
    readonly severity: 'warning' | 'hint'
    readonly note?: string
  }[]
}

/** What there is in a workbook. */
export interface BookFacts {
  readonly revision: number
  readonly tables: readonly TableFacts[]
  readonly values: readonly { readonly name: string; readonly formula: string | null; readonly value: SessionValue }[]
  /** Functions of the workbook, which its formulas may call. */
  readonly functions: readonly BookFunction[]
  readonly reports: readonly { readonly name: string; readonly definition: GroupedView }[]
  readonly charts: readonly { readonly name: string; readonly definition: ChartDefinition }[]
}

/** Rows found. */
export interface RowsAnswer {
  readonly revision: number
  readonly columns: readonly string[]
  /** How many there are before the limit. */
  readonly matched: number
  readonly rows: readonly SessionRow[]
  /** What `after` of the next page is; null at the end. */
  readonly next: string | null
}

/** One row. */
export interface RowAnswer extends SessionRow {
  readonly revision: number
}

/** Which rows are wanted, a page at a time. */
export interface RowsRequest extends Omit<Query, 'offset'> {
  /** `next` of the page before: pages neither repeat rows nor leave any out for edits between them. */
  readonly after?: string
}

/** A row that is looked for among those of a window. */
export interface SeekRequest extends RowsToShow {
  /** A row by its id; or the first one behind a place of which a condition is true, going on from the beginning at the end. */
  readonly sought: { readonly row: number } | { readonly where: string; readonly behind: number }
}

/** Where a row was found. */
export interface SeekAnswer {
  readonly revision: number
  /** Its id, and its place from 1; null where there is none. */
  readonly found: { readonly id: number; readonly place: number } | null
}

/** What a column holds, in short. */
export interface ColumnProfile {
  readonly revision: number
  /** Cells with a value, without one, and with an error. */
  readonly values: number
  readonly blanks: number
  readonly errors: number
  /** How many values are different from each other. */
  readonly different: number
  /** The smallest and the largest value, of texts the first and the last; null where there is none. */
  readonly least: SessionValue
  readonly greatest: SessionValue
  /** Of numbers; null for others. */
  readonly mean: number | null
  readonly median: number | null
  /** Values that occur more than once, the commonest first; a few of them. */
  readonly commonest: readonly { readonly value: SessionValue; readonly rows: number }[]
  /** Of numbers and times: how many there are in each of equal steps from the smallest to the largest. */
  readonly steps: readonly number[]
}

/** A function that answers to words. */
export interface FunctionFacts {
  readonly name: string
  readonly family: string
  /** How it is called, such as `round(value, [digits])`. */
  readonly form: string
  /** What it gives, in a sentence. */
  readonly says: string
  /** A call of it; null where it has none to show. */
  readonly example: string | null
}

/** Which value is asked about, from which revision to which; to the last one when left out. */
export interface MovedRequest {
  readonly address: string
  /** Id of the row, for a cell. */
  readonly row?: number
  /** Of a figure of a report, `report:name.column`: the keys of its group as values are written, the outermost first; none for all rows. */
  readonly keys?: readonly string[]
  readonly from: number
  readonly to?: number
}

/** A value before and after; left out where it was not there. */
export interface ValueMove {
  readonly before?: SessionValue
  readonly after?: SessionValue
  /** By how much it moved; null where one of them is no number. */
  readonly change: number | null
}

/** What moved a value between two steps. */
export interface MovedAnswer extends ValueMove {
  readonly revision: number
  /** False where steps are too long ago to be taken back, or nothing for the reader to look behind. */
  readonly isWhole: boolean
  /** The steps after which it was another one, the oldest first. */
  readonly steps: readonly (ValueMove & {
    readonly revision: number
    readonly at: string | null
    readonly author: string | null
    readonly what: string
  })[]
  /**
   * What rows account for, those that moved it most first and all of it together, where it is a sum, a count, a mean, a share or a
   * quotient of such; null for anything else.
   */
  readonly rows: (Omit<RowMoves, 'rows'> & { readonly rows: RowMoves['rows']; readonly more: number }) | null
}

/** Groups with their totals. */
export interface ReportAnswer {
  readonly revision: number
  readonly columns: readonly { readonly name: string; readonly type: ValueType | null; readonly unit: string | null }[]
  /** Names of the columns of the keys, the outermost first. */
  readonly levels: readonly string[]
  readonly lines: readonly {
    readonly kind: 'whole' | 'group' | 'others' | 'row'
    readonly level: number
    /** How many rows are under it. */
    readonly rows: number
    /** Id of a line that is a row. */
    readonly id: number | null
    readonly values: readonly SessionValue[]
  }[]
  readonly rowCount: number
  readonly keptCount: number
  readonly findings: readonly Finding[]
}

/** Points of a chart. */
export interface ChartAnswer {
  readonly revision: number
  readonly definition: ChartDefinition
  readonly x: {
    readonly name: string
    readonly type: ValueType | null
    readonly unit: string | null
    readonly categories: readonly string[] | null
  }
  readonly series: readonly {
    readonly name: string
    readonly kind: string
    readonly unit: string | null
    readonly blanks: number
    readonly errors: number
    /** x and y of each point, in order; null for a gap. */
    readonly points: readonly (readonly [SessionValue, SessionValue])[]
  }[]
}

/** A curve through rows; see `Fit`. */
export type FitAnswer = Omit<Fit, 'at' | 'points'>

/** What operations would do. */
export interface PreviewAnswer {
  readonly change: SessionChange
  readonly columns: readonly {
    readonly table: string
    readonly column: string
    readonly changed: number
    readonly bytes: number
    readonly findings: readonly Finding[]
    readonly rows: readonly {
      readonly row: number
      readonly rowNumber: number
      readonly why: string
      readonly before: SessionValue | undefined
      readonly result: SessionValue
      readonly sources: Readonly<Record<string, SessionValue>>
    }[]
  }[]
}

/** A cell that a step wrote; names are those of that time. */
export interface StepCell {
  readonly table: string
  readonly column: string
  readonly row: number
  readonly before: SessionValue
  readonly after: SessionValue
}

/** A step of the history. */
export interface HistoryStep {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  readonly at: string | null
  readonly author: string | null
  /** What was done, in words. */
  readonly what: string
  /** Cells that were typed over, with what they held before and after; the first of them. */
  readonly cells: readonly StepCell[]
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}

/** Names an edit, so that it is done once however often it is asked for. */
export interface EditKey {
  /** What it is called; an answer is kept for a day. */
  readonly name: string
  /** What is asked for, as a hash: something else under the same name is refused. */
  readonly fingerprint: string
}

/** What goes with an edit. */
export interface EditOptions {
  /** The revision that its author saw: what others have changed since in the same cells is told, to both; the edit stands. */
  readonly seen?: number
  /** Rows as their author saw them: where one is another by now, or gone, the edit is refused as `row-changed`. */
  readonly asSeen?: readonly (SessionRow & { readonly table: string })[]
  /** Does it once. */
  readonly key?: EditKey
  /** The revision that its author saw; if the workbook has moved on, it is refused. */
  readonly expects?: number
  /** True to refuse an edit that brings warnings. */
  readonly strict?: boolean
  /** Whether the rows that it touches come back with their values; yes when left out. */
  readonly returns?: 'rows' | 'minimal'
}

/** What goes with a step that is turned, and with rows that are put in. */
export type TurnOptions = Pick<EditOptions, 'key' | 'returns'>

/** What can be had as bytes in an open format. */
export type Exported =
  | { readonly rows: RowsRequest }
  | { readonly report: string | GroupedView; readonly parameters?: Readonly<Record<string, SessionValue>> }
  | { readonly chart: string | ChartDefinition; readonly parameters?: Readonly<Record<string, SessionValue>> }

/** Open formats of rows and reports, and of charts. */
export type ExportFormat = 'csv' | 'ndjson' | 'json' | 'arrow' | 'parquet' | 'html' | 'svg' | 'png'

/** Rows in an open format, to be put in. */
export interface ImportedRows {
  readonly format: 'csv' | 'ndjson' | 'json' | 'arrow'
  readonly bytes: Uint8Array
  /** True to put in every row that can be, and tell of the others; where none can, it is refused. All or none when left out. */
  readonly each?: boolean
}

/** What putting in rows did. */
export interface ImportedChange {
  readonly change: AppliedChange
  /** Rows that were refused, by their number among those given, from 1. */
  readonly refused: readonly { readonly row: number; readonly code: string; readonly message: string }[]
}

/** Answers for editors of formulas of one table; places are UTF-16 units, formulas may be unfinished. */
export interface LanguageSession {
  findings(table: string, formula: string): Promise<readonly Finding[]>
  complete(table: string, formula: string, offset: number): Promise<Completions>
  hover(table: string, formula: string, offset: number): Promise<Hover | null>
  signature(table: string, formula: string, offset: number): Promise<SignatureHelp | null>
  format(table: string, formula: string): Promise<string>
  rename(
    table: string,
    formula: string,
    offset: number,
    to: string,
  ): Promise<{ readonly edits?: readonly object[]; readonly operation?: object } | null>
  tokens(table: string, formula: string): Promise<readonly TokenOfKind[]>
  /** What a definition would give, on sample rows, without defining anything. */
  preview(table: string, column: TriedColumn): Promise<Carried<ColumnPreview>>
}

/**
 * One reader at one workbook, wherever that is held: in this program, behind a port of a worker, or behind a server. What goes
 * in and comes out is plain data. Whatever is refused is thrown as a `SessionFault`.
 */
export interface BookSession {
  /** Who is at it. */
  readonly reader: SessionReader
  /** What there is: tables with their columns, named values, reports and charts. */
  facts(): Promise<BookFacts>
  /** Applies operations, all or none; when it returns, they are kept for good. */
  apply(operations: Operation | readonly Operation[], options?: EditOptions): Promise<AppliedChange>
  /** Takes the last step of one's own back; null when there is none. */
  undo(options?: TurnOptions): Promise<AppliedChange | null>
  /** Does again what was last taken back; null when there is nothing. */
  redo(options?: TurnOptions): Promise<AppliedChange | null>
  /** Puts rows in that came in an open format, at the end of a table. */
  importRows(table: string, rows: ImportedRows, options?: TurnOptions): Promise<ImportedChange>
  /** Rows, a report or a chart as bytes in an open format. */
  exported(what: Exported, format: ExportFormat): Promise<Uint8Array>
  /** What operations would do, without doing them. */
  preview(operations: Operation | readonly Operation[]): Promise<PreviewAnswer>
  query(query: RowsRequest): Promise<RowsAnswer>
  /** One row with all its cells; null where there is none with this id. */
  row(table: string, id: number): Promise<RowAnswer | null>
  /** Where a row stands among those of a window, or the next one of which a condition is true. */
  seek(request: SeekRequest): Promise<SeekAnswer>
  /** A report that is kept, by its name, or rows in groups as a view says. */
  report(report: string | GroupedView, parameters?: Readonly<Record<string, SessionValue>>): Promise<ReportAnswer>
  /** A chart that is kept, by its name, or one as its definition says. */
  chart(chart: string | ChartDefinition, parameters?: Readonly<Record<string, SessionValue>>): Promise<ChartAnswer>
  fit(request: FitRequest): Promise<FitAnswer>
  /** A named value. */
  value(name: string): Promise<SessionValue>
  /** What a column holds, in short. */
  profile(of: { readonly table: string; readonly column: string }): Promise<ColumnProfile>
  findings(): Promise<readonly Finding[]>
  /** A formula, or that of a column, in plain English. */
  explain(table: string, formula: string): Promise<Explanation>
  /** Where the value of a cell comes from. */
  why(address: string, row?: number): Promise<Carried<Derivation>>
  trace(address: string): Promise<Trace>
  /**
   * What moved the value of a cell, a tally or a named value between two steps: the steps that did, and what rows account for.
   *
   * @throws SessionFault for revisions that there are not, or that are too far back
   */
  moved(request: MovedRequest): Promise<MovedAnswer>
  /**
   * Formulas that give what is wanted in some rows, the best first.
   *
   * @throws SessionFault for examples that contradict each other, and where nothing fits
   */
  suggest(request: SuggestionRequest): Promise<Carried<readonly Suggestion[]>>
  /** Formulas by what they are for, best first, made of columns of a table: `average by site`. */
  formulasFor(table: string, words: string): Promise<Carried<readonly FilledTemplate[]>>
  /** Functions by what they are for, best first: by words, or all of them by family for none. */
  functions(words: string): Promise<readonly FunctionFacts[]>
  /** Steps after a revision, the oldest first; `next` is where the next ones begin, null at the end. */
  history(request?: {
    readonly after?: number
    readonly limit?: number
  }): Promise<{ readonly steps: readonly HistoryStep[]; readonly next: number | null }>
  /** The operation that accepts a finding as it stands now, for a reason. */
  accepting(finding: Pick<Finding, 'table' | 'column' | 'code' | 'from' | 'to'>, because: string): Promise<Operation>
  readonly language: LanguageSession
  /** Opens a window on some rows, which follows every edit until it is ended. */
  watch(request: WindowRequest): Promise<LiveWindow>
  /** Says where one is, and is told who is there; it is told again by events, as long as the session lasts. */
  appear(appearance: Appearance): Promise<readonly Someone[]>
  /** Calls a listener for everything that is told of: changes in the order of their revisions. */
  on(listener: (event: SessionEvent) => void): Ending
  /** Ends the session with all its windows. */
  close(): Promise<void>
}
