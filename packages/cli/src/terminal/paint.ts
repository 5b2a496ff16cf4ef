import pc from 'picocolors'

/** Colours of the terminal, by what they mean; without colours each gives its text back. */
export interface Paint {
  readonly error: (text: string) => string
  readonly warning: (text: string) => string
  readonly hint: (text: string) => string
  readonly calculated: (text: string) => string
  readonly quiet: (text: string) => string
  readonly strong: (text: string) => string
}

/** The colours, or none. */
export function makePaint(colours: boolean): Paint {
  const tint = pc.createColors(colours)
  return {
    error: tint.redBright,
    warning: tint.yellow,
    hint: tint.cyan,
    calculated: tint.green,
    quiet: tint.dim,
    strong: tint.bold,
  }
}
