/** Operations that leave alone what formulas mean. */
const OF_CELLS: ReadonlySet<string> = new Set([
  'set-cells',
  'insert-rows',
  'remove-rows',
  'move-rows',
  'stamp-cells',
  'recalculate',
  'tick',
  'set-mode',
  'set-metadata',
  'accept-finding',
  'withdraw-acceptance',
])

/** True where operations may change what formulas mean. */
export function changesDefinitions(operations: readonly { readonly op: string }[]): boolean {
  return operations.some(({ op }) => !OF_CELLS.has(op))
}
