import { nearestName, refusal } from '../../findings/index.js'
import { foldName } from '../../values/index.js'
import type { FunctionModel } from './function-model.js'

/** The functions that are defined in a workbook, in their order. */
export class OwnFunctions {
  readonly #byName: Map<string, FunctionModel> = new Map()

  /** All of them, by their folded names. */
  get all(): Map<string, FunctionModel> {
    return this.#byName
  }

  /** The function of this name, in any case. */
  find(name: string): FunctionModel | undefined {
    return this.#byName.get(foldName(name))
  }

  /** The function of this name, or a refusal that suggests the nearest. */
  function(name: string): FunctionModel {
    const found = this.find(name)
    if (found !== undefined) return found
    const near = nearestName(
      name,
      Array.from(this.#byName.values(), (one) => one.name),
    )
    throw refusal('unknown-function', { name, hint: near === undefined ? '' : ` Nearest name: ${near}.` })
  }

  /** Has all that was found out about them found out anew. */
  forget(): void {
    for (const one of this.#byName.values()) one.forget()
  }

  /** Functions that call one of some, themselves or through others, and those. */
  callersOf(names: Iterable<string>): Set<string> {
    const found = new Set(Array.from(names, foldName))
    for (let size = -1; size < found.size; ) {
      size = found.size
      for (const [folded, one] of this.#byName) if (one.calls.some(({ name }) => found.has(name))) found.add(folded)
    }
    return found
  }

  /** Functions that call each other round and round, each once, where there are any. */
  ring(): FunctionModel[] | null {
    const done = new Set<string>()
    const visit = (one: FunctionModel, path: readonly FunctionModel[]): FunctionModel[] | null => {
      const at = path.indexOf(one)
      if (at >= 0) return path.slice(at)
      if (done.has(foldName(one.name))) return null
      for (const { name } of one.calls) {
        const called = this.#byName.get(name)
        const ring = called === undefined ? null : visit(called, [...path, one])
        if (ring !== null) return ring
      }
      done.add(foldName(one.name))
      return null
    }
    for (const one of this.#byName.values()) {
      const ring = visit(one, [])
      if (ring !== null) return ring
    }
    return null
  }
}
