/** A word as it is typed in a shell: in single quotes where it needs them. */
export function shellWord(word: string): string {
  return /^[\w=:.,/@%+-]+$/.test(word) ? word : `'${word.replaceAll("'", "'\\''")}'`
}
