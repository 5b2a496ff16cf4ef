import * as v from 'valibot'

const Name = v.pipe(v.string(), v.minLength(1))
const RowNumber = v.pipe(v.number(), v.integer(), v.minValue(1))
const Type = v.picklist(['number', 'integer', 'text', 'boolean', 'date', 'datetime'])
/** A schema with a text about it, for the one who reads the published JSON Schema. */
const described = <Schema extends v.GenericSchema>(
  schema: Schema,
  text: string,
): v.SchemaWithPipe<readonly [Schema, v.DescriptionAction<v.InferOutput<Schema>, string>]> =>
  v.pipe(schema, v.description<v.InferOutput<Schema>, string>(text))

const Column = v.strictObject({
  name: Name,
  type: described(v.optional(Type), 'of a source column, or declared for a calculated one'),
  formula: described(v.optional(v.string()), 'of a calculated column, whose cells are not in the bundle'),
  original: described(v.optional(Name), 'the column that its own name means in the formula, where it replaces one'),
  paused: v.optional(
    v.strictObject({
      formula: v.string(),
      declared: v.boolean(),
      typed: described(v.array(RowNumber), 'rows typed by hand since, by number'),
    }),
  ),
  stamp: v.optional(
    v.strictObject({
      when: v.array(Name),
      on: v.picklist(['first-fill', 'each-change']),
      content: v.picklist(['time', 'author']),
    }),
  ),
  orderKey: described(v.optional(Name), 'the column whose values say in which order those of this one stand'),
  unit: v.optional(v.string()),
  symbol: v.optional(v.string()),
  display: v.optional(v.string()),
  decimals: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(20))),
  heading: v.optional(v.string()),
  note: v.optional(v.string()),
  tags: v.optional(v.array(Name)),
  choices: v.optional(v.array(v.string())),
  hidden: v.optional(v.boolean()),
  hiddenFrom: v.optional(v.array(v.string())),
  fixed: v.optional(v.boolean()),
})

const Table = v.strictObject({
  name: Name,
  rows: v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(20_000_000)),
  data: described(v.nullable(v.string()), 'the part with its source columns as CSV; null where it has none'),
  label: v.nullable(Name),
  key: v.nullable(v.array(Name)),
  parent: v.nullable(Name),
  columns: v.array(Column),
  links: v.array(v.strictObject({ name: Name, columns: v.array(Name), to: Name, keys: v.array(Name) })),
  tallies: v.array(
    v.strictObject({
      name: Name,
      formula: v.string(),
      unit: v.optional(v.string()),
      symbol: v.optional(v.string()),
      display: v.optional(v.string()),
      decimals: v.optional(v.pipe(v.number(), v.integer(), v.minValue(0), v.maxValue(20))),
      heading: v.optional(v.string()),
      note: v.optional(v.string()),
    }),
  ),
  rules: v.array(
    v.strictObject({
      name: Name,
      condition: v.string(),
      severity: v.optional(v.picklist(['warning', 'hint'])),
      note: v.optional(v.string()),
      blankIsWrong: v.optional(v.boolean()),
    }),
  ),
  kept: described(
    v.array(
      v.strictObject({ row: RowNumber, column: Name, value: v.union([v.literal(''), v.strictObject({ error: v.string() })]) }),
    ),
    'cells that CSV has no word for: empty texts, and errors that a detached column kept',
  ),
})

/** What `book.json` of a bundle holds: everything that is defined. Ids, the journal and accepted findings are not carried. */
export const Bundle = v.strictObject({
  format: v.literal('mellow-bundle'),
  version: v.literal(1),
  surroundings: v.strictObject({ now: v.number(), seed: v.number(), zone: v.string(), locale: v.string() }),
  mode: v.picklist(['live', 'on-demand']),
  metadata: v.optional(v.record(v.string(), v.unknown())),
  values: v.array(
    v.strictObject({
      name: Name,
      type: v.optional(Type),
      formula: v.optional(v.string()),
      value: v.optional(v.nullable(v.union([v.number(), v.string(), v.boolean()]))),
    }),
  ),
  functions: described(
    v.optional(
      v.array(v.strictObject({ name: Name, parameters: v.array(v.string()), formula: v.string(), note: v.optional(v.string()) })),
    ),
    'functions of the workbook, as the operation set-function takes them',
  ),
  tables: v.array(Table),
  reports: v.optional(
    v.array(
      v.strictObject({
        name: Name,
        report: described(v.record(v.string(), v.unknown()), 'a grouped view, as the operation set-report takes it'),
      }),
    ),
  ),
  charts: v.optional(
    v.array(
      v.strictObject({
        name: Name,
        chart: described(v.record(v.string(), v.unknown()), 'a chart, as the operation set-chart takes it'),
      }),
    ),
  ),
})

/** What `book.json` of a bundle holds. */
export type Bundle = v.InferOutput<typeof Bundle>
