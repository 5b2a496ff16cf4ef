import { dayAfter, dayOfWeek, monthIndex } from './days.js'
import type { DemoCell, DemoTable } from './demo-table.js'
import { SeededRandom } from './random.js'
import { YARDS } from './yards.js'

/** The seed of the data that pictures and documents show. */
export const DEMO_SEED = 2027

const FORAGE = ['willow', 'maple', 'clover', 'lime', 'bramble', 'heather'] as const
const NOTES = [
  'calm',
  'calm, laying well',
  'queen not seen',
  'two cells, "cut out"',
  'wax moth in corner',
  'robbing at entrance',
] as const

/**
 * Thistle & Comb, a made-up honey co-operative, with the faults that real tables have: samples of zero bees that mean "not
 * sampled", blanks, numbers typed as text, a lot without a number, bottling dated before extraction.
 */
export function thistleAndComb(seed: number = DEMO_SEED): DemoTable[] {
  const random = new SeededRandom(seed)
  const hives = makeHives(random)
  const tags = hives.rows.map((row) => row[0] as string)
  return [
    makeApiaries(random),
    hives,
    makeInspections(random, tags),
    makeHarvests(random, tags),
    makeBatches(random),
    makeWeather(random),
    makeCalendar(),
    makeCombs(random),
  ]
}

function makeApiaries(random: SeededRandom): DemoTable {
  return {
    name: 'apiaries',
    columns: [
      { name: 'code', type: 'text' },
      { name: 'name', type: 'text' },
      { name: 'landscape', type: 'text' },
      { name: 'latitude', type: 'number', unit: '°', decimals: 2 },
      { name: 'stands', type: 'integer' },
    ],
    rows: YARDS.map(([code, name, landscape, latitude]) => [code, name, landscape, latitude, random.whole(10, 24)]),
  }
}

function makeHives(random: SeededRandom): DemoTable {
  const rows: DemoCell[][] = []
  for (const [code] of YARDS) {
    const count = random.whole(9, 15)
    for (let stand = 1; stand <= count; stand++) {
      const queenYear = random.whole(23, 26)
      const tag = `${code}-${String(stand).padStart(2, '0')}-${queenYear}`
      rows.push([
        tag,
        code,
        random.pick(['timber', 'timber', 'straw', 'foam']),
        random.whole(8, 12),
        random.chance(0.08) ? null : random.whole(1, 5),
      ])
    }
  }
  return {
    name: 'hives',
    columns: [
      { name: 'tag', type: 'text' },
      { name: 'yard', type: 'text' },
      { name: 'build', type: 'text' },
      { name: 'frames', type: 'integer' },
      { name: 'temper', type: 'integer' },
    ],
    rows,
  }
}

function makeInspections(random: SeededRandom, tags: readonly string[]): DemoTable {
  const rows: DemoCell[][] = []
  for (let day = 0; rows.length < 1980; day = (day + 1) % 210) {
    const seen = dayAfter('2026-03-14', day)
    const season = Math.max(0, (day - 30) / 180)
    for (let visit = random.whole(4, 12); visit > 0; visit--) {
      // One hive in twelve was looked at without washing a sample: zero bees, which is not a count of zero mites.
      const sampled = random.chance(0.08) ? 0 : random.pick([100, 200, 300, 300, 300])
      const load = 6 * season * random.next() ** 2 + 0.4 * random.next()
      const mites = sampled === 0 ? (random.chance(0.5) ? null : 0) : Math.round((sampled * load) / 100)
      const brood = random.chance(0.05) ? null : random.whole(2, 9)
      const stores = random.chance(0.04) ? null : random.decimal(2, 22, 1)
      rows.push([
        random.pick(tags),
        seen,
        mites,
        sampled,
        brood,
        stores,
        random.chance(0.06) ? null : random.whole(1, 5),
        random.chance(0.7) ? null : random.pick(NOTES),
      ])
    }
  }
  rows.sort((a, b) => String(a[1]).localeCompare(String(b[1]), 'en'))
  // Three readings were typed with a remark.
  for (const [place, text] of [
    [211, '4?'],
    [902, 'about 12'],
    [1475, '7 or 8'],
  ] as const)
    (rows[place] as DemoCell[])[2] = text
  return {
    name: 'inspections',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'seen', type: 'date' },
      { name: 'mites', type: 'number' },
      { name: 'bees_sampled', type: 'integer' },
      { name: 'brood_frames', type: 'integer' },
      { name: 'stores_kg', type: 'number', unit: 'kg', decimals: 1 },
      { name: 'temper', type: 'integer' },
      { name: 'note', type: 'text' },
    ],
    rows,
  }
}

