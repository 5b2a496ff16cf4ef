import { foldName } from '../../values/index.js'

/** Something with a name that stands in an order among others of its kind. */
interface Named {
  readonly name: string
}

/** Puts something in by its folded name: where one of its name is, before another, or at the end. */
export function placeNamed<Of extends Named>(all: Map<string, Of>, one: Of, before: string | undefined): void {
  const entries = [...all]
  const at = before === undefined ? -1 : entries.findIndex(([name]) => name === foldName(before))
  all.set(foldName(one.name), one)
  if (at < 0) return
  for (const [name, other] of entries.slice(at)) {
    all.delete(name)
    all.set(name, other)
  }
}

/** The name of what stands after something; undefined at the end. */
export function nameAfter<Of extends Named>(all: ReadonlyMap<string, Of>, one: Of): string | undefined {
  const list = [...all.values()]
  return list[list.indexOf(one) + 1]?.name
}
