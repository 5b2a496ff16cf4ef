import { type Finding, printName } from 'mellow-abacus'

/** The commands that lead on from something that is in use, as they are typed. */
export function waysOn(book: string, { code, fixes, table, column, parameters }: Finding): string[] {
  if (code === 'typed-values-lost') {
    const again = `mellow reread ${book} ${printName(table ?? '')}`
    return [`To keep those rows: ${again} --gone keep`, `To let them go: ${again} --gone drop`]
  }
  if (code === 'hand-edits-lost') {
    const address = `${printName(table ?? '')}.${printName(column ?? '')}`
    return [
      `To let them go: mellow resume ${book} ${address} --discard ${parameters.typed}`,
      `To keep all values: mellow detach ${book} ${address}`,
    ]
  }
  if (code !== 'column-in-use') return []
  return fixes.flatMap(({ title, operations = [] }) => {
    const command = commandOf(book, operations[0] as Readonly<Record<string, unknown>> | undefined)
    return command === null ? [] : [`${title}: ${command}`]
  })
}

function commandOf(book: string, operation: Readonly<Record<string, unknown>> | undefined): string | null {
  if (operation === undefined) return null
  const { op, table, column, name, dependants } = operation
  const address = `${printName(String(table))}.${printName(String(column ?? name))}`
  switch (op) {
    case 'change-column':
      return `mellow hide ${book} ${address}`
    case 'remove-column':
      return `mellow remove ${book} ${address} --${dependants === 'detach' ? 'detach' : 'with'}-dependants`
    case 'remove-link':
      return `mellow remove ${book} link:${address}`
    case 'remove-report':
      return `mellow remove ${book} report:${printName(String(name))}`
    case 'remove-chart':
      return `mellow remove ${book} chart:${printName(String(name))}`
    case 'detach-column':
      return `mellow detach ${book} ${address}`
    default:
      return null
  }
}
