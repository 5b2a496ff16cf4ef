// A process that holds a workbook until it is told on standard input to let go.
import { BookFile } from '@mellow-abacus/files'

const [path, name] = process.argv.slice(2)
const file = BookFile.open(path, { writes: true, waitMs: 30_000 })
file.apply({ op: 'insert-rows', table: 'takes', rows: [{ writer: name, n: file.book.revision }] })
process.stdout.write('holds\n')
process.stdin.once('data', () => {
  file.close()
  process.exit(0)
})
