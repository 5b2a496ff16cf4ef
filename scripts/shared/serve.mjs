// A server as a process of its own, for measuring: node serve.mjs <folder> [options as JSON]. It says where it is.
import { startServer } from '../../packages/server/dist/index.js'

const [folder, options = '{}'] = process.argv.slice(2)
const server = await startServer({ folder, port: 0, log: 'warn', ...JSON.parse(options) })
console.log(server.url)
process.on('SIGTERM', async () => {
  await server.close()
  process.exit(0)
})
