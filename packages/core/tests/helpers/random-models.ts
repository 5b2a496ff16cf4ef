import fc from 'fast-check'

/** The tables of a random model: their source columns. */
export const TABLES = {
  yards: { code: 'text', area: 'number', north: 'boolean' },
  hives: { tag: 'text', yard: 'text', above: 'text', frames: 'number', since: 'date' },
  takes: { hive: 'text', kg: 'number', lot: 'number', day: 'date', grade: 'text' },
} as const
/** The name of a table. */
export type TableName = keyof typeof TABLES
/** Names of the tables. */
export const NAMES = Object.keys(TABLES) as TableName[]

/** The links between them, one of which leads to its own table. */
export const LINKS = [
  { table: 'hives', name: 'site', columns: ['yard'], to: 'yards', keys: ['code'] },
  { table: 'hives', name: 'above', columns: ['above'], to: 'hives', keys: ['tag'] },
  { table: 'takes', name: 'hive', columns: ['hive'], to: 'hives', keys: ['tag'] },
] as const

const cells: Record<string, fc.Arbitrary<unknown>> = {
  tag: fc.constantFrom('A', 'B', 'C', 'D', null),
  number: fc.constantFrom(null, 0, 1, 2, 3, -1.5, 0.1, 0.2, 1e308, 5, { misfit: 'some' }),
  boolean: fc.constantFrom(true, false, null),
  date: fc.constantFrom('2026-03-01', '2026-03-04', '2026-03-04', '2026-03-09', null),
  grade: fc.constantFrom('a', 'b', null),
}

/** A cell of a source column. */
export function cellFor(table: TableName, column: string): fc.Arbitrary<unknown> {
  if (['code', 'tag', 'yard', 'above', 'hive'].includes(column)) return cells.tag as fc.Arbitrary<unknown>
  const type = (TABLES[table] as Record<string, string>)[column] as string
  return (type === 'text' ? cells.grade : cells[type]) as fc.Arbitrary<unknown>
}

/** A row of a table. */
export const rowOf = (table: TableName): fc.Arbitrary<Record<string, unknown>> =>
  fc.record(Object.fromEntries(Object.keys(TABLES[table]).map((column) => [column, cellFor(table, column)])))

/** Numbers and conditions of a row of each table, some of which fail or are blank. */
const NUMBERS: Record<TableName, readonly string[]> = {
  yards: ['area', 'area * 2 - 1', '1 / area', 'book.price', 'hive_sum'],
  hives: ['frames', 'frames + 1', 'site.area', '10 / frames', 'above.frames', 'count(takes)', 'price'],
  takes: ['kg', 'kg + lot', 'kg / lot', 'hive.frames', 'hive.site.area', '(lag(kg) ?? 0)', 'sum(kg by grade)', 'total_kg'],
}
const CONDITIONS: Record<TableName, readonly string[]> = {
  yards: ['north', 'area > 1', 'area / 0 > 1'],
  hives: ['frames > 1', 'site.north', 'tag in ("A", "B")', 'above is blank', '1 / frames > 0'],
  takes: ['kg > 1', 'grade = "a"', 'lot between 0 and 2', 'kg / lot < 3', 'hive.frames > 2', 'not (kg > 2)'],
}
const PAIRS: Record<string, readonly string[]> = {
  'yards takes': ['hive.yard = this.code', 'kg > this.area', 'hive.site.area = this.area'],
  'yards hives': ['yard = this.code', 'frames < this.area or north_of = this.north'],
  'hives takes': [
    'hive = this.tag',
    'kg = this.frames',
    'hive = this.tag and lot = this.frames',
    'day <= this.since',
    'kg between 1 and this.frames',
    'day between this.since - 3 and this.since + 3',
    'this.since >= day and this.since - 4 < day',
    'kg > this.frames',
    'day <= this.since and kg / this.frames > 1',
    'hive = this.tag and day >= this.since and kg / this.frames > 1',
  ],
  'takes takes': [
    'grade = this.grade',
    'lot = this.lot and day < this.day',
    'day between this.day - 3 and this.day and lot / this.kg < 1',
    'kg < this.kg',
    'grade = this.grade and kg <> this.kg',
  ],
  'takes hives': ['tag = this.hive', 'frames >= this.lot', 'yard = this.hive.yard'],
}

