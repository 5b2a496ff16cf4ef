const LONGEST = 31

/** Names as sheets may have them: at most 31 signs, none of `[ ] : * ? / \`, no two alike but for case. */
export function sheetNames(names: readonly string[]): string[] {
  const taken = new Set<string>()
  return names.map((name) => {
    const plain = name.replace(/[[\]:*?/\\]/g, '_').replace(/^'|'$/g, '_') || 'table'
    let made = plain.slice(0, LONGEST)
    for (let number = 2; taken.has(made.toLowerCase()); number++) {
      const ending = ` ${number}`
      made = `${plain.slice(0, LONGEST - ending.length)}${ending}`
    }
    taken.add(made.toLowerCase())
    return made
  })
}
