import type { ChartFormat, Drawing } from '@mellow-abacus/charts'
import { DRAWING_FORMATS } from '../options/index.js'
import { type Io, UsageFault } from '../shell/index.js'
import { replaceFile } from './output-file.js'

/** Where a drawing goes, and in which format. */
export interface DrawingArguments {
  readonly output?: string
  readonly to?: ChartFormat
  readonly findings?: 'json'
}

/** The format of a drawing: the one asked for, that of the file's name, else svg. */
export function chartFormatOf({ output, to }: DrawingArguments): ChartFormat {
  if (to !== undefined) return to
  const ending = /[^/\\.]\.([^./\\]+)$/.exec(output ?? '')?.[1]?.toLowerCase()
  const format = DRAWING_FORMATS.find((one) => one === ending)
  if (format !== undefined || output === undefined || ending === undefined) return format ?? 'svg'
  const endings = DRAWING_FORMATS.map((one) => `.${one}`).join(', ')
  throw new UsageFault(`the ending of ${output} says no drawing; there are ${endings}. Or say it: --to svg`)
}

/** Writes a drawing to standard output, or to a file that is replaced in one step; says what is not to be seen in it. */
export async function writeDrawing(drawing: Drawing, args: DrawingArguments, io: Io): Promise<void> {
  const format = chartFormatOf(args)
  if (args.output === undefined && io.isTerminal && format !== 'json')
    throw new UsageFault(`${format} is not for a terminal: write it to a file, such as -o chart.${format}.`)
  const { drawingBytes } = await import('@mellow-abacus/charts')
  const bytes = await drawingBytes(drawing, format)
  if (args.output === undefined) await io.out(bytes)
  else await replaceFile(args.output, async (sink) => sink(bytes))
  if (args.findings === 'json') return
  if (args.output !== undefined) io.err(`${drawing.title}: written to ${args.output}\n`)
  for (const note of drawing.notes) io.err(`${note}\n`)
}