const AGGREGATES = [
  'sum',
  'mean',
  'min',
  'max',
  'count',
  'count_distinct',
  'median',
  'mode',
  'stdev',
  'variance',
  'first',
  'last',
  'lookup',
]
const aggregateOf = (value: string): fc.Arbitrary<string> =>
  fc.oneof(
    fc.constantFrom(...AGGREGATES).map((name) => `${name}(${value}`),
    fc.constantFrom(
      `percentile(${value}, 0.3`,
      `slope(${value}, REST`,
      `correlation(${value}, REST`,
      `join_rows(${value}, "-"`,
      `any(${value} > 1`,
      `all(${value} > 1`,
    ),
  )
const pick = (items: readonly string[]): fc.Arbitrary<string> => fc.constantFrom(...items)
const maybe = (clause: fc.Arbitrary<string>): fc.Arbitrary<string> => fc.oneof(fc.constant(''), clause)
const ORDERS: Record<TableName, readonly string[]> = {
  yards: ['area', 'code desc'],
  hives: ['frames desc', 'since, tag'],
  takes: ['day', 'kg desc', 'grade, day desc'],
}
const GROUPS: Record<TableName, readonly string[]> = {
  yards: ['north'],
  hives: ['yard', 'yard, above'],
  takes: ['grade', 'hive', 'grade, lot', 'kg / lot'],
}

/** A formula over the rows of a table, for a row of another. */
function overRows(home: TableName): fc.Arbitrary<string> {
  const own = fc
    .tuple(
      pick(NUMBERS[home]),
      pick(NUMBERS[home]),
      maybe(pick(CONDITIONS[home]).map((one) => ` where ${one}`)),
      maybe(pick(GROUPS[home]).map((one) => ` by ${one}`)),
      maybe(pick(ORDERS[home]).map((one) => ` order by ${one}`)),
    )
    .chain(([value, rest, where, by, order]) =>
      aggregateOf(value).map((call) => `${call.replace('REST', rest)}${where}${by}${order})`),
    )
  const every = fc.constantFrom(...NAMES).chain((from) => {
    const pairs = PAIRS[`${home} ${from}`]?.filter((one) => !one.includes('north_of')) ?? []
    const condition = fc.oneof(
      pick(CONDITIONS[from]),
      ...(pairs.length === 0
        ? []
        : [pick(pairs), fc.tuple(pick(pairs), pick(CONDITIONS[from])).map(([a, b]) => `${a} and ${b}`)]),
    )
    return fc
      .tuple(
        fc.constantFrom(...Object.entries(TABLES[from]).flatMap(([name, type]) => (type === 'number' ? [name] : []))),
        condition,
        maybe(pick(ORDERS[from]).map((one) => ` order by ${one}`)),
      )
      .chain(([column, where, order]) =>
        fc
          .oneof(aggregateOf(`every ${from}.${column}`), fc.constant(`count(every ${from}`))
          .map((call) => `${call.replace('REST', column)} where ${where}${order})`),
      )
  })
  const linked: Record<TableName, readonly string[]> = {
    yards: [
      'sum(hives.frames)',
      'count(hives where frames > this.area)',
      'sum(takes.kg via hive.site)',
      'max(takes.day via hive.site where kg > 1)',
    ],
    hives: [
      'sum(takes.kg)',
      'mean(takes.kg where lot = this.frames)',
      'count(via above)',
      'sum(frames below above)',
      'count(below above where frames > this.frames)',
      'join_rows(takes.grade, "," order by day desc)',
    ],
    takes: [
      'count(every hives where above = this.hive)',
      'hive.site.code & "!"',
      'hive.above.tag',
      'share(kg by grade)',
      'share(kg)',
    ],
  }
  const ordered = fc
    .tuple(
      pick([
        'lag(X)',
        'lead(X, 2)',
        'difference(X)',
        'cumulative_sum(X)',
        'cumulative_mean(X)',
        'cumulative_max(X)',
        'cumulative_count(X)',
        'moving_mean(X, 2)',
        'moving_sum(X, 3)',
        'row_number()',
        'rank(X)',
        'dense_rank(X)',
        'derivative(X, Y)',
        'integral(X, Y)',
      ]),
      pick(NUMBERS[home]),
      pick(home === 'takes' ? ['day', 'lot', 'kg'] : home === 'hives' ? ['since', 'frames'] : ['area']),
      maybe(pick(GROUPS[home]).map((one) => ` by ${one}`)),
      maybe(pick(ORDERS[home]).map((one) => ` order by ${one}`)),
      fc.boolean(),
    )
    .map(([call, x, y, by, order, isDescending]) => {
      const isOwn = /^(rank|dense|deriv|integ)/.test(call)
      const desc = isDescending && call.includes('rank') ? ' desc' : ''
      return `${call.replace('X', x).replace('Y', y).slice(0, -1)}${desc}${by}${isOwn ? '' : order})`
    })
  const clauses = fc.tuple(
    maybe(pick(GROUPS[home]).map((one) => ` by ${one}`)),
    maybe(pick(ORDERS[home]).map((one) => ` order by ${one}`)),
  )
  const ring = fc
    .tuple(
      pick(['(lag(SELF) ?? 0) + X', '(lag(SELF, 2) ?? 1) * 0.5 - X', 'if(X > 1, X, lag(SELF))', 'X + price * lag(SELF)']),
      pick(NUMBERS[home]),
      clauses,
    )
    .map(([call, x, [by, order]]) => call.replace(/(lag\(SELF[^)]*)/, `$1${by}${order}`).replaceAll('X', x))
  const chained = fc
    .tuple(pick([...CHAINED, ...CHAINED_TO[home]]), clauses)
    .map(([call, [by, order]]) => call.replace('BY', by).replace('ORDER', order))
  return fc.oneof(own, every, pick(linked[home]), ordered, pick(NUMBERS[home]), ring, chained)
}

