/**
 * Names that are given when a statement is whole: numbered in the order in which they stand in it, so that a statement is the same
 * text whatever else a model holds.
 */
const OPEN = '\u{e000}'
const CLOSE = '\u{e001}'
const PLACEHOLDER = /\u{e000}(\w+?)(\d+)\u{e001}/gu

/** The names that placeholders become; nothing else is called so. */
const NUMBERED = /^[a-z]!\d+$/

/** A name that is given later: a letter says what kind of thing it is for. */
export function placeholder(kind: string, number: number): string {
  return `${OPEN}${kind}${number}${CLOSE}`
}

/** True for names that placeholders may become. */
export function isNumbered(name: string): boolean {
  return NUMBERED.test(name)
}

/** Gives all placeholders of a statement their names. */
export function withNames(statement: string): string {
  const names = new Map<string, string>()
  const counts = new Map<string, number>()
  return statement.replaceAll(PLACEHOLDER, (found, kind: string) => {
    const known = names.get(found)
    if (known !== undefined) return known
    const count = (counts.get(kind) ?? 0) + 1
    counts.set(kind, count)
    // What is joined has no name in quotes, so that it is a letter and a number.
    const name = kind === 'j' ? `j${count}` : `${kind}!${count}`
    names.set(found, name)
    return name
  })
}
