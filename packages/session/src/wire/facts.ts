import * as v from 'valibot'
import { Revision, RowId, Value, WireFinding } from './values.js'

const Properties = v.record(v.string(), v.unknown())
const Role = v.picklist(['read', 'enter', 'edit', 'define', 'own'])
const nullableText = v.nullable(v.string())

/** A workbook in the folder that the reader may come in to. */
const BookLine = v.strictObject({ name: v.string(), role: Role })

/** The workbooks. */
export const Books = v.strictObject({ books: v.array(BookLine) })

/** A token, good as long as the server runs, and what it is good for. */
export const Entered = v.strictObject({ token: v.string(), books: v.array(BookLine) })

const Column = v.strictObject({
  name: v.string(),
  type: nullableText,
  unit: nullableText,
  /** How values are written: format, decimals and the like. */
  display: v.unknown(),
  formula: nullableText,
  /** True where the formula reads what the reader does not see. */
  withheld: v.boolean(),
  calculated: v.boolean(),
  state: nullableText,
  properties: Properties,
})

const Link = v.strictObject({
  name: v.string(),
  columns: v.array(v.string()),
  to: v.string(),
  keys: v.array(v.string()),
})

const table = {
  name: v.string(),
  rows: v.number(),
  label: nullableText,
  key: v.nullable(v.array(v.string())),
  parent: nullableText,
  columns: v.array(Column),
  links: v.array(Link),
  tallies: v.array(v.strictObject({ name: v.string(), type: nullableText, formula: nullableText, value: Value })),
  rules: v.array(v.looseObject({ name: v.string(), condition: v.string() })),
}

/** The tables of a workbook. */
export const Tables = v.strictObject({ revision: Revision, tables: v.array(v.strictObject(table)) })

/** A table, with the JSON Schema of one of its rows. */
export const Table = v.strictObject({ revision: Revision, ...table, schema: v.looseObject({}) })

/** A workbook: who is at it, and what there is in it. */
export const Book = v.strictObject({
  name: v.string(),
  revision: Revision,
  reader: v.strictObject({ role: Role, groups: v.array(v.string()), author: nullableText }),
  tables: v.array(v.string()),
  values: v.array(v.strictObject({ name: v.string(), formula: nullableText, value: Value })),
  functions: v.array(
    v.strictObject({
      name: v.string(),
      /** The parameters as they were written. */
      parameters: v.array(v.string()),
      formula: v.string(),
      note: nullableText,
      /** How it is called, with types. */
      form: v.string(),
      /** The type of what it gives; null where that depends on what it is given. */
      type: nullableText,
    }),
  ),
  reports: v.array(v.strictObject({ name: v.string(), definition: v.looseObject({}) })),
  charts: v.array(v.strictObject({ name: v.string(), definition: v.looseObject({}) })),
})

/** Everything found in a workbook. */
export const FindingList = v.strictObject({ revision: Revision, findings: v.array(WireFinding) })

/** Steps of the history, the oldest first. */
export const History = v.strictObject({
  steps: v.array(
    v.strictObject({
      revision: Revision,
      kind: v.picklist(['apply', 'undo', 'redo']),
      at: nullableText,
      author: nullableText,
      /** What was done, in words. */
      what: v.string(),
      /** Cells that were typed over, the first of them, with what they held before and after. */
      cells: v.array(v.strictObject({ table: v.string(), column: v.string(), row: RowId, before: Value, after: Value })),
      recalculated: v.array(v.strictObject({ table: v.string(), column: v.string(), rows: v.number() })),
    }),
  ),
  /** Goes into `after` for what comes next; null at the end. */
  next: v.nullable(Revision),
})

/** A report: groups with their totals, as lines. */
export const Report = v.strictObject({
  revision: Revision,
  columns: v.array(v.strictObject({ name: v.string(), type: nullableText, unit: nullableText })),
  levels: v.array(v.string()),
  lines: v.array(
    v.strictObject({
      kind: v.picklist(['whole', 'group', 'others', 'row']),
      level: v.number(),
      rows: v.number(),
      id: v.nullable(v.number()),
      values: v.array(Value),
    }),
  ),
  rowCount: v.number(),
  keptCount: v.number(),
  findings: v.array(WireFinding),
})

/** Points of a chart. */
export const Chart = v.strictObject({
  revision: Revision,
  definition: v.looseObject({}),
  x: v.strictObject({
    name: v.string(),
    type: nullableText,
    unit: nullableText,
    categories: v.nullable(v.array(v.string())),
  }),
  series: v.array(
    v.strictObject({
      name: v.string(),
      kind: v.string(),
      unit: nullableText,
      blanks: v.number(),
      errors: v.number(),
      points: v.array(v.tuple([Value, Value])),
    }),
  ),
})

/** An answer of the library as it is: see its documentation. */
export const Told = v.looseObject({})

/** Who is at a workbook now. */
export const Present = v.strictObject({
  present: v.array(
    v.strictObject({
      /** Names the one who is there, as long as they are there. */
      id: v.string(),
      author: nullableText,
      role: Role,
      /** Where they are, as they say; null where they do not. */
      place: v.nullable(v.strictObject({ table: v.string(), row: v.optional(v.number()), column: v.optional(v.string()) })),
      /** What they are about to write, as they say. */
      draft: nullableText,
    }),
  ),
})
