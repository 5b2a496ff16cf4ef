/**
 * The errors a cell can hold, first named first: of several errors an aggregate takes in, the one named first wins.
 * A fault is a value of one cell; a mistake in a formula is a finding.
 */
export const FAULT_CODES = [
  'division-by-zero',
  'out-of-range',
  'misfit',
  'many-matches',
  'bad-pattern',
  'too-long',
  'loop',
] as const

/** The code of an error in a cell. */
export type FaultCode = (typeof FAULT_CODES)[number]

/**
 * Status byte beside every slot of a column and every row of a vector.
 * Encoding: 0 = value, 1 = blank, 2 + n = the n-th code of FAULT_CODES. So `a | b` is 0 only when both are values,
 * and any status above `blank` is an error.
 */
export const Status = { value: 0, blank: 1, firstFault: 2 } as const

/** The status byte of a fault. */
export function statusOfFault(code: FaultCode): number {
  return Status.firstFault + FAULT_CODES.indexOf(code)
}

/** True for the status bytes of errors. */
export function isFaultStatus(status: number): boolean {
  return status >= Status.firstFault
}

/** The fault of a status byte that stands for an error. */
export function faultOfStatus(status: number): FaultCode {
  const code = FAULT_CODES[status - Status.firstFault]
  if (code === undefined) throw new RangeError(`status ${status} is not an error`)
  return code
}

/** An error as it leaves the library: `values()` and queries give it in place of a value. */
export class CellFault {
  /** Which error it is. */
  readonly code: FaultCode
  /** For a misfit: the text that does not fit the column's type. */
  readonly text: string | undefined

  constructor(code: FaultCode, text?: string) {
    this.code = code
    this.text = text
  }

  /** `!code`, as files and tables show it. */
  toString(): string {
    return `!${this.code}`
  }

  toJSON(): { error: FaultCode } {
    return { error: this.code }
  }
}
