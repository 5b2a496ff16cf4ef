import { readFileSync, writeFileSync } from 'node:fs'

let s = readFileSync('scripts/bench-sql.mjs', 'utf8')
s = s.replace(
  "await publish(original, database, { book: 'bench' })",
  "const pub = await publish(original, database, { book: 'bench' }); if (process.env.ONE === name) { console.log(pub.statements.filter(t => t.includes('view') && t.includes('\"' + table + '\" as')).join('\\n')) } else if (process.env.ONE) { for (const column of Object.keys(columns).reverse()) original.applyJson({ op: 'remove-column', table, column }); continue }",
)
writeFileSync('scripts/tmp-bench.mjs', s)
