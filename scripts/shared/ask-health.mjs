// Asks a server for its health ten times a second, and says how long that took when it is ended: node ask-health.mjs <url>
const [url] = process.argv.slice(2)
const times = []
const timer = setInterval(async () => {
  const at = performance.now()
  await (await fetch(`${url}/health/live`)).json()
  times.push(performance.now() - at)
}, 100)
process.on('SIGTERM', () => {
  clearInterval(timer)
  const sorted = times.slice(10).sort((a, b) => a - b)
  const at = (part) => sorted[Math.floor(sorted.length * part)]?.toFixed(1)
  console.log(`asked ${sorted.length} times, median ${at(0.5)} ms, p99 ${at(0.99)} ms`)
  process.exit(0)
})
