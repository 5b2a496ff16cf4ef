import type { FunctionRecord } from './define.js'
import { guideOf } from './guides.js'
import { FUNCTIONS } from './list.js'
import { PURPOSES, WAYS, type WayOfPhrase } from './purposes.js'
import { likenessOf, stemOf, stemsOf } from './stems.js'

/**
 * Functions that answer to words, best first: by name, by family, or by what they are for ("split a name"). Words are compared
 * by their stems; little words do not count. A phrase that a function is for counts by the share of words that it has in common
 * with what is sought.
 */
export function searchFunctions(words: string): FunctionRecord[] {
  const sought = stemsOf(words)
  const name = words.trim().toLowerCase()
  if (sought.length === 0 && !FUNCTIONS.some((record) => record.name === name)) return []
  return FUNCTIONS.map((record, place) => ({ record, place, score: scoreOf(record, sought, name) }))
    .filter(({ score }) => score >= LEAST)
    .sort((a, b) => b.score - a.score || a.place - b.place)
    .map(({ record }) => record)
}

/** The word of the language that a phrase asks for, where a function alone is not the answer; null for none. */
export function wayOfPhrase(words: string): WayOfPhrase | null {
  const sought = stemsOf(words)
  let best: { way: WayOfPhrase; score: number } | null = null
  for (const { phrases, ...way } of WAYS)
    for (const phrase of phrases) {
      const wanted = stemsOf(phrase)
      const isWithin = wanted.length > 0 && wanted.every((stem) => sought.includes(stem))
      if (isWithin && wanted.length > (best?.score ?? 0)) best = { way, score: wanted.length }
    }
  return best?.way ?? null
}

/** The score from which a function answers. */
const LEAST = 2

function scoreOf(record: FunctionRecord, sought: readonly string[], name: string): number {
  if (record.name === name) return 100
  const phrases = (PURPOSES[record.name] ?? []).map(stemsOf)
  const likeness = phrases.reduce((most, phrase) => Math.max(most, likenessOf(phrase, sought)), 0)
  // "degrees to radians" and "radians to degrees" have the same words.
  const isSaidSo = phrases.some((phrase) => phrase.join(' ') === sought.join(' '))
  const ofName = stemsOf(record.name.replaceAll('_', ' '))
  const named = sought.filter((stem) => ofName.includes(stem)).length
  const ofDoc = new Set(stemsOf(guideOf(record).doc))
  const told = sought.filter((stem) => ofDoc.has(stem)).length
  const isOfFamily = sought.length === 1 && sought[0] === stemOf(record.family)
  const share = named / Math.max(sought.length, ofName.length)
  return likeness * 10 + (isSaidSo ? 5 : 0) + share * 8 + (told / sought.length) * 3 + (isOfFamily ? 6 : 0)
}
