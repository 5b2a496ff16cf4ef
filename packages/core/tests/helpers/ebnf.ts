/** A grammar in EBNF as a tree, with sentences made from it and a recogniser for lists of words. */
export type Part =
  | { kind: 'word'; text: string }
  | { kind: 'rule'; name: string }
  | { kind: 'special'; text: string }
  | { kind: 'all' | 'any'; parts: Part[] }
  | { kind: 'maybe' | 'repeat'; part: Part }

/** Reads the rules of a page: the first block marked `ebnf`. */
export function readGrammar(page: string): ReadonlyMap<string, Part> {
  const text = /```ebnf\n([\s\S]*?)```/.exec(page)?.[1] ?? ''
  const pieces = [...text.matchAll(/"([^"]*)"|\?([^?]*)\?|([A-Za-z]+)|[=|,;()[\]{}]/g)]
  let at = 0
  const here = (): string => pieces[at]?.[0] ?? ''
  const alternatives = (): Part => {
    const parts = [sequence()]
    while (here() === '|') {
      at++
      parts.push(sequence())
    }
    return parts.length === 1 ? (parts[0] as Part) : { kind: 'any', parts }
  }
  const sequence = (): Part => {
    const parts = [item()]
    while (here() === ',') {
      at++
      parts.push(item())
    }
    return parts.length === 1 ? (parts[0] as Part) : { kind: 'all', parts }
  }
  const item = (): Part => {
    const [whole = '', word, special, name] = pieces[at++] ?? []
    if (word !== undefined) return { kind: 'word', text: word }
    if (special !== undefined) return { kind: 'special', text: special.trim() }
    if (name !== undefined) return { kind: 'rule', name }
    const inner = alternatives()
    at++
    return whole === '[' ? { kind: 'maybe', part: inner } : whole === '{' ? { kind: 'repeat', part: inner } : inner
  }
  const rules = new Map<string, Part>()
  while (at < pieces.length) {
    const name = here()
    at += 2
    rules.set(name, alternatives())
    at++
  }
  return rules
}

/** A sentence of a rule; `random` gives numbers in [0, 1), and at the deepest level the shortest ways are taken. */
export function makeSentence(
  rules: ReadonlyMap<string, Part>,
  rule: string,
  random: () => number,
  leaf: (name: string) => string,
  deepest: number,
): string[] {
  const make = (part: Part, depth: number): string[] => {
    const tired = depth >= deepest
    switch (part.kind) {
      case 'word':
        return [part.text]
      case 'special':
        return ['(', ...make({ kind: 'rule', name: 'formula' }, depth + 1), ')']
      case 'rule': {
        const inner = rules.get(part.name)
        if (inner === undefined) return [leaf(part.name)]
        // The formula behind a step's in reaches as far as it can, so beside an operator it needs parentheses.
        if (part.name === 'let') return ['(', ...make(inner, depth + 1), ')']
        return tired && part.name === 'primary' ? [leaf('NAME')] : make(inner, depth + 1)
      }
      case 'all':
        return part.parts.flatMap((one) => make(one, depth))
      case 'any':
        return make(tired ? (part.parts.at(-1) as Part) : (part.parts[Math.floor(random() * part.parts.length)] as Part), depth)
      case 'maybe':
        return !tired && random() < 0.3 ? make(part.part, depth) : []
      case 'repeat': {
        const made: string[] = []
        while (!tired && random() < 0.25) made.push(...make(part.part, depth))
        return made
      }
    }
  }
  return make({ kind: 'rule', name: rule }, 0)
}

/** True when a list of pieces is a sentence of a rule; `fits` says whether a piece is of a kind, or is a word. */
export function recognises(
  rules: ReadonlyMap<string, Part>,
  rule: string,
  length: number,
  fits: (at: number, kind: string, isWord: boolean) => boolean,
): boolean {
  const known = new Map<string, ReadonlySet<number>>()
  const ends = (part: Part, from: number): ReadonlySet<number> => {
    switch (part.kind) {
      case 'word':
        return from < length && fits(from, part.text, true) ? new Set([from + 1]) : new Set()
      case 'special':
        return ends({ kind: 'rule', name: 'formula' }, from)
      case 'rule': {
        const inner = rules.get(part.name)
        if (inner === undefined) return from < length && fits(from, part.name, false) ? new Set([from + 1]) : new Set()
        const key = `${part.name} ${from}`
        const before = known.get(key)
        if (before !== undefined) return before
        const found = ends(inner, from)
        known.set(key, found)
        return found
      }
      case 'all': {
        let starts: ReadonlySet<number> = new Set([from])
        for (const one of part.parts) starts = new Set(Array.from(starts).flatMap((start) => Array.from(ends(one, start))))
        return starts
      }
      case 'any':
        return new Set(part.parts.flatMap((one) => [...ends(one, from)]))
      case 'maybe':
        return new Set([from, ...ends(part.part, from)])
      case 'repeat': {
        const all = new Set([from])
        for (const start of all) for (const end of ends(part.part, start)) all.add(end)
        return all
      }
    }
  }
  return ends({ kind: 'rule', name: rule }, 0).has(length)
}
