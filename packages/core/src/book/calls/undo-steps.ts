import type { Step } from './call-options.js'

/** The steps that can be taken back, and those taken back that can be done again; of each the next one is last. */
export class UndoSteps {
  readonly #limit: number
  readonly #undo: Step[] = []
  #redo: Step[] = []

  /** @param limit - how many steps can be taken back; the oldest are forgotten */
  constructor(limit: number) {
    this.#limit = limit
  }

  /** All steps. */
  get all(): { readonly undo: readonly Step[]; readonly redo: readonly Step[] } {
    return { undo: this.#undo, redo: this.#redo }
  }

  /** Takes over the steps of a stored workbook, however many. */
  restore(undo: readonly Step[], redo: readonly Step[]): void {
    for (const step of undo) this.#undo.push(step)
    for (const step of redo) this.#redo.push(step)
  }

  /** Notes what takes a new call back; what its author has taken back can no longer be done again. */
  add(step: Step): void {
    this.#redo = overtaken(this.#redo, step.author)
    this.#push(this.#undo, step)
  }

  /** Notes that a step was taken, and what takes that back in turn. */
  turn(kind: 'undo' | 'redo', taken: Step, back: Step): void {
    const [from, to] = kind === 'undo' ? [this.#undo, this.#redo] : [this.#redo, this.#undo]
    from.splice(from.lastIndexOf(taken), 1)
    this.#push(to, back)
  }

  #push(steps: Step[], step: Step): void {
    steps.push(step)
    if (steps.length > this.#limit) steps.shift()
  }
}

/** What can still be done again after someone has applied something: nothing of their own, and of others what they took back. */
function overtaken(redo: readonly Step[], author: string | null): Step[] {
  return redo.filter((step) => step.author !== author).map((step) => ({ ...step, isOvertaken: true }))
}
