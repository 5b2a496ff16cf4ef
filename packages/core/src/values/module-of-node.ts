/** What Node has of itself, as far as it is used here. */
declare const process:
  | { getBuiltinModule?(name: 'module'): { createRequire(from: string): (name: string) => unknown } | undefined }
  | undefined

/** A package of this library that is loaded when it is first wanted, at once, which only Node can; null anywhere else. */
export function moduleOfNode(name: string): unknown {
  const node = typeof process === 'undefined' ? undefined : process.getBuiltinModule?.('module')
  return node === undefined ? null : node.createRequire((import.meta as { readonly url?: string }).url ?? '')(name)
}
