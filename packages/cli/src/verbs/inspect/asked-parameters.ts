import { createInterface } from 'node:readline/promises'
import { type GroupedView, isSameName, printName } from 'mellow-abacus'
import { assignment } from '../../books/index.js'
import { CommandRefusal, type Io } from '../../shell/index.js'

/**
 * The parameters of a report: those given, and on a terminal those asked for.
 *
 * @param command - what was typed, to be typed again with a value
 */
export async function parametersOf(
  { parameters = [] }: GroupedView,
  given: readonly string[],
  command: string,
  io: Io,
): Promise<Record<string, string>> {
  const values = Object.fromEntries(given.map(assignment).map(({ name, value }) => [name, value]))
  const isGiven = (name: string): boolean => Object.keys(values).some((one) => isSameName(one, name))
  const missing = parameters.filter(({ name, value }) => value === undefined && !isGiven(name))
  const [first] = missing
  if (first === undefined) return values
  if (!io.isTerminal || !io.showsProgress) {
    throw new CommandRefusal(`the report asks for ${first.name}, a ${first.type}: ${command} --with ${printName(first.name)}=…`)
  }
  const lines = createInterface({ input: process.stdin, output: process.stderr })
  try {
    for (const { name, type } of missing) values[name] = (await lines.question(`${name} (${type}): `)).trim()
  } finally {
    lines.close()
  }
  return values
}
