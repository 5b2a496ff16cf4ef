import * as v from 'valibot'
import { Cells, RowId, Value } from './values.js'

/** A number in an address. */
const numberText = (least: number) =>
  v.pipe(v.string(), v.regex(/^\d{1,15}$/, 'expected a whole number'), v.transform(Number), v.number(), v.minValue(least))
/** A flag in an address: there, or `true`, or `false`. */
const flag = v.pipe(
  v.picklist(['', 'true', 'false']),
  v.transform((text) => text !== 'false'),
)
const text = v.string()

/** Which part of a workbook an address names. */
export const BookPath = v.strictObject({ book: text })
export const TablePath = v.strictObject({ book: text, table: text })
export const RowPath = v.strictObject({ book: text, table: text, row: numberText(1) })
export const CellPath = v.strictObject({ book: text, table: text, row: numberText(1), column: text })
export const ColumnPath = v.strictObject({ book: text, table: text, column: text })
export const NamedPath = v.strictObject({ book: text, name: text })
export const ServicePath = v.strictObject({
  book: text,
  service: v.picklist(['findings', 'complete', 'hover', 'signature', 'format', 'rename', 'tokens', 'preview']),
})

/** Which rows are wanted. */
export const RowsQuery = v.strictObject({
  /** A condition, such as `honey_kg > 10`. */
  where: v.optional(text),
  /** Columns to sort by, such as `day desc, hive`. */
  order: v.optional(text),
  /** Names with commas between; a name with a comma stands in backticks. */
  columns: v.optional(text),
  /** 1 000 when left out, 10 000 at most. */
  limit: v.optional(v.pipe(numberText(1), v.maxValue(10_000))),
  /** `next` of the page before. */
  after: v.optional(text),
})

/** How rows are put in. */
export const PutQuery = v.strictObject({
  /** Puts in every row that can be, and tells of the others. */
  each: v.optional(flag),
})

/** The revision that the author of a write saw: cells that others have changed since are told. */
export const SeenQuery = v.strictObject({ expects: v.optional(v.pipe(numberText(0))) })

/** How operations are applied. */
export const OperationsQuery = v.strictObject({
  /** Tells what they would do, without doing them. */
  preview: v.optional(flag),
  /** The revision that their author saw: cells that others have changed since are told. */
  expects: v.optional(numberText(0)),
  /** Refuses them where the workbook is at another revision than this one. */
  revision: v.optional(numberText(0)),
  /** Refuses them where they bring warnings. */
  strict: v.optional(flag),
})

/** An operation of the library; the list of them says what goes with each. */
const WireOperation = v.looseObject({ op: v.string() })
/** One operation, or several of which all are done or none; with rows as their author saw them, where those are to be so. */
export const WireOperations = v.union([
  v.array(WireOperation),
  WireOperation,
  v.strictObject({
    operations: v.union([v.array(WireOperation), WireOperation]),
    asSeen: v.array(v.strictObject({ table: text, id: RowId, cells: Cells })),
  }),
])

/** A part of the history. */
export const HistoryQuery = v.strictObject({ after: v.optional(numberText(0)), limit: v.optional(numberText(1)) })

/** Parameters of a report or chart, by name, and how a chart is to look. */
export const ParametersQuery = v.record(v.string(), v.string())

const OfTable = v.looseObject({ table: text })
const Parameters = v.optional(v.record(text, Value))

/** Rows below their parents: how many levels are open, and ids of rows that are the other way round. */
const OutlineOfRows = v.strictObject({
  levels: v.optional(v.pipe(v.number(), v.integer(), v.minValue(1))),
  turned: v.optional(v.pipe(v.array(RowId), v.maxLength(1_000))),
})

