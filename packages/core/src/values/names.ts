/** Words that are always keywords, in any case; every other word is one only where its construct can stand. */
export const RESERVED_WORDS: readonly string[] = [
  'and',
  'or',
  'not',
  'between',
  'in',
  'is',
  'case',
  'when',
  'then',
  'else',
  'end',
  'if',
  'let',
  'true',
  'false',
  'blank',
  'per',
]

const reserved = new Set(RESERVED_WORDS)
const plainName = /^[\p{L}_][\p{L}\p{M}\p{Nd}_]*$/u
const plainAscii = /^[a-z0-9_]*$/

/**
 * The key under which a name is looked up: NFC, then Unicode simple case folding (C + S of CaseFolding.txt).
 * JavaScript has no folding call; lower(upper(c)) of one code point is the same equivalence wherever both are single
 * code points, except for dotless ı, which simple folding keeps apart from i. Shown for all code points in names.test.ts.
 */
export function foldName(name: string): string {
  if (plainAscii.test(name)) return name
  let folded = ''
  for (const character of name.normalize('NFC')) folded += foldCharacter(character)
  return folded
}

function foldCharacter(character: string): string {
  if (character === 'ı') return character
  const upper = character.toUpperCase()
  const single = isOneCodePoint(upper) ? upper : character
  const lower = single.toLowerCase()
  return isOneCodePoint(lower) ? lower : single
}

function isOneCodePoint(text: string): boolean {
  return text.length === 1 || (text.length === 2 && (text.codePointAt(0) ?? 0) > 0xffff)
}

/** True for words that need backticks to be a name. */
export function isReservedWord(word: string): boolean {
  return reserved.has(word.toLowerCase())
}

/** A name as it stands in a formula: plain where it can, otherwise in backticks with inner backticks doubled. */
export function printName(name: string): string {
  if (plainName.test(name) && !isReservedWord(name)) return name
  return `\`${name.replaceAll('`', '``')}\``
}

/**
 * Writes a text as a formula has it: in single quotes, with those inside doubled, so that no text is taken for more than a text.
 *
 * @example quoteText("Lime & heather") // "'Lime & heather'"
 * @example quoteText("it's") // "'it''s'"
 */
export function quoteText(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** Splits a list of names at commas; a name with a comma stands in backticks, an inner backtick doubled. */
export function splitNames(text: string): string[] {
  return [...text.matchAll(/\s*(?:`((?:[^`]|``)*)`|([^,]*))\s*(?:,|$)/g)]
    .map((match) => match[1]?.replaceAll('``', '`') ?? (match[2] as string).trim())
    .filter((name) => name !== '')
}
