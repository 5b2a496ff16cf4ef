import { dayAfter } from './days.js'
import type { DemoTable } from './demo-table.js'
import { SeededRandom } from './random.js'

const APIARIES = ['LM', 'BF', 'OQ', 'HR', 'MW', 'CE', 'KN', 'AF', 'TC', 'GB'] as const
const FIRST_DAY = '2024-04-01'
const HOURS = 24

/** A large table to scroll: what a scale under a hive and a thermometer told, hour by hour. */
export function manyReadings(rows = 200_000, seed = 7): DemoTable {
  const random = new SeededRandom(seed)
  const weights = APIARIES.map(() => random.whole(24, 31))
  let day = FIRST_DAY
  return {
    name: 'readings',
    columns: [
      { name: 'apiary', type: 'text' },
      { name: 'day', type: 'date' },
      { name: 'hour', type: 'integer' },
      { name: 'celsius', type: 'number', unit: '°C', decimals: 1 },
      { name: 'humidity', type: 'number', unit: '%', decimals: 0 },
      { name: 'scale_kg', type: 'number', unit: 'kg', decimals: 2 },
    ],
    rows: Array.from({ length: rows }, (_, at) => {
      const place = at % APIARIES.length
      const hours = Math.floor(at / APIARIES.length)
      const hour = hours % HOURS
      if (hour === 0 && place === 0) day = dayAfter(FIRST_DAY, hours / HOURS)
      const season = Math.sin((2 * Math.PI * (hours / HOURS - 20)) / 365)
      const celsius = 10 + 10 * season + 5 * Math.sin((2 * Math.PI * (hour - 9)) / HOURS) + random.whole(0, 30) / 10
      const weight = Math.max(18, (weights[place] as number) + (hour < 8 ? -0.01 : 0.012 * Math.max(0, season)))
      weights[place] = weight
      // A sensor that fails now and then says nothing.
      const humidity = random.chance(0.0025) ? null : Math.round(Math.min(100, 90 - celsius + random.whole(0, 19)))
      return [APIARIES[place] as string, day, hour, Math.round(celsius * 10) / 10, humidity, Math.round(weight * 100) / 100]
    }),
  }
}
