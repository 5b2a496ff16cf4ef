import { hasPatterns } from '../functions/index.js'
import type { Program } from './program.js'
import { Distinct, type Task, textsOn } from './task.js'

/** Says whether texts in the rows of the examples can be of use. */
export type Useful = (texts: readonly string[]) => boolean

/** Longest places that are counted in single letters. */
const LONGEST_COUNT = 24
/** Most pieces of a text that are cut again. */
const MOST_CUT_AGAIN = 60

/** Pieces of texts; what they are cut from is found once for each column. */
export class TextPieces {
  readonly #task: Task
  readonly #bases: Map<Program, readonly Program[]> = new Map()

  constructor(task: Task) {
    this.#task = task
  }

  /**
   * Pieces of a text: words, parts between marks, first and last letters, what a pattern finds, parts of parts, each also in other
   * capitals and with marks replaced.
   *
   * @param isUseful - pieces that are not are left out; what is cut from them may yet be
   */
  of(source: Program, isUseful: Useful, marks: readonly string[]): Program[] {
    const whole = textsOn(source, this.#task.examples)
    if (whole === null) return []
    const bases = this.#bases.get(source) ?? basesOf(this.#task, source, whole)
    this.#bases.set(source, bases)
    return piecesOf(this.#task, source, whole, bases, isUseful, marks)
  }
}

function piecesOf(
  task: Task,
  source: Program,
  whole: readonly string[],
  bases: readonly Program[],
  isUseful: Useful,
  marks: readonly string[],
): Program[] {
  const found = new Distinct(task)
  const { writer, examples } = task
  const offer = (program: Program): void => {
    const texts = textsOn(program, examples)
    if (texts === null || texts.includes('') || !isUseful(texts)) return
    // Space around a piece belongs to what is put between pieces.
    found.add(texts.some((text) => text !== text.trim()) ? program.at(program.cost + 1) : program)
  }
  for (const base of bases) {
    offer(base)
    for (const variant of inOtherForms(task, base, marks)) offer(variant)
  }
  for (const cut of ['left', 'right'] as const)
    for (const base of bases.slice(0, MOST_CUT_AGAIN)) {
      const texts = textsOn(base, examples)
      if (texts === null) continue
      const longest = Math.min(LONGEST_COUNT, Math.max(...texts.map(({ length }) => length)) - 1)
      for (let count = 1; count <= longest; count++) {
        const cuts = texts.map((text) => (cut === 'left' ? text.slice(0, count) : text.slice(-count)))
        const isPlain = isUseful(cuts)
        if (!isPlain && !CASES.some((name) => isUseful(cuts.map(IN_CASE[name])))) continue
        const made = writer.call(cut, [base, writer.constant(count)], 0.8 + count * 0.02)
        offer(made)
        for (const name of CASES) offer(writer.call(name, [made]))
      }
    }
  const shortest = Math.min(...whole.map(({ length }) => length))
  for (let from = 2; from <= Math.min(shortest, LONGEST_COUNT); from++)
    for (let count = 1; count <= Math.min(12, shortest - from + 1); count++)
      if (isUseful(whole.map((text) => text.slice(from - 1, from - 1 + count))))
        offer(writer.call('substring', [source, writer.constant(from), writer.constant(count)], 1))
  return found.list()
}

const CASES = ['upper', 'lower', 'title_case'] as const
const IN_CASE: Readonly<Record<(typeof CASES)[number], (text: string) => string>> = {
  upper: (text) => text.toUpperCase(),
  lower: (text) => text.toLowerCase(),
  title_case: (text) => text.toLowerCase().replace(/(?<![\p{L}\p{N}])\p{L}/gu, (letter) => letter.toUpperCase()),
}

/** The text itself, tidied, and its parts, each different one once; parts of parts last. */
function basesOf(task: Task, source: Program, whole: readonly string[]): Program[] {
  const { writer, examples } = task
  const bases = new Distinct(task)
  const take = (program: Program): Program | null => {
    const texts = textsOn(program, examples)
    return texts?.every((text) => text !== '') && bases.add(program) ? program : null
  }
  take(source)
  const tidied = whole.some((text) => text !== text.trim() || /\s\s/.test(text))
    ? ['trim', 'single_spaces'].map((name) => take(writer.call(name, [source])))
    : []
  const tidy = tidied.filter((program) => program !== null)
  const parts = [...partsOf(task, source, whole)].map(take).filter((program) => program !== null)
  if (hasPatterns()) for (const pattern of PATTERNS) take(writer.call('capture', [source, writer.constant(pattern).at(0.8)], 1.1))
  if (hasPatterns())
    for (const pattern of LEFT_OVER)
      if (new Set(whole).size > 1 || whole.length === 1)
        take(writer.call('replace_pattern', [source, writer.constant(pattern).at(0.6), writer.constant('')], 0.8))
  for (const part of parts.slice(0, MOST_CUT_AGAIN)) {
    const texts = textsOn(part, examples)
    if (texts === null) continue
    for (const again of partsOf(task, part, texts)) take(again)
    if (texts.some((text) => text !== text.trim())) take(writer.call('trim', [part]))
  }
  for (const program of tidy) for (const part of partsOf(task, program, textsOn(program, examples) ?? [])) take(part)
  return bases.list()
}

/** What is looked for in texts that have no marks at the same places: numbers, letters. */
const PATTERNS = ['[0-9]+', '[0-9.]+', '-?[0-9]+[.,]?[0-9]*', '[A-Z]+', '[A-Za-z]+', '[a-z]+']
/** What is taken out of texts: all but digits, digits, all but letters and digits. */
const LEFT_OVER = ['[^0-9]', '[^0-9.]', '[0-9]', '[^A-Za-z]', '[^0-9A-Za-z]']

/** The words of a text, and its parts between marks, from the front and from the end. */
function* partsOf({ writer }: Task, source: Program, texts: readonly string[]): Generator<Program> {
  // What is counted from the front is said first, and small numbers before large ones.
  const numbered = (place: number): Program => writer.constant(place).at(place > 0 ? 0.3 + 0.1 * place : 0.5 - 0.1 * place)
  const words = Math.min(...texts.map((text) => text.trim().split(/\s+/).length))
  if (texts.some((text) => /\s/.test(text.trim())))
    for (const place of placesIn(words)) yield writer.call('word', [source, numbered(place)])
  for (const mark of marksIn(texts)) {
    const parts = Math.min(...texts.map((text) => text.split(mark).length))
    const separator = writer.constant(mark).at(0.5 + 0.12 * mark.length)
    for (const place of placesIn(parts)) yield writer.call('split_part', [source, separator, numbered(place)])
  }
}

/** Numbers of places of so many pieces, those from the end as well. */
function placesIn(count: number): number[] {
  const places: number[] = []
  for (let place = 1; place <= Math.min(count, 7); place++) places.push(place)
  for (let place = 1; place <= Math.min(count - 1, 3); place++) places.push(-place)
  return places
}

/** What separates parts in all of some texts: runs of marks and single ones, names before a mark, little words. */
function marksIn(texts: readonly string[]): string[] {
  const [first = ''] = texts
  const runs = first.match(/[^\p{L}\p{N}]+/gu) ?? []
  const found = new Set<string>()
  for (const run of runs) {
    found.add(run)
    for (const sign of run) found.add(sign)
  }
  for (const named of first.match(/\p{L}+\s?[=:]\s?/gu) ?? []) found.add(named)
  for (const little of first.match(/ \p{Ll}{1,4} /gu) ?? []) found.add(little)
  return [...found].filter((mark) => texts.every((text) => text.includes(mark))).slice(0, 14)
}

/** A piece in other capitals, with marks replaced or left out, and both. */
function* inOtherForms({ writer, examples }: Task, piece: Program, wanted: readonly string[]): Generator<Program> {
  for (const name of CASES) yield writer.call(name, [piece])
  const texts = textsOn(piece, examples) ?? []
  const single = marksIn(texts).filter((mark) => mark.length === 1)
  for (const mark of single)
    for (const instead of ['', ...wanted]) {
      if (instead === mark) continue
      const replaced = writer.call('replace', [piece, writer.constant(mark).at(0.5), writer.constant(instead).at(0.4)], 0.3)
      yield replaced
      for (const name of CASES) yield writer.call(name, [replaced])
    }
}
