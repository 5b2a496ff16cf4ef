import type { ReadingArguments } from '../../options/declared-options.js'

/** The reading options as a workbook keeps them with a table, so that reading again needs none. */
export function readingSource(args: ReadingArguments): Record<string, unknown> {
  const { from, delimiter, decimal, encoding, headerRow, sheet, type, blank } = args
  const given = { from, delimiter, decimal, encoding, headerRow, sheet, blank, type: type.length > 0 ? type : undefined }
  return Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined))
}

/** Reading options given now, over those a workbook keeps. */
export function mergedReading(args: ReadingArguments, kept: Readonly<Record<string, unknown>>): ReadingArguments {
  return { type: [], ...(kept as Partial<ReadingArguments>), ...(readingSource(args) as Partial<ReadingArguments>) }
}
