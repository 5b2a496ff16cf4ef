import type { RefusedFormula } from '../statements/index.js'

/** Thrown where a model is not published, or what it keeps not refreshed; nothing was changed. */
export class PublishRefusal extends Error {
  /** The formulas that the engine has no form for, where that is why. */
  readonly formulas: readonly RefusedFormula[]

  constructor(message: string, formulas: readonly RefusedFormula[] = []) {
    super(message)
    this.formulas = formulas
  }
}
