// Asks a server for its health fifty times a second. Each line that it is given names the part of the time that begins then; when
// it is ended it says how long the answers took in each part, as JSON: node ask-health.mjs <url>
const [url] = process.argv.slice(2)
const parts = new Map()
let part = 'before'
process.stdin.on('data', (text) => {
  part = String(text).trim().split('\n').at(-1)
})
const timer = setInterval(async () => {
  const [at, of] = [performance.now(), part]
  await (await fetch(`${url}/health/live`)).json()
  parts.set(of, [...(parts.get(of) ?? []), performance.now() - at])
}, 20)
process.on('SIGTERM', () => {
  clearInterval(timer)
  const told = [...parts].map(([name, times]) => {
    const sorted = times.sort((a, b) => a - b)
    const at = (share) => Number(sorted[Math.floor(sorted.length * share)].toFixed(1))
    return [name, { asked: sorted.length, median: at(0.5), p99: at(0.99) }]
  })
  console.log(JSON.stringify(Object.fromEntries(told)))
  process.exit(0)
})
