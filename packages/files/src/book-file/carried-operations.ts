import { blockEntries, type Operation } from 'mellow-abacus'
import { Column } from 'mellow-abacus/storage'

/** In place of finished storage inside an operation: the number of the payload that holds it. */
interface PayloadPlace {
  readonly $cells: number
}

/** Operations as JSON text, with finished storage of columns taken out. */
export function textOfOperations(operations: readonly Operation[]): {
  readonly text: string
  readonly payloads: readonly Column[]
} {
  const payloads: Column[] = []
  const light = operations.map((operation) => {
    const block = (operation as { block?: Readonly<Record<string, unknown>> }).block
    if (block === undefined) return operation
    const entries = blockEntries(block).map(([name, values]) =>
      values instanceof Column ? [name, { $cells: payloads.push(values) - 1 } satisfies PayloadPlace] : [name, values],
    )
    return { ...operation, block: Object.fromEntries(entries) }
  })
  return { text: JSON.stringify(light), payloads }
}

/** The operations of a JSON text, with storage put back in its places. */
export function operationsOfText(text: string, payload: (place: number) => Column): Operation[] {
  const operations = JSON.parse(text) as (Operation & { block?: Readonly<Record<string, unknown>> })[]
  return operations.map((operation) => {
    if (operation.block === undefined) return operation
    const entries = Object.entries(operation.block).map(([name, values]) =>
      isPlace(values) ? [name, payload(values.$cells)] : [name, values],
    )
    return { ...operation, block: Object.fromEntries(entries) } as Operation
  })
}

function isPlace(value: unknown): value is PayloadPlace {
  return typeof value === 'object' && value !== null && !Array.isArray(value) && '$cells' in value
}
