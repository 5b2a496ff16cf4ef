/** A look at a file before it is read: throws what is wrong with it, and says how long it may take from now. */
export type Look = (bytes: Uint8Array, within: (milliseconds: number) => void) => Promise<void>

/** The looks there are, by name, so that a thread can be told which one to take. */
export type LookName = 'arrow' | 'parquet'
