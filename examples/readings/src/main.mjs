// Posts readings of hives to a shared workbook, and prints the calculated rows as they follow.
// node main.mjs [address of a workbook] [token]; READINGS says how many, PAUSE_MS how long between two of them.
import { connect } from '@mellow-abacus/session'
import { serveReadings } from './workbook.mjs'

const [given, token] = process.argv.slice(2)
const { READINGS = '12', PAUSE_MS = '1000' } = process.env
const own =
  given === undefined ? await serveReadings() : { url: given, token, hives: ['LM-01', 'LM-02'], end: async () => undefined }

const session = await connect(own.url, own.token === undefined ? {} : { token: own.token })
console.log(`${own.url} as ${session.reader.author}, who may ${session.reader.role}`)

// What follows: the hives, the heaviest first, whoever writes.
const hives = await session.watch({ table: 'hives', order: 'latest_kg desc', columns: ['code', 'latest_kg', 'taken'], to: 4 })
const shown = ({ rows }) => rows.map(({ cells }) => `${cells.code} ${cells.latest_kg ?? '–'} kg (${cells.taken})`).join('   ')
hives.subscribe((window) => console.log(`  heaviest: ${shown(window)}`))

const pause = () => new Promise((resolve) => setTimeout(resolve, Number(PAUSE_MS)))
const start = Date.UTC(2026, 5, 1, 6)
for (let number = 0; number < Number(READINGS); number++) {
  const hive = own.hives[number % own.hives.length]
  const at = new Date(start + number * 600_000).toISOString().slice(0, 19)
  const scale_kg = 40 + ((number * 7) % 11)
  const { rows } = await session.apply({ op: 'insert-rows', table: 'readings', rows: [{ hive, at, scale_kg }] })
  const { honey_kg, gain_kg } = rows[0].cells
  console.log(`${hive} ${at} ${scale_kg} kg: honey ${honey_kg} kg, gain ${gain_kg ?? '–'} kg`)
  await pause()
}

hives()
await session.close()
await own.end()
