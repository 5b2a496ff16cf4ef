// Holds what is published and what a page loads to a budget: the tarball of core, and pages that make a workbook.
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { gzipSync } from 'node:zlib'
import { build } from 'vite'

const root = fileURLToPath(new URL('../', import.meta.url))
const budgets = []

const [{ unpackedSize }] = JSON.parse(
  execFileSync('npm', ['pack', '--dry-run', '--json'], {
    cwd: `${root}packages/core`,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  }),
)
budgets.push(['tarball of core, unpacked', unpackedSize, 1_830_000])

/** How many bytes, gzipped, a page loads that makes a workbook of a class; what patterns need is a piece of its own, loaded later. */
async function pageWith(name) {
  const page = 'virtual:page'
  const source = `import { ${name} } from 'mellow-abacus'\nglobalThis.book = new ${name}()`
  const made = await build({
    root,
    configFile: false,
    logLevel: 'silent',
    build: { write: false, rolldownOptions: { input: page } },
    plugins: [{ name: 'page', resolveId: (id) => (id === page ? id : null), load: (id) => (id === page ? source : null) }],
  })
  const [entry] = made.output.filter((one) => one.type === 'chunk' && one.isEntry)
  return gzipSync(entry.code).length
}
budgets.push(['a page that calculates (SlimWorkbook), gzip', await pageWith('SlimWorkbook'), 147_000])
budgets.push(['a page that also explains (Workbook), gzip', await pageWith('Workbook'), 216_000])

for (const [name, size, most] of budgets) console.log(`${name}: ${(size / 1000).toFixed(0)} kB of ${most / 1000}`)
if (budgets.some(([, size, most]) => size > most)) process.exit(1)
execFileSync('npx', ['size-limit'], { cwd: root, stdio: 'inherit' })