/** A question about a workbook: rows, groups, a chart, a curve, a named value, and where something comes from. */
export const Question = v.union([
  v.strictObject({ rows: OfTable }),
  /** A report that is kept, by its name, or groups as a view says. */
  v.strictObject({ report: v.union([text, OfTable]), parameters: Parameters }),
  /** A chart that is kept, by its name, or one as its definition says. */
  v.strictObject({ chart: v.union([text, OfTable]), parameters: Parameters }),
  v.strictObject({ fit: OfTable }),
  v.strictObject({ value: text }),
  v.strictObject({ explain: v.strictObject({ table: text, formula: text }) }),
  v.strictObject({ why: v.strictObject({ address: text, row: v.optional(RowId) }) }),
  v.strictObject({ trace: text }),
  /** Formulas that give what is wanted in some rows. */
  v.strictObject({ suggest: OfTable }),
  /** Formulas by what they are for, made of columns of a table. */
  v.strictObject({ formulasFor: v.strictObject({ table: text, words: text }) }),
  /** What a column holds, in short. */
  v.strictObject({ profile: v.strictObject({ table: text, column: text }) }),
  /** Where a row stands among others, or the next one of which a condition is true. */
  v.strictObject({
    seek: v.strictObject({
      table: text,
      where: v.optional(text),
      order: v.optional(v.union([text, v.array(v.strictObject({ column: text, descending: v.optional(v.boolean()) }))])),
      outline: v.optional(OutlineOfRows),
      sought: v.union([
        v.strictObject({ row: RowId }),
        v.strictObject({ where: text, behind: v.pipe(v.number(), v.integer(), v.minValue(0)) }),
      ]),
    }),
  }),
  /** What moved a value between two steps. */
  v.strictObject({
    moved: v.strictObject({
      address: text,
      row: v.optional(RowId),
      keys: v.optional(v.array(text)),
      from: v.pipe(v.number(), v.integer(), v.minValue(0)),
      to: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))),
    }),
  }),
  /** Functions by what they are for; all of them for no words. */
  v.strictObject({ functions: text }),
  /** The operation that accepts a finding as it stands now. */
  v.strictObject({
    accepting: v.strictObject({
      finding: v.strictObject({
        code: text,
        table: v.optional(text),
        column: v.optional(text),
        from: v.optional(v.number()),
        to: v.optional(v.number()),
      }),
      because: text,
    }),
  }),
])
/** In which format rows, a report or a chart are wanted, where it is another than JSON. */
export const QuestionQuery = v.strictObject({
  as: v.optional(v.picklist(['csv', 'ndjson', 'json', 'arrow', 'parquet', 'html', 'svg', 'png'])),
})

/** What an editor of formulas asks. */
export const LanguageBody = v.strictObject({
  table: text,
  formula: text,
  /** A place in the formula, in UTF-16 units. */
  offset: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0))),
  /** The new name, for `rename`. */
  to: v.optional(text),
  /** The name of the column, for `preview`. */
  name: v.optional(text),
  /** Ids of rows whose values are wanted, for `preview`. */
  ids: v.optional(v.pipe(v.array(RowId), v.maxLength(1_000))),
})

/** Windows to be followed, by names of one's own. */
export const WATCHED_WINDOWS = v.record(
  v.pipe(text, v.maxLength(100)),
  v.strictObject({
    table: text,
    where: v.optional(text),
    order: v.optional(text),
    outline: v.optional(OutlineOfRows),
    columns: v.optional(v.array(text)),
    from: v.optional(v.number()),
    to: v.optional(v.number()),
  }),
)

/** What is wanted of the live feed. */
export const ChangesQuery = v.strictObject({
  /** Tables with commas between; all when left out. */
  tables: v.optional(text),
  /** Windows to be followed: a JSON object of requests by name. */
  watch: v.optional(text),
})

/** Where someone is, as they say. */
export const PresenceBody = v.strictObject({
  place: v.optional(
    v.nullable(
      v.strictObject({
        table: text,
        row: v.optional(v.pipe(v.number(), v.integer())),
        column: v.optional(text),
      }),
    ),
  ),
  draft: v.optional(v.nullable(v.pipe(text, v.maxLength(2_000)))),
  /** Names one of several pages or programs that show the same token. */
  session: v.optional(v.pipe(text, v.maxLength(40))),
  /** Says that one is there no more. */
  leaves: v.optional(v.literal(true)),
})

/** An invitation to come in. */
export const Invitation = v.strictObject({ invitation: text })

/** A new workbook. */
export const NewBook = v.strictObject({ name: text })
export const NewBookQuery = v.strictObject({ name: v.optional(text) })
