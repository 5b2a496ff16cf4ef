// What a client does at a server behind TLS: follows, edits, puts rows and files in, asks under conditions. It says what came of it
// as JSON. node through-tls.mjs <address of a workbook> <token>, with the certificate in NODE_EXTRA_CA_CERTS
import { bookFileAt, connect, putBookFile } from '../../../session/dist/index.js'

const [url, token] = process.argv.slice(2)
const authorization = `Bearer ${token}`
const told = {}

const session = await connect(url, { token })
const heard = []
session.on((event) => heard.push(event.revision))
const window = await session.watch({ table: 'hives', order: 'honey desc', columns: ['code', 'honey'], to: 3 })
const editor = await connect(url, { token })
const first = (await editor.facts()).revision
for (let step = 1; step <= 20; step++) {
  await editor.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'honey', value: 100 + step }] })
  while (heard.at(-1) !== first + step) await new Promise((resolve) => setTimeout(resolve, 2))
}
told.feed = { revisions: heard.map((revision) => revision - first), top: window.current.rows[0].cells.honey }

const row = `${url}/tables/hives/rows/1`
const got = await fetch(row, { headers: { authorization } })
const etag = got.headers.get('etag')
const write = (condition, honey) =>
  fetch(row, {
    method: 'PATCH',
    headers: { authorization, 'content-type': 'application/json', 'if-match': condition },
    body: JSON.stringify({ honey }),
  })
told.unchanged = (await fetch(row, { headers: { authorization, 'if-none-match': etag } })).status
told.written = (await write(etag, 7)).status
told.overtaken = (await write(etag, 8)).status

let csv = 'code,honey\n'
for (let number = 0; number < 400_000; number++) csv += `H-${String(number).padStart(20, '0')},${number % 50}\n`
told.csvBytes = csv.length
const put = await fetch(`${url}/tables/hives/rows`, {
  method: 'POST',
  headers: { authorization, 'content-type': 'text/csv', prefer: 'return=minimal' },
  body: csv,
})
told.put = put.status
told.rows = (await session.query({ table: 'hives', limit: 1 })).matched

const bytes = new Uint8Array(await new Response(await bookFileAt(url, { token })).arrayBuffer())
told.fileBytes = bytes.length
await putBookFile(`${url}-copy`, bytes, { token })
const copy = await connect(`${url}-copy`, { token })
told.copied = (await copy.query({ table: 'hives', limit: 1 })).matched
for (const one of [session, editor, copy]) await one.close()
console.log(JSON.stringify(told))
process.exit(0)
