// A process that makes a workbook at a path, if nobody is quicker, and writes who it was into it.
import { BookFile, BookFileFault } from '@mellow-abacus/files'

const [path, name] = process.argv.slice(2)
try {
  const file = BookFile.create(path)
  file.apply({ op: 'set-value', name: 'maker', value: name })
  file.close()
  process.stdout.write(`made ${name}\n`)
} catch (error) {
  process.stdout.write(error instanceof BookFileFault ? `${error.code}\n` : `error ${error.stack}\n`)
}
