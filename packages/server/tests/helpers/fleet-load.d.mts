import type { Fleet } from './fleet.mjs'

/** Makes workbooks with a table to write marks into. */
export declare function makeBooks(fleet: Fleet, count: number): Promise<string[]>

/** People who write marks into workbooks and read them, until they are told to end. */
export declare class Load {
  readonly edits: number
  readonly reads: number
  constructor(fleet: Fleet, names: readonly string[], people: number)
  edit(name: string, mark: string, isKeyed?: boolean): Promise<void>
  end(): Promise<void>
  /** What of the marks is not as it was answered. */
  faults(): Promise<{ readonly lost: string[]; readonly doubled: string[]; readonly unexpected: string[] }>
}

/** Someone who follows a workbook, comes again whenever the feed ends, and looks again where they are told to begin anew. */
export declare class Follower {
  readonly name: string
  readonly revision: number
  readonly changes: number
  readonly resets: number
  /** Revisions that they were not told of, although nothing told them to look again. */
  readonly gaps: readonly string[]
  constructor(fleet: Fleet, name: string)
  end(): Promise<void>
}

/** Kills one server after the other, and starts each again; gives milliseconds until an edit of what it had was acknowledged. */
export declare function killInTurn(
  fleet: Fleet,
  load: Load,
  options: { readonly seconds: number; readonly everyMs?: number },
): Promise<number[]>