function makeHarvests(random: SeededRandom, tags: readonly string[]): DemoTable {
  const rows: DemoCell[][] = []
  for (const tag of tags) {
    for (let take = random.whole(1, 4); take > 0; take--) {
      const frames = random.whole(2, 10)
      const honey = random.decimal(frames * 0.9, frames * 2.1, 2)
      const estimate = random.chance(0.06) ? null : random.decimal(frames * 1.1, frames * 1.9, 1)
      rows.push([tag, dayAfter('2026-05-20', random.whole(0, 110)), random.pick(FORAGE), frames, honey, estimate])
    }
  }
  rows.sort((a, b) => String(a[1]).localeCompare(String(b[1]), 'en'))
  return {
    name: 'harvests',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'taken', type: 'date' },
      { name: 'forage', type: 'text' },
      { name: 'frames', type: 'integer' },
      { name: 'honey_kg', type: 'number', unit: 'kg', decimals: 2 },
      { name: 'spring_estimate_kg', type: 'number', unit: 'kg', decimals: 1 },
    ],
    rows,
  }
}

function makeBatches(random: SeededRandom): DemoTable {
  const rows: DemoCell[][] = []
  for (let number = 1; number <= 168; number++) {
    const extracted = dayAfter('2026-06-01', Math.floor(number * 0.7) + random.whole(0, 3))
    // Four batches have their dates the wrong way round.
    const wait = number % 42 === 0 ? -random.whole(1, 3) : random.whole(2, 21)
    const lot = random.chance(0.12) ? null : String(number).padStart(3, '0')
    // One year is mistyped, and lies beyond the calendar.
    const bottled = number === 100 ? dayAfter(extracted, wait).replace('2026', '2028') : dayAfter(extracted, wait)
    const moisture = random.chance(0.05) ? null : random.decimal(15.2, 21.4, 1)
    rows.push([
      random.pick(YARDS)[0],
      random.pick(FORAGE),
      lot,
      extracted,
      bottled,
      moisture,
      random.whole(40, 420),
      random.pick([250, 340, 500]),
    ])
  }
  return {
    name: 'batches',
    columns: [
      { name: 'site', type: 'text' },
      { name: 'forage', type: 'text' },
      { name: 'lot', type: 'text' },
      { name: 'extracted', type: 'date' },
      { name: 'bottled', type: 'date' },
      { name: 'moisture', type: 'number', unit: '%', decimals: 1 },
      { name: 'jars', type: 'integer' },
      { name: 'jar_g', type: 'integer', unit: 'g' },
    ],
    rows,
  }
}

function makeWeather(random: SeededRandom): DemoTable {
  const rows: DemoCell[][] = []
  for (let day = 0; day < 730; day++) {
    const date = dayAfter('2026-01-01', day)
    const warmth = 9 - 8 * Math.cos(((monthIndex(date) + 0.5) / 12) * 2 * Math.PI)
    rows.push([
      date,
      random.chance(0.45) ? random.decimal(0.2, 18, 1) : 0,
      Number((warmth + random.decimal(-4, 6, 1)).toFixed(1)),
    ])
  }
  return {
    name: 'weather',
    columns: [
      { name: 'day', type: 'date' },
      { name: 'rain_mm', type: 'number', unit: 'mm', decimals: 1 },
      { name: 'warmest', type: 'number', unit: '°C', decimals: 1 },
    ],
    rows,
  }
}

function makeCalendar(): DemoTable {
  const feasts = new Map([
    ['01-01', 'New Year'],
    ['05-01', 'May Day'],
    ['06-24', 'Midsummer'],
    ['12-25', 'Midwinter'],
    ['12-26', 'Midwinter'],
  ])
  const rows: DemoCell[][] = []
  for (let day = 0; day < 730; day++) {
    const date = dayAfter('2026-01-01', day)
    const feast = feasts.get(date.slice(5)) ?? null
    const weekend = dayOfWeek(date) === 0 || dayOfWeek(date) === 6
    rows.push([date, !weekend && feast === null, feast])
  }
  return {
    name: 'calendar',
    columns: [
      { name: 'day', type: 'date' },
      { name: 'working', type: 'boolean' },
      { name: 'holiday', type: 'text' },
    ],
    rows,
  }
}

function makeCombs(random: SeededRandom): DemoTable {
  const rows: DemoCell[][] = []
  for (let step = 0, day = 0; step < 40; step++, day += random.whole(1, 3)) {
    const area = 4200 / (1 + Math.exp(-(day - 38) / 9))
    rows.push([dayAfter('2026-04-20', day), Math.round(area + random.decimal(-40, 40, 0))])
  }
  return {
    name: 'combs',
    columns: [
      { name: 'day', type: 'date' },
      { name: 'comb_cm2', type: 'number', unit: 'cm²' },
    ],
    rows,
  }
}
