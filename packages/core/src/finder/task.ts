import type { Cell, Vector } from '../columns/index.js'
import { Status } from '../values/index.js'
import type { Program, Sheet } from './program.js'
import type { Writer } from './writer.js'

/** A column that formulas may be made of: one of the table, or one that a link of it leads to. */
export interface Source {
  readonly program: Program
  /** True for a column of the table itself, whose neighbours and groups can be asked for. */
  readonly isOwn: boolean
  /** Its cells in all rows, in row order; gathered when first asked for. */
  readonly everyCell: () => readonly Cell[]
}

/** What is searched with: the columns, the rows of the examples, and other rows that tell programs apart. */
export interface Task {
  readonly writer: Writer
  readonly sources: readonly Source[]
  /** The rows of the examples. */
  readonly examples: Sheet
  /** Other rows, spread over the table. */
  readonly others: Sheet
  /** Where the rows of the examples stand, from 0. */
  readonly places: readonly number[]
  /** Where the other rows stand, from 0. */
  readonly otherPlaces: readonly number[]
  readonly rowCount: number
}

/** The texts of a program in the rows of the examples; null where one has none. */
export function textsOn(program: Program, sheet: Sheet): string[] | null {
  const vector = program.on(sheet)
  if (vector.kind !== 'text') return null
  const texts: string[] = []
  for (let row = 0; row < sheet.count; row++) {
    if (vector.status[row] !== Status.value) return null
    texts.push(vector.values[row] as string)
  }
  return texts
}

/** The numbers of a program on the rows of a sheet, NaN for blanks and Infinity for errors. */
export function numbersOn(program: Program, sheet: Sheet): Float64Array {
  const vector = program.on(sheet)
  const numbers = new Float64Array(sheet.count)
  for (let row = 0; row < sheet.count; row++) {
    const status = vector.status[row] as number
    numbers[row] =
      status === Status.value && vector.kind !== 'text'
        ? (vector.values[row] as number)
        : status === Status.blank
          ? Number.NaN
          : Number.POSITIVE_INFINITY
  }
  return numbers
}

/** What a program gives on both sheets, in a text that is the same for programs that give the same. */
function signatureOf(program: Program, { examples, others }: Task): string {
  const kind = program.type === 'integer' ? 'number' : program.type
  return `${kind}${partOf(program.on(examples))}${partOf(program.on(others))}`
}

function partOf(vector: Vector): string {
  let part = ''
  for (let row = 0; row < vector.status.length; row++) {
    const status = vector.status[row] as number
    part += status === Status.value ? `|${vector.values[row]}` : `~${status}`
  }
  return part
}

/**
 * Programs of which those that give the same on all rows looked at are kept once, the smallest of them: observational
 * equivalence (Albarghouthi, Gulwani and Kincaid, "Recursive Program Synthesis", CAV 2013).
 */
export class Distinct {
  readonly #task: Task
  readonly #kept: Map<string, Program> = new Map()

  constructor(task: Task) {
    this.#task = task
  }

  /** Takes a program in, unless a smaller one gives the same. */
  add(program: Program): boolean {
    const signature = signatureOf(program, this.#task)
    const known = this.#kept.get(signature)
    if (known !== undefined && known.cost <= program.cost) return false
    this.#kept.set(signature, program)
    return known === undefined
  }

  /** Those kept, the smallest first. */
  list(): Program[] {
    return [...this.#kept.values()].sort((a, b) => a.cost - b.cost || (a.text < b.text ? -1 : 1))
  }
}
