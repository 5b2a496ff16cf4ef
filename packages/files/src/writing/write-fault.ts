/** Thrown before anything is written, when a format has no room for what is asked. */
export class WriteFault extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'WriteFault'
  }
}
