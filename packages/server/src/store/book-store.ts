import type { WrittenRow } from '@mellow-abacus/files'

/** Names of workbooks: letters and digits, then also hyphens and underscores. */
const NAME = /^[A-Za-z0-9][A-Za-z0-9_-]{0,63}$/

/** True for what a workbook may be called. */
export function isBookName(name: string): boolean {
  return NAME.test(name)
}

/** Where workbooks are kept. */
export interface BookStore {
  /** A folder for files on their way in. */
  readonly folder: string
  /** True where other servers have the same workbooks, each one at a time. */
  readonly isShared: boolean
  /** Called with the address of another server that has not said for a while that it is there, again and again. */
  onSilent?: (address: string) => void
  /** Tells other servers of the same workbooks where this one is asked. */
  announce(address: string): Promise<void>
  /** @throws Error where workbooks cannot be had from it at the moment */
  ready(): Promise<void>
  /** The workbooks that there are, by name. */
  names(): Promise<readonly string[]>
  /** True where there is a workbook of this name; one that was removed elsewhere is there for a moment longer. */
  has(name: string): Promise<boolean>
  /**
   * Takes in a workbook file that nobody has open; where it was, it is gone from.
   *
   * @throws BookFileFault `exists` where there is one of this name
   */
  takeIn(name: string, file: string): Promise<void>
  /** Removes a workbook that is open here, or nowhere. */
  remove(name: string): Promise<void>
  /**
   * Has a workbook to itself, until it is let go.
   *
   * @param onLost - called where it is not its own any more, with what has come in between
   * @throws BookFileFault as `BookFile.open`; HeldElsewhere
   */
  claim(name: string, onLost: (reason: string) => void): Promise<Claim>
  /** Gives up what it has, for other servers to take over; it takes none any more. */
  drain(): void
  /** Ends; what was claimed is let go already. */
  close(): Promise<void>
}

/** A workbook that one server has to itself. */
export interface Claim {
  /** The file to open. */
  readonly file: string
  /** Keeps for good what is written into the file, where that is a copy. */
  readonly keep?: (written: readonly WrittenRow[]) => Promise<void>
  /** False where another server may have it by now. */
  readonly isSure: boolean
  /** Lets it go; the file is closed. */
  release(): Promise<void>
}

/** Thrown where another server has a workbook. */
export class HeldElsewhere extends Error {
  /** Where that one is asked; null where none can be asked. */
  readonly address: string | null

  constructor(address: string | null) {
    super('another server has the workbook')
    this.name = 'HeldElsewhere'
    this.address = address
  }
}
