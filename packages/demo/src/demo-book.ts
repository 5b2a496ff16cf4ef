/** What the co-operative has defined over its tables: the calculated columns, links, tallies, rules, reports and charts of the demo workbook. */
export interface DemoBook {
  /** Tables in the order they are read in, with the column that names a row. */
  readonly tables: readonly { readonly name: string; readonly label?: string; readonly key?: string }[]
  readonly links: readonly string[]
  readonly values: readonly string[]
  readonly columns: readonly { readonly table: string; readonly definitions: readonly string[] }[]
  readonly tallies: readonly { readonly table: string; readonly definition: string }[]
  /** Units of source columns. */
  readonly units: readonly { readonly address: string; readonly unit: string }[]
  readonly rules: readonly { readonly table: string; readonly definition: string; readonly note: string }[]
  readonly reports: readonly DemoReport[]
  /** A curve through what was measured, with the columns that it becomes. */
  readonly fit: {
    readonly table: string
    readonly quantities: string
    readonly degree: number
    readonly define: string
    readonly residuals: string
  }
  readonly charts: readonly DemoChart[]
}

/** A chart of the demo, as its options are typed. */
export interface DemoChart {
  readonly name: string
  readonly of: string
  readonly options: readonly string[]
}

/** A report of the demo, as its options are typed. */
export interface DemoReport {
  readonly name: string
  readonly table: string
  readonly groups: string
  readonly across?: string
  readonly tallies: readonly string[]
  readonly lines: readonly string[]
  readonly order?: string
  readonly display?: string
}

/** The definitions of Thistle & Comb. */
export const DEMO_BOOK: DemoBook = {
  tables: [
    { name: 'apiaries', label: 'name', key: 'code' },
    { name: 'hives', label: 'tag', key: 'tag' },
    { name: 'inspections' },
    { name: 'harvests' },
    { name: 'batches' },
    { name: 'weather' },
    { name: 'calendar', label: 'day', key: 'day' },
    { name: 'combs' },
  ],
  links: ['hives.yard -> apiaries.code', 'inspections.hive -> hives.tag', 'harvests.hive -> hives.tag'],
  values: ['honey_price = 9.5', 'first_comb = min(every combs.day)'],
  columns: [
    {
      table: 'inspections',
      definitions: [
        'infestation = 100 * mites per bees_sampled',
        "act = case when infestation is blank then 'sample again' when infestation > 3 then 'treat' else 'wait' end",
        'last_seen = lag(seen by hive order by seen)',
        'rainy_days = count(every weather where day > this.last_seen and day <= this.seen and rain_mm > 1)',
        'score = weighted(brood_frames at 40%, stores_kg at 35%, temper at 25%)',
        'daylight = let tilt = radians(23.44) * sin(radians(360 * (day_of_year(seen) - 81) / 365)) in 24 / pi() * acos(-tan(radians(hive.yard.latitude)) * tan(tilt))',
      ],
    },
    {
      table: 'hives',
      definitions: [
        "site = split_part(tag, '-', 1)",
        "stand = number(split_part(tag, '-', 2))",
        "queen_year = 2000 + number(split_part(tag, '-', 3))",
        'honey = sum(harvests.honey_kg)',
        'worst = max(inspections.infestation)',
      ],
    },
    {
      table: 'harvests',
      definitions: [
        'part = share(honey_kg)',
        'shortfall = spring_estimate_kg - honey_kg',
        'worth = honey_kg * honey_price',
        'flow_begins = min(taken by forage)',
      ],
    },
    {
      table: 'batches',
      definitions: [
        "mark = join('-', site, forage, lot)",
        "class = case when moisture is blank then blank when moisture < 17 then 'dry' when moisture <= 18.5 then 'ripe' else 'moist' end",
        'wait = workdays_between(extracted, bottled, every calendar.day where holiday is not blank)',
        'stock = (lag(stock order by extracted) ?? 0) + jars',
      ],
    },
    {
      table: 'combs',
      definitions: ['day_no = days_between(first_comb, day)', 'growth = derivative(comb_cm2, day)'],
    },
  ],
  tallies: [
    { table: 'harvests', definition: 'total_kg = sum(honey_kg)' },
    { table: 'harvests', definition: 'yield = sum(honey_kg) per sum(frames)' },
    { table: 'batches', definition: 'mean_wait = mean(wait)' },
    { table: 'batches', definition: 'filled_kg = sum(jars * jar_g) / 1000' },
  ],
  units: [
    { address: 'harvests.honey_kg', unit: 'kg' },
    { address: 'combs.comb_cm2', unit: 'cm²' },
    { address: 'inspections.brood_frames', unit: 'frames' },
    { address: 'inspections.stores_kg', unit: 'kg' },
    { address: 'inspections.infestation', unit: '%' },
  ],
  rules: [
    { table: 'batches', definition: 'drinkable: moisture between 14 and 20', note: 'Measure it again before it is sold.' },
    { table: 'inspections', definition: 'counted: mites <= bees_sampled', note: 'More mites than bees were never seen.' },
    { table: 'batches', definition: 'in_time: mean_wait <= 7', note: 'Bottling takes too long.' },
  ],
  reports: [
    {
      name: 'by_apiary',
      table: 'harvests',
      groups: 'apiary = hive.yard.name, forage',
      tallies: ['honey = sum(honey_kg)', 'takes = count()'],
      lines: ['part = honey per parent.honey'],
      order: 'honey desc',
      display: 'part: percent',
    },
    {
      name: 'forage_by_month',
      table: 'harvests',
      groups: 'forage',
      across: "month = text(taken, 'yyyy-MM')",
      tallies: ['honey = sum(honey_kg)'],
      lines: [],
    },
    {
      name: 'colonies_by_month',
      table: 'inspections',
      groups: "month = start_of(seen, 'month')",
      tallies: ['brood = mean(brood_frames)', 'stores = mean(stores_kg)', 'infestation = mean(if_error(infestation, blank))'],
      lines: [],
    },
  ],
  fit: { table: 'combs', quantities: 'comb_cm2 by day', degree: 3, define: 'fitted', residuals: 'off_curve' },
  charts: [
    {
      name: 'colonies',
      of: 'colonies_by_month',
      options: ['--line', 'brood, stores', '--right', 'infestation', '--title', 'Colonies through the season'],
    },
    {
      name: 'honey_by_forage',
      of: 'forage_by_month',
      options: ['--bar', 'honey', '--title', 'Honey by forage, in the order of flow'],
    },
    {
      name: 'comb_growth',
      of: 'combs',
      options: ['--x', 'day', '--point', 'comb_cm2', '--fit', 'comb_cm2: 3', '--residuals', '--title', 'Comb growth of a swarm'],
    },
  ],
}
