import type { FaultCode, ShownValue } from 'mellow-abacus'

/**
 * A value of a cell as sessions carry it: a number, text, true or false, ISO 8601 text for dates, null for blank; an error by its
 * code; of a source cell that does not fit its column, the text.
 */
export type SessionValue = number | string | boolean | null | { readonly error: FaultCode } | { readonly misfit: string }

/** Cells of a row by the names of their columns. */
export type SessionCells = Readonly<Record<string, SessionValue>>

/** A row. */
export interface SessionRow {
  /** What stays the same wherever the row stands. */
  readonly id: number
  readonly cells: SessionCells
}

/** A value as the library shows it, as sessions carry it. */
export function sessionValue(value: ShownValue): SessionValue {
  if (typeof value !== 'object' || value === null) return value
  return value.code === 'misfit' && value.text !== undefined ? { misfit: value.text } : { error: value.code }
}

/** Puts in place of every value of the library what sessions carry, however deep it stands; maps become records. */
export type Carried<Of> = Of extends ShownValue
  ? Exclude<Of, object> | (Extract<Of, object> extends never ? never : SessionValue)
  : Of extends ReadonlyMap<string, infer Value>
    ? Readonly<Record<string, Carried<Value>>>
    : Of extends readonly (infer Item)[]
      ? readonly Carried<Item>[]
      : Of extends (...args: never[]) => unknown
        ? Of
        : Of extends object
          ? { readonly [Key in keyof Of]: Carried<Of[Key]> }
          : Of
