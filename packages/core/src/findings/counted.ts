/** A number of things for a reader: `1 row`, `1,234 rows`. */
export function counted(count: number, noun: string): string {
  return `${count.toLocaleString('en')} ${noun}${count === 1 ? '' : 's'}`
}
