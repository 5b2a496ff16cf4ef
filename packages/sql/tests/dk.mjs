import { DuckDBInstance } from '@duckdb/node-api'

const c = await (await DuckDBInstance.create(process.argv[2])).connect()
for (const q of process.argv.slice(3)) {
  const t0 = Date.now()
  const r = await c.runAndReadAll(q)
  console.log(q.slice(0, 100), Date.now() - t0, 'ms')
  console.table(JSON.parse(JSON.stringify(r.getRowObjectsJson())).slice(0, 12))
}
