/** Words that say nothing of what is sought. */
const LITTLE = new Set('a an the of to in is it into from for and or with as be how do i my that this than on at'.split(' '))

/** The stems of the words of a text that say something, each once. */
export function stemsOf(words: string): string[] {
  const found = words.toLowerCase().match(/[\p{L}\p{Nd}]+/gu) ?? []
  return [...new Set(found.filter((word) => word.length > 1 && !LITTLE.has(word)).map(stemOf))]
}

/** A word without the endings of its forms: a short cut of the algorithm of Porter (1980), enough to bring forms together. */
export function stemOf(word: string): string {
  if (word.length <= 3) return word
  const bare = word.replace(/'s$/, '').replace(/(?<=[^s])s$/, '')
  const stem = bare
    .replace(/(?:ization|isation|izing|ising|ize|ise)$/, 'is')
    .replace(/(?<=\p{L}{3})(?:ing|ed|er|ion|e|y|ie)$/u, '')
  return stem.replace(/(\p{L})\1$/u, '$1')
}

/** How much two sets of words have in common, from 0 to 1 (Dice 1945). */
export function likenessOf(one: readonly string[], other: readonly string[]): number {
  const common = one.filter((stem) => other.includes(stem)).length
  return one.length + other.length === 0 ? 0 : (2 * common) / (one.length + other.length)
}
