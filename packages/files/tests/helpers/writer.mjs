// A process that opens a workbook to write, adds a row or two, and closes it, again and again until its time is up.
// It prints `ack <writer> <n>` for each step it was answered, and `held` or `error <message>` for one it was not.
import { BookFile, BookFileFault } from '@mellow-abacus/files'

const [path, writer, seconds] = process.argv.slice(2)
const until = Date.now() + Number(seconds) * 1000
for (let n = 1; Date.now() < until; ) {
  try {
    const file = BookFile.open(path, { writes: true })
    for (let steps = 1 + (n % 3); steps > 0; steps--) {
      file.apply({ op: 'insert-rows', table: 'takes', rows: [{ writer, n }] })
      process.stdout.write(`ack ${writer} ${n}\n`)
      n++
    }
    file.close()
  } catch (error) {
    const isHeld = error instanceof BookFileFault && error.code === 'in-use'
    process.stdout.write(isHeld ? 'held\n' : `error ${error.stack}\n`)
  }
}
