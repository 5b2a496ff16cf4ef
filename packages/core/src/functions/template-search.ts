import { likenessOf, stemsOf } from './stems.js'
import { type FormulaTemplate, TEMPLATES } from './templates.js'

/** A template, and how well it answers to words, from 0 to 1. */
export interface AnsweringTemplate {
  readonly template: FormulaTemplate
  readonly likeness: number
  /** The stems of the phrase that is most like the words. */
  readonly phrase: readonly string[]
}

/** The likeness from which a template answers. */
const LEAST = 0.45
/** What likeness counts that leaves the words of columns out: they may have been meant. */
const OF_OTHERS = 0.75

/**
 * Templates that answer to words, best first.
 *
 * @param names - names of columns at hand: their words may be those of a column, and may be those of a purpose
 */
export function templatesFor(words: string, names: readonly string[]): AnsweringTemplate[] {
  const sought = stemsOf(words)
  const ofNames = new Set(names.flatMap((name) => stemsOf(name.replaceAll('_', ' '))))
  const others = sought.filter((stem) => !ofNames.has(stem))
  return TEMPLATES.map((template, place) => {
    const [best] = template.phrases
      .split('; ')
      .map(stemsOf)
      .map((phrase) => ({ phrase, likeness: Math.max(likenessOf(phrase, sought), OF_OTHERS * likenessOf(phrase, others)) }))
      .sort((a, b) => b.likeness - a.likeness)
    return { template, place, phrase: best?.phrase ?? [], likeness: best?.likeness ?? 0 }
  })
    .filter(({ likeness }) => likeness >= LEAST)
    .sort((a, b) => b.likeness - a.likeness || a.place - b.place)
    .map(({ template, phrase, likeness }) => ({ template, phrase, likeness }))
}
