// Three servers and two hundred workbooks behind nginx under load, a server killed every five seconds for two minutes:
// node scripts/try-fleet.mjs [servers] [books] [seconds]. Needs PostgreSQL; with nginx, it is asked through that.

import { Fleet, NGINX, pause } from '../packages/server/tests/helpers/fleet.mjs'
import { Follower, killInTurn, Load, makeBooks } from '../packages/server/tests/helpers/fleet-load.mjs'
import { startServer } from '../packages/sql/tests/helpers/postgresql-server.mjs'

const [servers = 3, books = 200, seconds = 120] = process.argv.slice(2).map(Number)
const database = await startServer()
const fleet = await Fleet.begin({ store: database.address, servers, open: Math.ceil((books / servers) * 1.5), isLoud: true })
try {
  const began = performance.now()
  const names = await makeBooks(fleet, books)
  console.log(
    `${books} workbooks made in ${((performance.now() - began) / 1_000).toFixed(1)} s, ${servers} servers${NGINX === '' ? '' : ' behind nginx'}`,
  )
  const followers = names.slice(0, 20).map((name) => new Follower(fleet, name))
  const load = new Load(fleet, names, 12)
  await pause(2_000)
  const takeOvers = await killInTurn(fleet, load, { seconds })
  await load.end()
  const faults = await load.faults()
  await pause(2_000)
  const behind = []
  for (const follower of followers) {
    const { json } = await fleet.ask(`/books/${follower.name}`)
    if (json.revision !== follower.revision) behind.push(`${follower.name}: ${follower.revision} of ${json.revision}`)
    await follower.end()
  }
  const sum = (key) => followers.reduce((all, one) => all + one[key], 0)
  const acknowledged = [...load.acknowledged.values()].reduce((all, marks) => all + marks.size, 0)
  const unknown = [...load.unknown.values()].reduce((all, marks) => all + marks.size, 0)
  const sorted = [...takeOvers].sort((one, other) => one - other)
  console.log(
    JSON.stringify(
      {
        edits: load.edits,
        acknowledged,
        unknown,
        reads: load.reads,
        ...faults,
        takeOvers: {
          count: sorted.length,
          medianMs: Math.round(sorted[sorted.length >> 1]),
          longestMs: Math.round(sorted.at(-1)),
        },
        feeds: { changes: sum('changes'), resets: sum('resets'), gaps: followers.flatMap(({ gaps }) => gaps), behind },
      },
      null,
      1,
    ),
  )
} finally {
  await fleet.close()
  database.stop()
}
