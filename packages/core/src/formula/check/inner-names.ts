/** A name inside a call of an own function that nobody can write, since formulas have no such sign. */
export function nameInside(call: number, name: string): string {
  return `${call}\0${name}`
}

/** A name as its writer knows it. */
export function writtenName(name: string): string {
  return name.slice(name.indexOf('\0') + 1)
}
