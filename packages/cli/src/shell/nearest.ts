/**
 * The name most like a word that is none; undefined where none is near. Said of verbs, so it is kept apart from the library,
 * which is loaded only by verbs that need it: by letters in common, two and two (Dice 1945).
 */
export function nearestName(word: string, names: readonly string[]): string | undefined {
  const pairsOf = (text: string): string[] => Array.from({ length: text.length + 1 }, (_, at) => ` ${text} `.slice(at, at + 2))
  const sought = pairsOf(word)
  const scored = names.map((name) => {
    const pairs = pairsOf(name)
    const isSwapped = [...name].sort().join('') === [...word].sort().join('')
    return {
      name,
      score: isSwapped ? 1 : (2 * pairs.filter((pair) => sought.includes(pair)).length) / (pairs.length + sought.length),
    }
  })
  const best = scored.reduce((most, one) => (one.score > most.score ? one : most), { name: '', score: 0 })
  return best.score >= 0.4 ? best.name : undefined
}
