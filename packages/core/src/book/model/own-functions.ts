import { nearestName, refusal } from '../../findings/index.js'
import { foldName } from '../../values/index.js'
import type { FunctionModel } from './function-model.js'

/** Most functions that call each other, one inside the other: each call is written out with all that it calls. */
const DEEPEST = 50

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
    const callers = new Map<string, string[]>()
    for (const [folded, { calls }] of this.#byName)
      for (const { name } of calls) callers.set(name, [...(callers.get(name) ?? []), folded])
    const found = new Set(Array.from(names, foldName))
    // What is put into a set while it is gone through comes up too.
    for (const name of found) for (const caller of callers.get(name) ?? []) found.add(caller)
    return found
  }

  /** Functions that call each other in a way that cannot be written out, the outermost first; null where there are none. */
  fault(): { readonly code: 'function-cycle' | 'calls-too-deep'; readonly path: readonly FunctionModel[] } | null {
    const heights = new Map<FunctionModel, number>()
    type Fault = NonNullable<ReturnType<OwnFunctions['fault']>>
    const heightOf = (one: FunctionModel, outer: readonly FunctionModel[]): number | Fault => {
      const at = outer.indexOf(one)
      if (at >= 0) return { code: 'function-cycle', path: outer.slice(at) }
      let height = heights.get(one)
      if (outer.length + (height ?? 1) > DEEPEST) return { code: 'calls-too-deep', path: outer }
      if (height !== undefined) return height
      height = 1
      for (const { name } of one.calls) {
        const called = this.#byName.get(name)
        const inner = called === undefined ? 0 : heightOf(called, [...outer, one])
        if (typeof inner !== 'number') return inner
        height = Math.max(height, inner + 1)
      }
      heights.set(one, height)
      return height
    }
    for (const one of this.#byName.values()) {
      const found = heightOf(one, [])
      if (typeof found !== 'number') return found
    }
    return null
  }
}
