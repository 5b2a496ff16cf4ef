/** A number of things for a reader: `1 row`, `1,234 rows`. */
export function counted(count: number, noun: string): string {
  return `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`
}

/** The first of some rows by their numbers: `row 3`, `rows 3, 8 and 2 more`. */
export function namedRows(first: readonly number[], count: number): string {
  const more = count - first.length
  return `row${count === 1 ? '' : 's'} ${first.join(', ')}${more > 0 ? ` and ${more.toLocaleString('en')} more` : ''}`
}
