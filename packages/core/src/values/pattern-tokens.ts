/** A piece of a pattern of Unicode TR35: a field (one letter repeated) or literal text. */
export interface PatternToken {
  readonly field: string | null
  readonly literal: string
}

/** Cuts a date pattern into fields and literals: letters are fields, quotes hold text, a doubled quote is one quote. */
export function datePatternTokens(pattern: string): PatternToken[] {
  const tokens: PatternToken[] = []
  for (const [token] of pattern.matchAll(/''|'(?:[^']|'')*'|([A-Za-z])\1*|[^A-Za-z']+|'/g)) {
    if (/^[A-Za-z]/.test(token)) tokens.push({ field: token, literal: '' })
    else tokens.push({ field: null, literal: unquoted(token) })
  }
  return tokens
}

/** The text that a quoted piece stands for. */
export function unquoted(token: string): string {
  if (token === "''") return "'"
  return token.length > 1 && token.startsWith("'") ? token.slice(1, -1).replaceAll("''", "'") : token
}
