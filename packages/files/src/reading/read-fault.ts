/** Thrown when a file cannot be read as it is: the message says what was expected, what came, and where. */
export class ReadFault extends Error {
  /** Line of the file, from 1, where it is known. */
  readonly line: number | undefined

  constructor(message: string, line?: number) {
    super(line === undefined ? message : `line ${line}: ${message}`)
    this.name = 'ReadFault'
    this.line = line
  }
}
