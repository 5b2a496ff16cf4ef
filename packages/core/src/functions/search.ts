import type { FunctionRecord } from './define.js'
import { FUNCTIONS } from './list.js'

/**
 * Functions that answer to words, best first: by name, by family, or by what they are for ("split a name").
 * Every word must be found in name, family, doc or purposes; a match in the name counts most.
 */
export function searchFunctions(words: string): FunctionRecord[] {
  const sought = words
    .toLowerCase()
    .split(/[^\p{L}\p{Nd}_]+/u)
    .filter((word) => word.length > 1)
  if (sought.length === 0) return []
  return FUNCTIONS.map((record) => ({ record, score: scoreOf(record, sought) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ record }) => record)
}

function scoreOf(record: FunctionRecord, sought: readonly string[]): number {
  const purposes = (record.purposes ?? []).join(' ').toLowerCase()
  const doc = record.doc.toLowerCase()
  let score = 0
  for (const word of sought) {
    if (record.name === word) score += 8
    else if (record.family === word) score += 6
    else if (record.name.includes(word)) score += 4
    else if (purposes.includes(word)) score += 3
    else if (doc.includes(word)) score += 1
    else return 0
  }
  return score
}
