/** A finding that someone has looked at and accepts, as long as the rows behind it stay as they are. */
export interface Acceptance {
  /** Id of the column, tally, value or rule that the finding is about. */
  readonly id: number
  readonly code: string
  readonly from: number | null
  readonly to: number | null
  readonly because: string
  readonly author: string | null
  readonly at: string | null
  /** What the rows behind it held. */
  readonly rows: string
}

/** Tells acceptances apart by the finding they are about. */
export function acceptanceKey({ id, code, from, to }: Pick<Acceptance, 'id' | 'code' | 'from' | 'to'>): string {
  return JSON.stringify([id, code, from, to])
}
