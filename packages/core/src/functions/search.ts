import type { FunctionRecord } from './define.js'
import { guideOf } from './guides.js'
import { FUNCTIONS } from './list.js'
import { PURPOSES, WAYS, type WayOfPhrase } from './purposes.js'

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

/** Words that say nothing of what is sought. */
const LITTLE = new Set('a an the of to in is it into from for and or with as be how do i my that this than on at'.split(' '))

function stemsOf(words: string): string[] {
  const found = words.toLowerCase().match(/[\p{L}\p{Nd}]+/gu) ?? []
  return [...new Set(found.filter((word) => word.length > 1 && !LITTLE.has(word)).map(stemOf))]
}

/** A word without the endings of its forms: a short cut of the algorithm of Porter (1980), enough to bring forms together. */
function stemOf(word: string): string {
  if (word.length <= 3) return word
  const bare = word.replace(/'s$/, '').replace(/(?<=[^s])s$/, '')
  const stem = bare
    .replace(/(?:ization|isation|izing|ising|ize|ise)$/, 'is')
    .replace(/(?<=\p{L}{3})(?:ing|ed|er|ion|e|y|ie)$/u, '')
  return stem.replace(/(\p{L})\1$/u, '$1')
}

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

/** How much two sets of words have in common, from 0 to 1 (Dice 1945). */
function likenessOf(one: readonly string[], other: readonly string[]): number {
  const common = one.filter((stem) => other.includes(stem)).length
  return one.length + other.length === 0 ? 0 : (2 * common) / (one.length + other.length)
}
