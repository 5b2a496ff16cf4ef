import { type Carried, sessionValue } from '@mellow-abacus/session'
import { CellFault } from 'mellow-abacus'

/** Plain data of something the library tells: values of cells as sessions carry them, maps as records. */
export function carried<Of>(told: Of): Carried<Of> {
  return plain(told) as Carried<Of>
}

function plain(told: unknown): unknown {
  if (typeof told !== 'object' || told === null) return told
  if (told instanceof CellFault) return sessionValue(told)
  if (told instanceof Map) return recordOf(Array.from(told, ([name, value]) => [String(name), plain(value)]))
  if (Array.isArray(told)) return told.map(plain)
  if (ArrayBuffer.isView(told)) return told
  return recordOf(Object.entries(told).flatMap(([name, value]) => (typeof value === 'function' ? [] : [[name, plain(value)]])))
}

/** A record with own properties only, so that a column called `__proto__` is a name like any other. */
export function recordOf<Value>(entries: Iterable<readonly [string, Value]>): Record<string, Value> {
  return Object.fromEntries(entries)
}
