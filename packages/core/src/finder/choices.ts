import { beyond, bordersBetween, conditionsFor, type Grounds } from './conditions.js'
import type { Program } from './program.js'
import type { Task } from './task.js'
import { isWanted, type Reading } from './wanted.js'

/** Most different values that are told apart by bands. */
const MOST_BANDS = 5
/** Most borders that are tried between two bands. */
const MOST_BORDERS = 3
/** Programs that are tried on one side of a condition. */
const MOST_SIDES = 40
/** A value of which there is one example is more likely made than chosen: each of its letters is taken over. */
const COST_OF_SINGLES = 1.6
const MOST_SINGLES = 3

/**
 * Choices that give what is wanted: one of a few values by bands of a number or by what texts have in them, or one program where
 * a condition is true and another where it is not.
 *
 * @param simple - small programs of the type that is wanted
 */
export function choicesOf(task: Task, reading: Reading, grounds: Grounds, simple: readonly Program[]): Program[] {
  const groups = groupsOf(reading)
  const found: Program[] = []
  if (groups.length >= 2 && groups.length <= MOST_BANDS && !isLearntByHeart(task, groups)) {
    const singles = groups.every(({ rows }) => rows.length === 1) ? COST_OF_SINGLES * (reading.type === 'number' ? 2 : 1) : 0
    found.push(...bandsOf(task, groups, grounds, reading.type).map((program) => program.at(program.cost + singles)))
    if (groups.length === 2) {
      const [one, other] = groups as [Group, Group]
      const sides = reading.values.map((_, row) => (one.rows.includes(row) ? true : other.rows.includes(row) ? false : null))
      const [first, second] = [literal(task, one, reading.type), literal(task, other, reading.type)]
      const add = (when: Program, then: Program, otherwise: Program): void => {
        const made = task.writer.choose([{ when, value: then }], otherwise)
        found.push(made.at(made.cost + singles))
      }
      for (const when of conditionsFor(task, sides, grounds)) add(when, first, second)
      for (const when of conditionsFor(
        task,
        sides.map((side) => (side === null ? null : !side)),
        grounds,
      ))
        add(when, second, first)
    }
  }
  found.push(...betweenPrograms(task, reading, grounds, simple, groups))
  return found
}

/** Conditions that are what is wanted themselves. */
export function truthsOf(task: Task, reading: Reading, grounds: Grounds): Program[] {
  return conditionsFor(task, reading.values as readonly (boolean | null)[], grounds)
}

/** A wanted value with the rows of its examples. */
interface Group {
  readonly value: number | string | boolean
  readonly rows: readonly number[]
}

function groupsOf({ values }: Reading): Group[] {
  const groups = new Map<number | string | boolean, number[]>()
  for (const [row, value] of values.entries()) if (value !== null) groups.set(value, [...(groups.get(value) ?? []), row])
  return [...groups].map(([value, rows]) => ({ value, rows }))
}

/**
 * True where a choice between the wanted values would only repeat the examples: there is one example of each, and they are numbers,
 * or one has words in it that stand in the same row.
 */
function isLearntByHeart(task: Task, groups: readonly Group[]): boolean {
  if (groups.some(({ rows }) => rows.length > 1)) return false
  if (groups.length > MOST_SINGLES) return true
  return groups.some(({ value, rows }) => {
    if (typeof value === 'number') return value !== 0 && value !== 1
    const words =
      String(value)
        .toLowerCase()
        .match(/[\p{L}\p{N}]{2,}/gu) ?? []
    return words.some((word) => rows.some((row) => textsInRow(task, row).some((text) => text.includes(word))))
  })
}

function textsInRow({ sources, examples }: Task, row: number): string[] {
  return sources.flatMap(({ program }) => {
    const { status, values } = program.on(examples)
    return status[row] === 0 ? [String(values[row]).toLowerCase()] : []
  })
}

function literal(task: Task, { value, rows }: Group, type: Reading['type']): Program {
  const constant = task.writer.constant(value, type)
  return constant.at(typeof value === 'string' ? 0.5 + (rows.length === 1 ? 0.2 : 0.06) * value.length : constant.cost)
}

/** Values by bands of a number, three and more; two are a condition. */
function bandsOf(task: Task, groups: readonly Group[], { numbers }: Grounds, type: Reading['type']): Program[] {
  if (groups.length < 3) return []
  const found: Program[] = []
  for (const number of numbers) {
    const { values } = number.on(task.examples)
    const ordered = [...groups].sort((a, b) => Number(values[a.rows[0] as number]) - Number(values[b.rows[0] as number]))
    const borders = bordersBetween(
      task,
      number,
      ordered.map(({ rows }) => rows),
    )
    if (borders === null) continue
    const literals = ordered.map((group) => literal(task, group, type))
    for (const picked of combinations(borders.map((some) => some.slice(0, MOST_BORDERS)))) {
      const branches = picked.map((border, at) => ({ when: beyond(task, number, border, false), value: literals[at] as Program }))
      found.push(task.writer.choose(branches, literals.at(-1) as Program))
    }
  }
  return found
}

/** Every way to take one of each. */
function combinations<Item>(lists: readonly (readonly Item[])[]): Item[][] {
  return lists.reduce<Item[][]>((ways, list) => ways.flatMap((way) => list.map((item) => [...way, item])), [[]])
}

/** Two programs, each for some of the examples, or a program and a value. */
function betweenPrograms(
  task: Task,
  reading: Reading,
  grounds: Grounds,
  simple: readonly Program[],
  groups: readonly Group[],
): Program[] {
  if (reading.values.length < 2) return []
  // A value that is wanted once may be an exception, and may be a mistake.
  const repeated = groups.filter(({ rows }) => rows.length > 1)
  const fitting = [...simple, ...repeated.map((group) => literal(task, group, reading.type))]
    .map((program) => ({ program, fits: fitsOf(task, reading, program) }))
    .filter(({ fits }) => fits.includes(true) && fits.includes(false))
    .slice(0, MOST_SIDES)
  const found: Program[] = []
  for (const [at, one] of fitting.entries())
    for (const other of fitting.slice(at + 1)) {
      const isCovered = one.fits.every((fits, row) => fits || other.fits[row])
      if (!isCovered || (isLiteral(one.program) && isLiteral(other.program))) continue
      const sides = one.fits.map((fits, row) => (fits === other.fits[row] ? null : fits))
      for (const when of conditionsFor(task, sides, grounds).slice(0, 12)) {
        const made = task.writer.choose([{ when, value: one.program }], other.program)
        found.push(made.at(made.cost + COST_OF_SINGLES))
      }
    }
  return found
}

function isLiteral({ text }: Program): boolean {
  return /^['\d-]/.test(text)
}

function fitsOf(task: Task, reading: Reading, program: Program): boolean[] {
  const { kind, values, status } = program.on(task.examples)
  return reading.values.map((_, row) => {
    if (status[row] !== 0) return status[row] === 1 && isWanted(reading, row, null)
    const value = values[row] as number | string
    return isWanted(reading, row, kind === 'boolean' ? value === 1 : value)
  })
}