/** Formulas over another calculated column of whatever type, of the own table or of a linked one. */
const CHAINED = [
  'X_HERE & "."',
  'length(X_HERE & "") + 1',
  'count_distinct(X_HEREBYORDER)',
  'mode(X_HEREBYORDER)',
  'last(X_HEREBYORDER)',
  'first(X_HERE where X_HERE is not blankBYORDER)',
  'lag(X_HEREBYORDER)',
  'if(X_HERE is blank, 1, 2)',
]
const CHAINED_TO: Record<TableName, readonly string[]> = {
  yards: ['count_distinct(hives.X_hives)', 'last(takes.X_takes via hive.site order by day)', 'count(every takes.X_takes)'],
  hives: ['site.X_yards', 'above.X_HERE', 'join_rows(takes.X_takes & "", "-")', 'mode(X_HERE below above)'],
  takes: ['hive.X_hives', 'hive.site.X_yards', 'first(every hives.X_hives where tag = this.hive)'],
}

/**
 * A formula with the column that it is for put in, and for the columns it asks for some that are there.
 *
 * @param columnsOf - names of calculated columns of a table
 */
export function withNames(
  { table, formula }: Definition,
  self: string,
  columnsOf: (table: TableName) => readonly string[],
): string {
  const one = (of: TableName): string => columnsOf(of).at(-1) ?? (Object.keys(TABLES[of])[0] as string)
  return formula
    .replaceAll('SELF', self)
    .replaceAll('X_HERE', one(table))
    .replace(/X_(\w+)/g, (_, of) => one(of as TableName))
}

/** A formula for a table. */
export interface Definition {
  readonly table: TableName
  readonly formula: string
}
/** A formula of any form, over any tables. */
export const definition: fc.Arbitrary<Definition> = fc
  .constantFrom(...NAMES)
  .chain((table) => overRows(table).map((formula) => ({ table, formula })))
