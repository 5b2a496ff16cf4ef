import { createInterface } from 'node:readline/promises'
import { type GroupedView, isSameName, printName } from 'mellow-abacus'
import { assignment } from '../../books/index.js'
import { CommandRefusal, type Io } from '../../shell/index.js'

/**
 * The parameters of a report: those given, and on a terminal those asked for.
 *
 * @param given - as they were typed, `season=2025`
 */
export async function parametersOf(
  { parameters = [] }: GroupedView,
  given: readonly string[],
  { report, command }: { readonly report: string; readonly command: string },
  io: Io,
): Promise<Record<string, string>> {
  const values = Object.fromEntries(given.map(assignment).map(({ name, value }) => [name, value]))
  const isGiven = (name: string): boolean => Object.keys(values).some((one) => isSameName(one, name))
  const missing = parameters.filter(({ name, value }) => value === undefined && !isGiven(name))
  const [first] = missing
  if (first === undefined) return values
  if (!io.isTerminal || !io.showsProgress) {
    const again = `${command} --with ${printName(first.name)}=…`
    throw new CommandRefusal(`the report ${printName(report)} asks for ${first.name}, a ${first.type}: ${again}`)
  }
  const lines = createInterface({ input: process.stdin, output: process.stderr })
  try {
    for (const { name, type } of missing) values[name] = (await lines.question(`${name} (${type}): `)).trim()
  } finally {
    lines.close()
  }
  return values
}
