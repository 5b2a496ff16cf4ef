/** Splits a list of names at commas; a name with a comma stands in backticks, an inner backtick doubled. */
export function splitNames(text: string): string[] {
  return [...text.matchAll(/\s*(?:`((?:[^`]|``)*)`|([^,]*))\s*(?:,|$)/g)]
    .map((match) => match[1]?.replaceAll('``', '`') ?? (match[2] as string).trim())
    .filter((name) => name !== '')
}
