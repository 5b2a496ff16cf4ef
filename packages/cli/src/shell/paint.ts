import { randomInt } from 'node:crypto'
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

/**
 * Stands first among the parameters of every colour that this process paints, so that `forEyes` can tell them from escapes in
 * texts of others. Another one in each process; terminals never see it.
 */
export const SGR_MARK: number = randomInt(100_000, 1_000_000)

const NOTHING = '\u0000'

/** A colour whose escapes carry the mark. */
function marked(colour: (text: string) => string): (text: string) => string {
  const [open = '', close = ''] = colour(NOTHING).split(NOTHING)
  const mark = (sequence: string): string => sequence.replace('\u001b[', `\u001b[${SGR_MARK};`)
  return (text) => (open === '' ? text : mark(open) + text + mark(close))
}

/** The colours, or none. */
export function makePaint(colours: boolean): Paint {
  const tint = pc.createColors(colours)
  return {
    error: marked(tint.redBright),
    warning: marked(tint.yellow),
    hint: marked(tint.cyan),
    calculated: marked(tint.green),
    quiet: marked(tint.dim),
    strong: marked(tint.bold),
  }
}
