/** What a formula may depend on besides its rows. It moves only by an operation, so the same book gives the same bits. */
export interface Surroundings {
  /** The book's clock: wall-clock milliseconds in the book's zone. */
  readonly now: number
  /** Seed of the random functions. */
  readonly seed: number
  /** BCP 47 tag for upper and lower case; `en` unless given, never the machine's. */
  readonly locale: string
  /** IANA zone in which texts with an offset are read. */
  readonly zone: string
}

/** Surroundings of a book that was given none: 1970, seed 1, `en`, UTC. The one who opens a book sets the clock. */
export const defaultSurroundings: Surroundings = { now: 0, seed: 1, locale: 'en', zone: 'UTC' }
